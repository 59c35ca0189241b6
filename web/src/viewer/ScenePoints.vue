<script setup lang="ts">
import { clamp } from '../../../core/base/geometry/clamp.ts';
import { computed } from 'vue';
import type { Vector3 } from '../../../core/motion/pose/rotation.ts';
import { filmedAt } from '../../../core/motion/scene/scene-plane.ts';
import { inCamera } from '../../../core/motion/scene/camera-frames.ts';
import { drawPoint, removePoint } from '../steps/follow/scene/scene-edits.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useScene } from '../stores/scene.ts';
import { useDocument } from '../stores/document.ts';
import { toPage, toPlate } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** Still points of the solved room as they are seen on the frame on show: nearer ones larger. A click takes one out of the next solve. */
const viewport = useViewport();
const doc = useDocument();
const head = usePlayhead();
const scene = useScene();
const workspace = useWorkspace();
const LEAST = 1.4;
const MOST = 3;
const NEAR = 3;

const points = computed(() => {
  const solved = scene.scene;
  const file = scene.file;
  const on = solved?.frames.find((f) => f.frame === head.frame);
  if (!solved || !file || !on) return [];
  const out: { x: number; y: number; at: [number, number]; depth: number; known: boolean }[] = [];
  for (const [x, y, z, first, last] of file.points as [number, number, number, number, number][]) {
    if (head.frame < first || head.frame > last) continue;
    const there = inCamera(on.camera, [x, y, z] as Vector3);
    const at = filmedAt(solved, on.camera, there);
    if (!at) continue;
    const [px, py] = toPage(viewport.view, at);
    out.push({ x: px, y: py, at, depth: there[2], known: true });
  }
  const depths = out.map((p) => p.depth).sort((a, b) => a - b);
  const near = depths[Math.floor(0.05 * depths.length)] ?? 1;
  return out.map((p) => ({ ...p, r: clamp((MOST * near) / p.depth, LEAST, MOST) }));
});
const taken = computed(() =>
  (doc.document?.scene?.removed ?? []).filter((p) => p.frame === head.frame).map((p) => toPage(viewport.view, p.at)),
);
const drawn = computed(() =>
  (doc.document?.scene?.drawn ?? []).filter((p) => p.frame === head.frame).map((p) => toPage(viewport.view, p.at)),
);
const remove = (at: [number, number]) => doc.edit((draft) => removePoint(draft, head.frame, at, NEAR));
function put(event: PointerEvent): void {
  if (event.button !== 0) return;
  event.stopPropagation();
  const rect = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  const at = toPlate(viewport.view, event.clientX - rect.left, event.clientY - rect.top);
  doc.edit((draft) => drawPoint(draft, head.frame, at));
}
</script>

<template>
  <g :data-scene-points="points.length">
    <circle
      v-for="(p, i) in points"
      :key="i"
      class="point"
      :cx="p.x"
      :cy="p.y"
      :r="p.r"
      @pointerdown.stop
      @click="remove(p.at)"
      ><title>Click: leave it out of the next solve</title></circle
    >
    <path
      v-for="([x, y], i) in taken"
      :key="`t${i}`"
      class="taken"
      :d="`M${x - 4} ${y - 4}L${x + 4} ${y + 4}M${x + 4} ${y - 4}L${x - 4} ${y + 4}`"
    />
    <path
      v-for="([x, y], i) in drawn"
      :key="`d${i}`"
      class="drawn"
      :d="`M${x - 6} ${y}H${x + 6}M${x} ${y - 6}V${y + 6}`"
    />
    <rect
      v-if="workspace.tool === 'put-point'"
      class="catcher"
      :width="viewport.width"
      :height="viewport.height"
      data-put-point
      @pointerdown="put"
    />
  </g>
</template>

<style scoped>
.point {
  fill: var(--mark-soft);
  stroke: var(--shade-strong);
  stroke-width: 1;
  pointer-events: all;
  cursor: pointer;
}
.point:hover {
  fill: var(--accent);
}
.catcher {
  fill: transparent;
  pointer-events: all;
  cursor: crosshair;
}
.taken {
  stroke: var(--accent);
  stroke-width: 2;
  fill: none;
}
.drawn {
  stroke: var(--mark);
  stroke-width: 2;
  fill: none;
}
</style>
