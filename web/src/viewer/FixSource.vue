<script setup lang="ts">
import { computed, ref } from 'vue';
import { polygonOf } from '../../../core/base/geometry/outline.ts';
import { homographyBetweenQuads } from '../../../core/base/geometry/estimate-homography.ts';
import { applyToPoint, type Point } from '../../../core/base/geometry/homography.ts';
import { UNIT_SQUARE } from '../../../core/base/geometry/quad.ts';
import { shownOutline } from '../steps/follow/edit-outline.ts';
import { homeOf } from '../steps/follow/outlines-of.ts';
import { fixesOf, fixShapes, inShares } from '../steps/front/fix-edits.ts';
import { nudgeOf } from '../steps/nudge.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useDocument } from '../stores/document.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import { toPage, toPlate } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** Where the picked fix is taken from: its outline there, to be dragged. */
const viewport = useViewport();
const doc = useDocument();
const placed = usePlacedCorners();
const workspace = useWorkspace();
const head = usePlayhead();
const index = computed(() => (workspace.picked?.list === 'fixes' ? workspace.picked.index : null));
const there = computed(() => {
  const document = doc.document;
  const i = index.value;
  const fix = document && i !== null ? fixesOf(document)[i] : undefined;
  const now = placed.cornersAt(head.frame);
  const shape = document && i !== null ? fixShapes(document)[i] : undefined;
  if (!document?.corners || !fix?.from || !now || !shape || (fix.method !== 'patch' && fix.method !== 'clone'))
    return null;
  const map =
    shape.rides === 'plate' ? ([1, 0, 0, 0, 1, 0, 0, 0, 1] as const) : homographyBetweenQuads(document.corners, now);
  const out = homographyBetweenQuads(UNIT_SQUARE, now);
  if (!map || !out) return null;
  const shares = inShares(
    polygonOf(shownOutline(shape, { referenceFrame: homeOf(document, shape), frame: head.frame }, map)),
    now,
  );
  const { from } = fix;
  if (!shares || shares.length === 0) return null;
  const page = (p: Point) => toPage(viewport.view, applyToPoint(out, p));
  const moved = shares.map(([u, v]): Point => [u + from[0], v + from[1]]);
  const middle = (list: readonly Point[]): Point => [
    list.reduce((s, p) => s + p[0] / list.length, 0),
    list.reduce((s, p) => s + p[1] / list.length, 0),
  ];
  return {
    now,
    polygon: moved.map(page).join(' '),
    from: page(middle(moved)),
    to: page(middle(shares)),
    home: middle(shares),
  };
});
const held = ref(false);

function place(share: Point, edit: typeof doc.edit): void {
  const i = index.value;
  const at = there.value;
  if (i === null || !at) return;
  edit((draft) => {
    const fix = fixesOf(draft)[i];
    if (fix) fix.from = [share[0] - at.home[0], share[1] - at.home[1]];
  });
}
function shareOf(x: number, y: number): Point | null {
  const at = there.value;
  return at && (inShares([toPlate(viewport.view, x, y)], at.now)?.[0] ?? null);
}
function onDown(event: PointerEvent): void {
  if (event.button !== 0) return;
  event.stopPropagation();
  held.value = true;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
function onMove(event: PointerEvent): void {
  if (!held.value) return;
  const rect = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  const share = shareOf(event.clientX - rect.left, event.clientY - rect.top);
  if (share) place(share, doc.drag);
}
function onUp(): void {
  held.value = false;
  doc.settle();
}
function onKey(event: KeyboardEvent): void {
  const nudge = nudgeOf(event);
  const at = there.value;
  if (!nudge || !at) return;
  event.preventDefault();
  event.stopPropagation();
  const share = shareOf(
    at.from[0] + nudge[0] * viewport.view.scale * viewport.view.aspect,
    at.from[1] + nudge[1] * viewport.view.scale,
  );
  if (share) place(share, doc.edit);
}
</script>

<template>
  <g v-if="there">
    <line class="under" :x1="there.to[0]" :y1="there.to[1]" :x2="there.from[0]" :y2="there.from[1]" />
    <line class="over" :x1="there.to[0]" :y1="there.to[1]" :x2="there.from[0]" :y2="there.from[1]" />
    <polygon class="under" :points="there.polygon" />
    <polygon class="over" :points="there.polygon" />
    <circle
      class="grip"
      r="8"
      :cx="there.from[0]"
      :cy="there.from[1]"
      tabindex="0"
      aria-label="Where the fix is taken from"
      data-fix-source
      @pointerdown="onDown"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey"
      ><title>Drag to where it is taken from</title></circle
    >
  </g>
</template>

<style scoped>
.under,
.over {
  fill: none;
  stroke-width: 1.6;
  pointer-events: none;
}
.under {
  stroke: var(--mark-under);
}
.over {
  stroke: var(--mark);
  stroke-dasharray: 3 4;
}
.grip {
  fill: var(--mark-soft);
  stroke: var(--mark-under);
  stroke-width: 1.4;
  pointer-events: all;
  cursor: move;
}
</style>
