<script setup lang="ts">
import { computed, ref } from 'vue';
import type { Point } from '../../../core/base/geometry/homography.ts';
import { CORNER_NAMES, type Quad } from '../../../core/base/geometry/quad.ts';
import { SIDE_NAMES } from '../../../core/surface/seat/sides.ts';
import { nudgeOf } from '../steps/nudge.ts';
import { gripOf, middleOf, movePart, turnQuad, WHOLE } from '../steps/seat/move-part.ts';
import { moveQuad } from '../steps/seat/seat-edits.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useDocument } from '../stores/document.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import { CORNER_SHAPES } from './corner-shapes.ts';
import { toPage, toPlate } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** Corners, sides, the whole and the tab of the surface, to be dragged or nudged by arrow keys on any frame where it is known. */
const viewport = useViewport();
const doc = useDocument();
const placed = usePlacedCorners();
const head = usePlayhead();
const workspace = useWorkspace();
const TURN = 9;
const dragging = ref<{ part: number; from: Point; quad: Quad } | null>(null);
const quad = computed(() => placed.cornersAt(head.frame));
const corners = computed(() => quad.value?.map((c) => toPage(viewport.view, c)) ?? []);
const sides = computed(() =>
  quad.value
    ? [4, 5, 6, 7].map((part) => {
        const [x, y] = toPage(viewport.view, gripOf(quad.value!, part));
        const a = corners.value[part - 4]!;
        const b = corners.value[(part - 3) % 4]!;
        return { part, x, y, angle: (Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI };
      })
    : [],
);
const middle = computed(() => quad.value && toPage(viewport.view, middleOf(quad.value)));
/** Beyond the tab, out of the upper side. */
const turner = computed(() => {
  if (!quad.value || !middle.value) return null;
  const [x, y] = toPage(viewport.view, gripOf(quad.value, 4));
  const dx = x - middle.value[0];
  const dy = y - middle.value[1];
  const length = Math.hypot(dx, dy) || 1;
  return { x: x + (dx / length) * 34, y: y + (dy / length) * 34, fromX: x, fromY: y };
});

function onDown(event: PointerEvent, part: number): void {
  if (event.button !== 0 || !quad.value) return;
  pick(part);
  dragging.value = { part, from: plateAt(event), quad: quad.value };
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  (event.currentTarget as SVGElement).focus();
  event.stopPropagation();
}
function onMove(event: PointerEvent): void {
  const d = dragging.value;
  if (!d) return;
  const [x, y] = plateAt(event);
  const shift: Point = [x - d.from[0], y - d.from[1]];
  moveQuad(
    head.frame,
    d.part === TURN ? turned(d.quad, d.from, [x, y], event.shiftKey) : movePart(d.quad, d.part, shift),
    'drag',
  );
  if (d.part < 4) workspace.dragPoint = { x: d.quad[d.part]![0] + shift[0], y: d.quad[d.part]![1] + shift[1] };
}
/** The tab's handle turns about the middle, and with Shift scales. */
function turned(from: Quad, start: Point, now: Point, scales: boolean): Quad {
  const [cx, cy] = middleOf(from);
  const before = [start[0] - cx, start[1] - cy] as const;
  const after = [now[0] - cx, now[1] - cy] as const;
  return turnQuad(
    from,
    scales ? 0 : Math.atan2(after[1], after[0]) - Math.atan2(before[1], before[0]),
    scales ? Math.max(0.05, Math.hypot(...after) / Math.hypot(...before)) : 1,
  );
}
function onUp(): void {
  if (!dragging.value) return;
  dragging.value = null;
  workspace.dragPoint = null;
  doc.settle();
}
function pick(part: number): void {
  if (part !== TURN) workspace.part = part;
  if (part < 4) workspace.corner = part;
}
function plateAt(event: PointerEvent): Point {
  const rect = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  return toPlate(viewport.view, event.clientX - rect.left, event.clientY - rect.top);
}
function onKey(event: KeyboardEvent, part: number): void {
  const nudge = nudgeOf(event);
  if (!nudge || !quad.value) return;
  event.preventDefault();
  event.stopPropagation();
  const scaled = Math.sign(nudge[0] || nudge[1]) * Math.hypot(...nudge);
  moveQuad(
    head.frame,
    part === TURN
      ? turnQuad(quad.value, nudge[0] === 0 ? 0 : (scaled * Math.PI) / 1800, nudge[0] === 0 ? 1 - scaled / 1000 : 1)
      : movePart(quad.value, part, nudge),
    'edit',
  );
}
</script>

<template>
  <g>
    <g
      v-if="turner"
      class="turner"
      tabindex="0"
      role="button"
      aria-label="Turn; with Shift scale"
      data-part="9"
      @pointerdown="onDown($event, TURN)"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey($event, TURN)"
    >
      <line class="halo thin" :x1="turner.fromX" :y1="turner.fromY" :x2="turner.x" :y2="turner.y" /><line
        class="stem"
        :x1="turner.fromX"
        :y1="turner.fromY"
        :x2="turner.x"
        :y2="turner.y"
      />
      <circle class="halo thin" :cx="turner.x" :cy="turner.y" r="6" /><circle
        class="grip"
        :cx="turner.x"
        :cy="turner.y"
        r="6"
      />
    </g>
    <g
      v-if="middle"
      class="middle"
      :class="{ chosen: workspace.part === WHOLE }"
      :transform="`translate(${middle[0]} ${middle[1]})`"
      tabindex="0"
      role="button"
      aria-label="All of the surface"
      data-part="8"
      @pointerdown="onDown($event, WHOLE)"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey($event, WHOLE)"
      @focus="pick(WHOLE)"
      ><rect x="-11" y="-11" width="22" height="22" class="hit" /><path class="halo thin" d="M-9 0H9M0 -9V9" /><path
        class="grip"
        d="M-9 0H9M0 -9V9"
    /></g>
    <g
      v-for="s in sides"
      :key="s.part"
      class="side"
      :class="{ chosen: workspace.part === s.part }"
      :transform="`translate(${s.x} ${s.y}) rotate(${s.angle})`"
      tabindex="0"
      role="button"
      :aria-label="`Side ${SIDE_NAMES[s.part - 4]}`"
      :data-part="s.part"
      @pointerdown="onDown($event, s.part)"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey($event, s.part)"
      @focus="pick(s.part)"
      ><rect x="-15" y="-7" width="30" height="14" class="hit" /><rect
        class="halo thin"
        x="-12"
        y="-3"
        width="24"
        height="6"
        rx="1" /><rect class="grip" x="-12" y="-3" width="24" height="6" rx="1"
    /></g>
    <g
      v-for="(c, i) in corners"
      :key="i"
      class="corner"
      :class="{ chosen: workspace.part === i }"
      :transform="`translate(${c[0]} ${c[1]})`"
      tabindex="0"
      role="button"
      :aria-label="`Corner ${CORNER_NAMES[i]}`"
      :data-corner="i"
      @pointerdown="onDown($event, i)"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey($event, i)"
      @focus="pick(i)"
    >
      <path class="halo" :d="CORNER_SHAPES[i]" />
      <path class="mark" :d="CORNER_SHAPES[i]" />
      <path class="cross" d="M-2.5 0H2.5M0 -2.5V2.5" />
    </g>
  </g>
</template>

<style scoped>
.corner,
.side,
.middle,
.turner {
  pointer-events: all;
  cursor: move;
  outline: none;
}
.side {
  cursor: ns-resize;
}
.hit {
  fill: transparent;
}
.halo {
  fill: var(--mark-fill);
  stroke: var(--mark-under);
  stroke-width: 4;
}
.thin {
  stroke-width: 3.4;
}
.mark,
.grip {
  fill: var(--mark-fill);
  stroke: var(--mark);
  stroke-width: 1.8;
}
.grip {
  stroke-width: 1.3;
}
.stem {
  stroke: var(--mark);
  stroke-width: 1;
}
.chosen .mark,
.chosen .grip {
  stroke: var(--mark-picked);
  stroke-width: 2.4;
}
.corner:focus-visible .halo,
.side:focus-visible .halo,
.middle:focus-visible .halo,
.turner:focus-visible .halo {
  stroke: var(--mark-strong);
  stroke-width: 6;
}
.cross {
  stroke: var(--mark);
  stroke-width: 1;
  mix-blend-mode: difference;
}
</style>
