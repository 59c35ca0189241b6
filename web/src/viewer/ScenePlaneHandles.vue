<script setup lang="ts">
import { computed, ref } from 'vue';
import { applyToPoint } from '../../../core/base/geometry/homography.ts';
import { homographyBetweenQuads } from '../../../core/base/geometry/estimate-homography.ts';
import { UNIT_SQUARE } from '../../../core/base/geometry/quad.ts';
import { planeThroughDrag } from '../../../core/motion/scene/move-plane.ts';
import { changeScene } from '../steps/follow/scene/scene-edits.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useScene } from '../stores/scene.ts';
import { useDocument } from '../stores/document.ts';
import { toPage, toPlate } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** The plane of the solved room as a grid; its corners are dragged on other frames than the reference, to tell how far away it is. */
const viewport = useViewport();
const doc = useDocument();
const head = usePlayhead();
const scene = useScene();
const workspace = useWorkspace();
const LINES = 4;
const quad = computed(() => scene.cornersAt(head.frame));
const movable = computed(() => scene.file?.motion === 'walks' && head.frame !== doc.document?.referenceFrame);
const grid = computed(() => {
  const map = quad.value && homographyBetweenQuads(UNIT_SQUARE, quad.value);
  if (!map) return '';
  const at = (u: number, v: number) => toPage(viewport.view, applyToPoint(map, [u, v])).join(' ');
  return Array.from(
    { length: LINES + 1 },
    (_, i) => `M${at(i / LINES, 0)}L${at(i / LINES, 1)}M${at(0, i / LINES)}L${at(1, i / LINES)}`,
  ).join('');
});
const places = computed(() => quad.value?.map((p) => toPage(viewport.view, p)) ?? []);
const dragged = ref<number | null>(null);
function onDown(event: PointerEvent, corner: number): void {
  if (event.button !== 0 || !movable.value) return;
  dragged.value = corner;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
function onMove(event: PointerEvent): void {
  if (dragged.value === null || !scene.scene || !scene.plane || !doc.document?.corners) return;
  const rect = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  const to = toPlate(viewport.view, event.clientX - rect.left, event.clientY - rect.top);
  workspace.dragPoint = { x: to[0], y: to[1] };
  const plane = planeThroughDrag(scene.scene, scene.plane, doc.document.corners, dragged.value, head.frame, to);
  if (plane)
    doc.drag((draft) =>
      changeScene(draft, (s) => {
        s.normal = [...plane.normal];
      }),
    );
}
function onUp(): void {
  if (dragged.value === null) return;
  dragged.value = null;
  workspace.dragPoint = null;
  doc.settle();
}
</script>

<template>
  <g v-if="quad" data-scene-plane>
    <path class="grid" :d="grid" />
    <circle
      v-for="([x, y], i) in places"
      :key="i"
      class="grip"
      :class="{ still: !movable }"
      :cx="x"
      :cy="y"
      r="7"
      :data-plane-corner="i"
      @pointerdown.stop="onDown($event, i)"
      @pointermove="onMove"
      @pointerup="onUp"
      @pointercancel="onUp"
    />
  </g>
</template>

<style scoped>
.grid {
  fill: none;
  stroke: var(--mark-soft);
  stroke-width: 1;
  paint-order: stroke;
}
.grip {
  fill: var(--shade);
  stroke: var(--mark);
  stroke-width: 2;
  pointer-events: all;
  cursor: move;
}
.grip.still {
  pointer-events: none;
  stroke-dasharray: 3 2;
}
</style>
