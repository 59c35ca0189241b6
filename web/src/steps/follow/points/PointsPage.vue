<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { CORNER_NAMES } from '../../../../../core/base/geometry/quad.ts';
import { STOPS_UNDER, usualBoxes } from '../../../../../core/motion/points/point-plan.ts';
import ChoiceRow from '../../../components/ChoiceRow.vue';
import IconButton from '../../../components/IconButton.vue';
import NumberField from '../../../components/NumberField.vue';
import {
  addCorners,
  addPoint,
  clearPoints,
  keepPoint,
  removePoint,
  removePointKey,
  sizeBox,
  usePattern,
} from './point-edits.ts';
import { type Span, spanAt } from '../spans.ts';
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
const list = computed(() => document.value.cornerPoints ?? []);
/** None picked means all. */
const names = computed(() => {
  const there = found.points.map((p) => p.name);
  const picked = workspace.pickedPoints.filter((n) => there.includes(n));
  return picked.length > 0 ? picked : there;
});
const only = computed(() =>
  names.value.length === 1 || workspace.pickedPoints.length > 0
    ? (list.value.find((p) => p.name === names.value.at(-1)) ?? null)
    : null,
);
const onReference = computed(() => head.frame === document.value.referenceFrame);
const cornersMissing = computed(() => CORNER_NAMES.some((name) => !list.value.some((p) => p.name === name)));
const usual = computed(() => usualBoxes(shot.plate?.facts?.width ?? 1920));
const ready = computed(() => !shot.running && found.points.length > 0);
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

/** The frame from which a run goes on: this one, where all that is asked for is known here, else the reference. */
const from = computed(() =>
  names.value.every((name) => found.fitAt(name, head.frame)?.fit) ? head.frame : document.value.referenceFrame,
);
function run(direction: 1 | -1, count = Infinity): void {
  const start = from.value;
  const end = start + direction * count;
  const span: Span =
    direction === 1 ? [start + 1, Math.min(shot.range[1], end)] : [Math.max(shot.range[0], end), start - 1];
  if (span[0] > span[1])
    return notices.add(
      direction === 1
        ? 'There is no frame after this one in the shot.'
        : 'There is no frame before this one in the shot.',
    );
  void notices
    .guard(() =>
      found.follow(
        {
          direction: direction === 1 ? 'forward' : 'backward',
          names: [...names.value],
          frames: span,
          ...(start === document.value.referenceFrame ? {} : { from: start }),
        },
        names.value,
        span,
      ),
    )
    .then(() => count === 1 && head.goTo(end));
}
function both(): void {
  void notices.guard(() =>
    found.follow({ direction: 'both', names: [...names.value], frames: [...shot.range] }, names.value, [...shot.range]),
  );
}
const clear = (span: Span) => span[0] <= span[1] && doc.edit((draft) => clearPoints(draft, names.value, span));
const kept = computed(() => only.value && spanAt((only.value.keep ?? []) as Span[], head.frame));
/** Frames around this one on which the picked point is known. */
const stretch = computed<Span | null>(() => {
  const name = only.value?.name;
  if (!name || !found.fitAt(name, head.frame)?.fit) return null;
  let [a, b] = [head.frame, head.frame];
  while (found.fitAt(name, a - 1)?.fit) a--;
  while (found.fitAt(name, b + 1)?.fit) b++;
  return [a, b];
});
const key = computed(() => only.value?.keys?.find((k) => k.frame === head.frame) ?? null);
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
const edit = (change: (point: NonNullable<typeof document.value.cornerPoints>[number]) => void) =>
  doc.edit((draft) => {
    for (const point of draft.cornerPoints ?? []) if (names.value.includes(point.name)) change(point);
  });
