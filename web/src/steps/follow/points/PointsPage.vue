<script setup lang="ts">
import { computed, watch } from 'vue';
import { CORNER_NAMES } from '../../../../../core/base/geometry/quad.ts';
import { STOPS_UNDER } from '../../../../../core/motion/points/point-plan.ts';
import IconButton from '../../../components/IconButton.vue';
import PointKeySection from './PointKeySection.vue';
import PointMatchSection from './PointMatchSection.vue';
import PointRunSection from './PointRunSection.vue';
import { usePickedPoints } from './use-picked-points.ts';
import { addCorners, addPoint, removePoint } from './point-edits.ts';
import { useCornerPoints } from '../../../stores/corner-points.ts';
import { useDocument } from '../../../stores/document.ts';
import { useNotices } from '../../../stores/notices.ts';
import { usePlacedCorners } from '../../../stores/placed-corners.ts';
import { usePlayhead } from '../../../stores/playhead.ts';
import { useShot } from '../../../stores/shot.ts';
import { useWorkspace } from '../../../stores/workspace.ts';
import { CORNER_SHAPES } from '../../../viewer/corner-shapes.ts';

/** Corner points: which, how they are matched, run them, and what became of them on the frame on show. */
const shot = useShot();
const doc = useDocument();
const placed = usePlacedCorners();
const found = useCornerPoints();
const head = usePlayhead();
const workspace = useWorkspace();
const notices = useNotices();
const document = computed(() => doc.document!);
const { list, names } = usePickedPoints();
const cornersMissing = computed(() => CORNER_NAMES.some((name) => !list.value.some((p) => p.name === name)));
const warnings = computed(() =>
  found.judged.flatMap((j) => (j.warning && found.points.some((p) => p.name === j.name) ? [j.warning] : [])),
);
watch(
  [() => list.value.map((p) => [p.name, p.at, p.pattern].join()).join(';'), () => document.value.referenceFrame],
  () => list.value.length > 0 && void notices.guard(() => found.judge()),
  { immediate: true },
);

function pick(name: string, more: boolean): void {
  const { pickedPoints: now } = workspace;
  workspace.pickedPoints = more
    ? now.includes(name)
      ? now.filter((n) => n !== name)
      : [...now, name]
    : now.length === 1 && now[0] === name
      ? []
      : [name];
}
function addAll(): void {
  const quad = placed.cornersAt(document.value.referenceFrame) ?? document.value.corners;
  const facts = shot.plate!.facts!;
  if (!quad) return;
  head.goTo(document.value.referenceFrame);
  doc.edit((draft) => addCorners(draft, quad, facts.width));
}
function addOne(): void {
  const facts = shot.plate!.facts!;
  doc.edit((draft) => (workspace.pickedPoints = [addPoint(draft, [facts.width / 2, facts.height / 2], facts.width)]));
}

const said = (name: string) => {
  const here = found.fitAt(name, head.frame);
  if (!here) return { text: 'not followed', alarm: false };
  if (!here.fit) return { text: here.why ?? 'lost', alarm: true };
  switch (here.fit.how) {
    case 'reference':
      return { text: 'reference', alarm: false };
    case 'hand':
      return { text: 'by hand', alarm: false };
    case 'reckoned':
      return { text: `reckoned ± ${here.fit.bound.toFixed(1)} px`, alarm: false };
    case 'matched':
      return {
        text: `${here.fit.score.toFixed(2)} ± ${here.fit.bound.toFixed(2)} px${here.fit.light ? ' · light' : ''}`,
        alarm: here.fit.score < STOPS_UNDER,
      };
  }
};
const shapeOf = (name: string) => CORNER_SHAPES[CORNER_NAMES.indexOf(name as never)] ?? 'M-6 0H6M0 -6V6';
const inUse = computed(() => document.value.spans?.some((s) => s.source === 'points') ?? false);
</script>

<template>
  <section class="section">
    <header>
      <h2>Corner points</h2>
      <span class="quiet">{{ list.length === 0 ? '' : `${names.length} of ${found.points.length} picked` }}</span>
    </header>
    <p v-if="list.length === 0" class="quiet">
      Small patterns that are followed one by one: for screens that give a region nothing to hold. Put the four corners
      on Seat first, then take them over here.
    </p>
    <ul v-else class="points">
      <li
        v-for="point in list"
        :key="point.name"
        :class="{ picked: workspace.pickedPoints.includes(point.name), off: point.off }"
        :data-point-row="point.name"
      >
        <button
          type="button"
          class="who"
          :aria-pressed="workspace.pickedPoints.includes(point.name)"
          title="Pick it alone; with Shift or Ctrl besides others"
          @click="pick(point.name, $event.shiftKey || $event.ctrlKey || $event.metaKey)"
        >
          <svg width="20" height="20" viewBox="-10 -10 20 20"><path :d="shapeOf(point.name)" /></svg
          ><span>{{ point.name }}</span>
          <span class="figure" :class="{ alarm: said(point.name).alarm }" data-said>{{ said(point.name).text }}</span>
        </button>
        <IconButton
          icon="x"
          :label="`Remove ${point.name}`"
          title="Remove"
          @click="doc.edit((draft) => removePoint(draft, point.name))"
        />
      </li>
    </ul>
    <p v-for="warning in warnings" :key="warning" class="notice mt-2 mb-0" data-hold>{{ warning }}</p>
    <div class="d-flex gap-2 mt-2">
      <BButton
        v-if="cornersMissing"
        :variant="list.length === 0 ? 'primary' : 'outline-secondary'"
        class="flex-fill"
        :disabled="!document.corners"
        data-add-corners
        @click="addAll"
        ><i class="bi bi-plus-lg" /> Four corners</BButton
      >
      <BButton variant="outline-secondary" class="flex-fill" :disabled="!shot.plate" @click="addOne"
        ><i class="bi bi-plus-lg" /> Point</BButton
      >
    </div>
  </section>
  <template v-if="list.length > 0">
    <PointRunSection />
    <PointKeySection />
    <PointMatchSection />
    <p v-if="!inUse && found.rows.length > 0" class="section notice calm mb-0">
      The surface still moves by its region.
      <button class="use-button" type="button" data-use-points @click="workspace.followPage = 'spans'">
        use the points in Spans
      </button>
    </p>
  </template>
</template>

<style scoped>
.points {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 2px;
}
li {
  display: flex;
  align-items: center;
  border: 1px solid transparent;
  border-radius: 3px;
}
li.picked {
  border-color: var(--accent);
  background: var(--accent-soft);
}
li.off {
  opacity: 0.5;
}
.who {
  flex: 1;
  min-width: 0;
  display: grid;
  grid-template-columns: 24px minmax(0, auto) 1fr;
  gap: 4px;
  align-items: center;
  border: 0;
  background: none;
  color: var(--ink);
  text-align: left;
  padding: 3px 4px;
  font-size: 14px;
}
.who .figure {
  text-align: right;
  font-size: 13px;
  font-weight: 540;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.alarm {
  color: var(--alarm);
}
path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.6;
}
</style>
