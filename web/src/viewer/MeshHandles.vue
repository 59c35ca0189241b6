<script setup lang="ts">
import { computed, ref } from 'vue';
import { homographyBetweenQuads } from '../../../core/base/geometry/estimate-homography.ts';
import { applyToPoint, invert } from '../../../core/base/geometry/homography.ts';
import { meshAt } from '../../../core/base/geometry/patch-mesh.ts';
import { UNIT_SQUARE } from '../../../core/base/geometry/quad.ts';
import { meshLines, movePoints, shownMesh, type Along } from '../steps/content/mesh-edits.ts';
import { nudgeOf } from '../steps/nudge.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useDocument } from '../stores/document.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import { toPage, toPlate } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** The mesh of curved glass over the plate: points are dragged, with Ctrl their row, with Shift their column. */
const viewport = useViewport();
const doc = useDocument();
const placed = usePlacedCorners();
const head = usePlayhead();
const workspace = useWorkspace();
const mesh = computed(() => doc.document?.look.mesh ?? null);
const map = computed(() => {
  const quad = placed.cornersAt(head.frame);
  return quad && homographyBetweenQuads(UNIT_SQUARE, quad);
});
const onPage = (p: readonly [number, number]) => toPage(viewport.view, applyToPoint(map.value!, p));
const drawn = computed(() => {
  if (!mesh.value || !map.value) return null;
  const bent = shownMesh(mesh.value, head.frame);
  return {
    lines: meshLines(bent, meshAt).map((line) => line.map(onPage).join(' ')),
    points: bent.points.map((p) => onPage(p as [number, number])),
  };
});
const dragging = ref<{ index: number; last: [number, number]; along: Along } | null>(null);
function surfaceAt(event: PointerEvent): [number, number] | null {
  const rect = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  const back = map.value && invert(map.value);
  return back && applyToPoint(back, toPlate(viewport.view, event.clientX - rect.left, event.clientY - rect.top));
}
const alongOf = (event: { ctrlKey: boolean; metaKey: boolean; shiftKey: boolean }): Along =>
  event.ctrlKey || event.metaKey ? 'row' : event.shiftKey ? 'column' : 'point';
function onDown(event: PointerEvent, index: number): void {
  const last = surfaceAt(event);
  if (event.button !== 0 || !last) return;
  event.stopPropagation();
  dragging.value = { index, last, along: alongOf(event) };
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
function onMove(event: PointerEvent): void {
  const d = dragging.value;
  const at = d && surfaceAt(event);
  if (!d || !at) return;
  let made = false;
  doc.drag((draft) => {
    made = movePoints(
      draft.look.mesh!,
      head.frame,
      d.index,
      d.along,
      [at[0] - d.last[0], at[1] - d.last[1]],
      workspace.meshSymmetric,
    );
  });
  if (made) d.last = at;
}
function onUp(): void {
  dragging.value = null;
  doc.settle();
}
function onKey(event: KeyboardEvent, index: number): void {
  const by = nudgeOf(event);
  const back = map.value && invert(map.value);
  const point = drawn.value?.points[index];
  if (!by || !back || !point) return;
  event.preventDefault();
  event.stopPropagation();
  const [x, y] = toPlate(viewport.view, point[0], point[1]);
  const from = applyToPoint(back, [x, y]);
  const to = applyToPoint(back, [x + by[0], y + by[1]]);
  doc.edit(
    (draft) =>
      void movePoints(
        draft.look.mesh!,
        head.frame,
        index,
        'point',
        [to[0] - from[0], to[1] - from[1]],
        workspace.meshSymmetric,
      ),
  );
}
</script>

<template>
  <g v-if="drawn" class="mesh" @pointermove="onMove" @pointerup="onUp">
    <polyline v-for="(line, i) in drawn.lines" :key="`u${i}`" class="under" :points="line" />
    <polyline v-for="(line, i) in drawn.lines" :key="`o${i}`" class="over" :points="line" />
    <circle
      v-for="(p, i) in drawn.points"
      :key="i"
      r="5"
      :cx="p[0]"
      :cy="p[1]"
      tabindex="0"
      :aria-label="`Point ${i + 1} of the mesh`"
      :data-mesh-point="i"
      @pointerdown="onDown($event, i)"
      @pointermove.stop="onMove"
      @pointerup.stop="onUp"
      @keydown="onKey($event, i)"
    />
  </g>
</template>

<style scoped>
polyline {
  fill: none;
  stroke-width: 1.2;
  pointer-events: none;
}
.under {
  stroke: var(--mark-under);
}
.over {
  stroke: var(--mark);
  stroke-dasharray: 4 4;
}
circle {
  fill: var(--mark);
  stroke: var(--mark-under);
  stroke-width: 1.4;
  pointer-events: all;
  cursor: move;
}
circle:focus-visible {
  stroke: var(--accent);
  stroke-width: 2.6;
  outline: none;
}
</style>
