<script setup lang="ts">
import { computed } from 'vue';
import { homographyBetweenQuads } from '../../../core/base/geometry/estimate-homography.ts';
import { applyToPoint, type Point } from '../../../core/base/geometry/homography.ts';
import type { Quad } from '../../../core/base/geometry/quad.ts';
import { outlineAt } from '../../../core/base/geometry/outline.ts';
import { flattened } from '../../../core/picture/matte/roto-shapes.ts';
import type { SoftOutline } from '../../../core/picture/matte/shape-matte.ts';
import type { FrontShape } from '../../../core/base/schemas/types.ts';
import { homeOf } from '../steps/follow/outlines-of.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import { toPage } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** The picked shape's soft edge, and where it lies a frame before and after: so that what is between keys is checked against the picture. */
const viewport = useViewport();
const shot = useShot();
const doc = useDocument();
const placed = usePlacedCorners();
const workspace = useWorkspace();
const head = usePlayhead();
const shape = computed<FrontShape | null>(() =>
  workspace.picked?.list === 'shapes' ? (doc.document?.look.shapes?.[workspace.picked.index] ?? null) : null,
);

function onFrame(one: FrontShape, frame: number): SoftOutline | null {
  const document = doc.document!;
  const corners = document.corners as Quad | null;
  const seated = placed.cornersAt(frame);
  const map = one.rides === 'plate' || !corners ? null : seated && homographyBetweenQuads(corners, seated);
  if (map === null && one.rides !== 'plate') return null;
  const { points, handles } = outlineAt(one, homeOf(document, one), frame);
  const soft = one.soft ?? [0, 0];
  return flattened(
    points,
    handles,
    (i) => one.softness?.[i] ?? soft,
    (p) => (map ? applyToPoint(map, p) : p),
  );
}
/** The outline moved along its normals by widths, to the outside where positive. */
function moved({ points }: SoftOutline, widths: readonly number[]): Point[] {
  const n = points.length;
  const area = points.reduce((sum, [x, y], i) => sum + x * points[(i + 1) % n]![1] - points[(i + 1) % n]![0] * y, 0);
  const out = area > 0 ? 1 : -1;
  return points.map(([x, y], i) => {
    const [px, py] = points[(i + n - 1) % n]!;
    const [qx, qy] = points[(i + 1) % n]!;
    const length = Math.hypot(qx - px, qy - py) || 1;
    return [x + (out * widths[i]! * (qy - py)) / length, y - (out * widths[i]! * (qx - px)) / length];
  });
}
const onPage = (points: readonly Point[]) => points.map((p) => toPage(viewport.view, p)).join(' ');
const drawn = computed(() => {
  const one = shape.value;
  const now = one && onFrame(one, head.frame);
  if (!one || !now) return null;
  const bands = [now.outer, now.inner.map((w) => -w)]
    .filter((widths) => widths.some((w) => Math.abs(w) > 0.05))
    .map((widths) => onPage(moved(now, widths)));
  const ghosts = workspace.showGhosts
    ? [-1, 1].flatMap((by) => {
        const frame = head.frame + by;
        const there = frame >= 0 && frame < shot.frames ? onFrame(one, frame) : null;
        return there ? [{ by, points: onPage(there.points) }] : [];
      })
    : [];
  return { bands, ghosts };
});
</script>

<template>
  <g v-if="drawn" class="edges">
    <polygon v-for="(band, i) in drawn.bands" :key="`b${i}`" class="band" :points="band" data-soft-band />
    <polygon
      v-for="ghost in drawn.ghosts"
      :key="`g${ghost.by}`"
      class="ghost"
      :class="ghost.by < 0 ? 'before' : 'after'"
      :points="ghost.points"
      :data-ghost="ghost.by"
    />
  </g>
</template>

<style scoped>
polygon {
  fill: none;
  pointer-events: none;
  stroke-width: 1.1;
}
.band {
  stroke: var(--mark-surface);
  stroke-dasharray: 2 4;
}
.ghost {
  stroke-width: 1.4;
}
.before {
  stroke: var(--edge-inside);
  stroke-dasharray: 5 4;
}
.after {
  stroke: var(--edge-outside);
  stroke-dasharray: 1 3;
  stroke-linecap: round;
  stroke-width: 2;
}
</style>
