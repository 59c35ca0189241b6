<script setup lang="ts">
import { computed, ref } from 'vue';
import { applyToPoints, keepsInFront, type Point } from '../../../core/geometry/homography.ts';
import { useBench } from '../stores/bench.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { nudgeOf } from '../steps/move-corner.ts';
import { toPage, toPlate, type ViewTransform } from './view-transform.ts';

/** Regions and keep-outs, riding on the track; their points can be moved on the reference frame. */
const props = defineProps<{ view: ViewTransform }>();
const shot = useShot();
const head = usePlayhead();
const bench = useBench();
const dragging = ref<{ list: 'regions' | 'keepOut'; outline: number; point: number } | null>(null);

const onReference = computed(() => head.frame === shot.document?.referenceFrame);
const outlines = computed(() => {
  const document = shot.document;
  if (!document) return [];
  const h = shot.homographyAt(head.frame);
  const place = (points: readonly Point[], fixed: boolean): [number, number][] | null => {
    if (fixed) return points.map((p) => toPage(props.view, p));
    return h && keepsInFront(h, points) ? applyToPoints(h, points).map((p) => toPage(props.view, p)) : null;
  };
  return (['regions', 'keepOut'] as const).flatMap((list) => document[list].map((outline, index) => {
    const points = place(outline.points, 'fixed' in outline && outline.fixed === true);
    return points && { list, index, points, picked: bench.picked?.list === list && bench.picked.index === index };
  })).filter((o) => o !== null);
});

function onDown(event: PointerEvent, list: 'regions' | 'keepOut', outline: number, point: number): void {
  bench.picked = { list, index: outline };
  dragging.value = { list, outline, point };
  (event.target as Element).setPointerCapture(event.pointerId);
  event.stopPropagation();
}
function onMove(event: PointerEvent): void {
  const d = dragging.value;
  if (!d) return;
  const rect = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  const at = toPlate(props.view, event.clientX - rect.left, event.clientY - rect.top);
  shot.drag((draft) => {
    draft[d.list][d.outline]!.points[d.point] = at;
  });
  bench.dragPoint = { x: at[0], y: at[1] };
}
function onKey(event: KeyboardEvent, list: 'regions' | 'keepOut', outline: number, point: number): void {
  const nudge = nudgeOf(event);
  const points = shot.document?.[list][outline]?.points;
  if (!points || (!nudge && event.key !== 'Delete')) return;
  event.preventDefault();
  event.stopPropagation();
  shot.edit((draft) => {
    const drawn = draft[list][outline]!.points;
    if (nudge) drawn[point] = [drawn[point]![0] + nudge[0], drawn[point]![1] + nudge[1]];
    else if (drawn.length > 3) drawn.splice(point, 1);
  });
}
function onUp(): void {
  dragging.value = null;
  bench.dragPoint = null;
  shot.settle();
}
</script>

<template>
  <g v-for="o in outlines" :key="`${o.list}${o.index}`" class="outline" :class="[o.list, { picked: o.picked }]" :data-outline="`${o.list}-${o.index}`">
    <polygon :points="o.points.join(' ')" :fill="o.list === 'regions' ? 'url(#hatch-region)' : 'url(#hatch-keep-out)'" stroke="none" />
    <polygon class="under" :points="o.points.join(' ')" />
    <polygon class="over" :points="o.points.join(' ')" />
    <template v-if="onReference">
      <rect
        v-for="(p, i) in o.points" :key="i" class="handle" :x="p[0] - 5" :y="p[1] - 5" width="10" height="10" tabindex="0"
        :aria-label="`Point ${i + 1} of ${o.list === 'regions' ? 'region' : 'keep-out'} ${o.index + 1}`"
        @pointerdown="onDown($event, o.list, o.index, i)" @pointermove="onMove" @pointerup="onUp" @keydown="onKey($event, o.list, o.index, i)" @focus="bench.picked = { list: o.list, index: o.index }"
      />
    </template>
  </g>
</template>

<style scoped>
polygon { fill-rule: evenodd; }
.under, .over { fill: none; stroke-width: 1.6; }
.under { stroke: #17191b; }
.over { stroke: #fff; stroke-dasharray: 7 5; }
.keepOut .over { stroke-dasharray: 2 3; }
.picked .over, .picked .under { stroke-width: 2.4; }
.handle { fill: #fff; stroke: #17191b; stroke-width: 1.6; pointer-events: all; cursor: move; }
</style>