/** The look that is proposed: the worst, and with each press the next. */
const turn = ref(0);
watch(
  () => found.wanting,
  () => (turn.value = 0),
);
function lookAtNext(): void {
  const { wanting } = found;
  const next = wanting[turn.value % wanting.length]!;
  head.goTo(next.frame);
  workspace.pickedPoints = [next.name];
  turn.value = (turn.value + 1) % wanting.length;
}
/** Light that was seen to sweep over points is compensated for, and they are followed anew. */
function compensate(swept: readonly string[]): void {
  doc.edit((draft) => {
    for (const point of draft.cornerPoints ?? []) if (swept.includes(point.name)) delete point.light;
  });
  void notices.guard(() =>
    found.follow({ direction: 'both', names: [...swept], frames: [...shot.range] }, swept, [...shot.range]),
  );
}
const light = computed(() => (only.value ?? list.value[0])?.light);
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
    <section class="section">
      <header>
        <h2>Run</h2>
        <span class="quiet"
          >{{ names.length === found.points.length ? 'all points' : names.join(', ') }}, from
          {{ from + shot.firstNumber }}</span
        >
      </header>
      <div class="d-flex gap-2">
        <BButton variant="outline-secondary" :disabled="!ready" data-run="back" @click="run(-1)"
          ><i class="bi bi-arrow-left" /> Back</BButton
        >
        <BButton
          :variant="found.rows.length === 0 ? 'primary' : 'outline-secondary'"
          class="flex-fill"
          :disabled="!ready"
          data-run="both"
          @click="both"
          >Both ways</BButton
        >
        <BButton variant="outline-secondary" :disabled="!ready" data-run="on" @click="run(1)"
          >On <i class="bi bi-arrow-right"
        /></BButton>
      </div>
      <div class="row-line mt-1">
        <span class="quiet">One frame</span>
        <span
          ><IconButton
            icon="chevron-left"
            label="Follow points one frame back"
            :disabled="!ready"
            @click="run(-1, 1)" /><IconButton
            icon="chevron-right"
            label="Follow points one frame on"
            :disabled="!ready"
            @click="run(1, 1)"
        /></span>
      </div>
      <div class="row-line">
        <span class="quiet">Clear</span
        ><span class="d-flex gap-2"
          ><button class="use-button" type="button" data-clear="before" @click="clear([0, head.frame - 1])">
            before</button
          ><button class="use-button" type="button" data-clear="here" @click="clear([head.frame, head.frame])">
            this frame</button
          ><button
            class="use-button"
            type="button"
            data-clear="after"
            @click="clear([head.frame + 1, shot.frames - 1])"
          >
            after
          </button></span
        >
      </div>
      <BFormCheckbox
        v-model="workspace.runsOn"
        switch
        data-runs-on
        title="After it is put right in its magnifier; where it fails it is picked, and its frame shown"
        >A corrected point runs on</BFormCheckbox
      >
      <div v-if="stretch && only" class="row-line">
        <span
          >{{ kept ? 'Kept' : 'Stretch' }}
          <b>{{ (kept ?? stretch)[0] + shot.firstNumber }}–{{ (kept ?? stretch)[1] + shot.firstNumber }}</b></span
        ><button
          class="use-button"
          type="button"
          @click="doc.edit((draft) => keepPoint(draft, only!.name, kept ?? stretch!, !kept))"
        >
          {{ kept ? 'let go' : 'keep' }}
        </button>
      </div>
      <div v-if="found.wanting.length > 0" class="row-line">
        <span class="quiet">Wants a look</span
        ><button
          class="use-button"
          type="button"
          data-worst
          :title="found.wanting.length > 1 ? 'The worst first; pressed again, the next' : 'The worst of all'"
          @click="lookAtNext"
        >
          {{ found.wanting[turn]!.name }}, {{ found.wanting[turn]!.frame + shot.firstNumber
          }}<template v-if="found.wanting.length > 1"> · {{ turn + 1 }} of {{ found.wanting.length }}</template>
        </button>
      </div>
      <p v-if="found.lightWanted" class="notice mt-2 mb-0" data-light-wanted>
        Light sweeps over {{ found.lightWanted.names.join(', ') }} on
        {{ found.lightWanted.span[0] + shot.firstNumber }}–{{ found.lightWanted.span[1] + shot.firstNumber }}.
        <button class="use-button" type="button" :disabled="!ready" @click="compensate(found.lightWanted.names)">
          compensate, and follow again
        </button>
      </p>
    </section>
    <section v-if="only && !onReference" class="section">
      <header>
        <h2>{{ only.name }} on {{ head.frame + shot.firstNumber }}</h2>
      </header>
      <p v-if="!key" class="quiet mb-0">Drag it, or press an arrow key, to put it by hand here.</p>
      <template v-else>
        <BFormCheckbox
          :model-value="key.pattern ?? false"
          switch
          @update:model-value="(on) => doc.edit((draft) => usePattern(draft, only!.name, head.frame, on === true))"
          >What is seen here is its pattern from now on</BFormCheckbox
        >
        <button
          class="use-button mt-1"
          type="button"
          data-remove-key
          @click="doc.edit((draft) => removePointKey(draft, only!.name, head.frame))"
        >
          take the key away
        </button>
      </template>
    </section>
    <section class="section rows">
      <header>
        <h2>How they are matched</h2>
        <span class="quiet">{{ names.length === found.points.length ? 'all' : names.length }}</span>
      </header>
      <div class="row-line">
        <span>With</span
        ><ChoiceRow
          label="Match"
          :options="['reference', 'previous', 'key']"
          :value="(only ?? list[0])!.match ?? 'reference'"
          @choose="
            (match) =>
              edit((p) => {
                p.match = match;
              })
          "
        />
      </div>
      <div class="row-line">
        <span>Pattern</span
        ><ChoiceRow
          label="Shape"
          :options="['plane', 'similarity', 'translation']"
          :value="(only ?? list[0])!.shape ?? 'plane'"
          @choose="
            (shape) =>
              edit((p) => {
                p.shape = shape;
              })
          "
        />
      </div>
      <div class="row-line">
        <span title="Light that changes is compensated where it helps, always, or never">Light</span
        ><ChoiceRow
          label="Light"
          :options="['by itself', 'always', 'never']"
          :value="light === undefined ? 'by itself' : light ? 'always' : 'never'"
          @choose="
            (choice) =>
              edit((p) => {
                if (choice === 'by itself') delete p.light;
                else p.light = choice === 'always';
              })
          "
        />
      </div>
      <NumberField
        label="Pattern box"
        unit="px"
        :value="((only ?? list[0])!.pattern ?? usual.pattern)[0]"
        :min="7"
        :max="400"
        :digits="0"
        @commit="(v) => doc.edit((draft) => names.forEach((name) => sizeBox(draft, name, 'pattern', [v, v])))"
      />
      <NumberField
        label="Search box"
        unit="px"
        :value="((only ?? list[0])!.search ?? usual.search)[0]"
        :min="7"
        :max="1200"
        :digits="0"
        @commit="(v) => doc.edit((draft) => names.forEach((name) => sizeBox(draft, name, 'search', [v, v])))"
      />
    </section>
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
