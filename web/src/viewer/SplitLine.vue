<script setup lang="ts">
import { computed, ref } from 'vue';
import { outlineAt } from '../../../core/base/geometry/outline.ts';
import { USUAL_SOFT } from '../../../core/picture/loop/shot-loop.ts';
import { changeLoop, moveLineEnd } from '../steps/send/loop-edits.ts';
import { nudgeOf } from '../steps/nudge.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useDocument } from '../stores/document.ts';
import { toPage, toPlate } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** The line that divides two pictures, with its soft edge: its ends are dragged, on another frame than its home by a key. */
const viewport = useViewport();
const doc = useDocument();
const head = usePlayhead();
const split = computed(() => doc.document?.loop?.split);
/** Plate pixels, on the frame on show. */
const points = computed(() =>
  split.value?.line ? outlineAt(split.value.line, split.value.home ?? 0, head.frame).points : null,
);
const drawn = computed(() => {
  if (!points.value) return null;
  const [a, b] = points.value.map((p) => toPage(viewport.view, p)) as [[number, number], [number, number]];
  const dx = b[0] - a[0];
  const dy = b[1] - a[1];
  const length = Math.hypot(dx, dy) || 1;
  const reach = viewport.width + viewport.height;
  const ux = dx / length;
  const uy = dy / length;
  const line = (by: number) =>
    [
      a[0] - ux * reach - uy * by,
      a[1] - uy * reach + ux * by,
      b[0] + ux * reach - uy * by,
      b[1] + uy * reach + ux * by,
    ] as const;
  const half = ((split.value?.soft ?? USUAL_SOFT) / 2) * viewport.view.scale;
  const middle = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2] as const;
  return {
    a,
    b,
    line: line(0),
    soft: [line(half), line(-half)],
    first: [middle[0] - uy * 40, middle[1] + ux * 40] as const,
    arrow: `M${b[0] - ux * 14 - uy * 6} ${b[1] - uy * 14 + ux * 6}L${b[0]} ${b[1]}L${b[0] - ux * 14 + uy * 6} ${b[1] - uy * 14 - ux * 6}`,
  };
});
const held = ref<0 | 1 | null>(null);
function move(end: 0 | 1, to: readonly [number, number], edit: typeof doc.edit): void {
  const shown = points.value;
  if (shown) edit((draft) => changeLoop(draft, (loop) => moveLineEnd(loop, head.frame, shown, end, to)));
}
function onDown(event: PointerEvent, end: 0 | 1): void {
  if (event.button !== 0) return;
  event.stopPropagation();
  held.value = end;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
function onMove(event: PointerEvent): void {
  if (held.value === null) return;
  const rect = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  move(held.value, toPlate(viewport.view, event.clientX - rect.left, event.clientY - rect.top), doc.drag);
}
function onUp(): void {
  held.value = null;
  doc.settle();
}
function onKey(event: KeyboardEvent, end: 0 | 1): void {
  const nudge = nudgeOf(event);
  const at = points.value?.[end];
  if (!nudge || !at) return;
  event.preventDefault();
  event.stopPropagation();
  move(end, [at[0] + nudge[0], at[1] + nudge[1]], doc.edit);
}
</script>

<template>
  <g v-if="drawn" data-split-line>
    <line
      v-for="(side, i) in drawn.soft"
      :key="i"
      class="soft"
      :x1="side[0]"
      :y1="side[1]"
      :x2="side[2]"
      :y2="side[3]"
    />
    <line class="under" :x1="drawn.line[0]" :y1="drawn.line[1]" :x2="drawn.line[2]" :y2="drawn.line[3]" />
    <line class="over" :x1="drawn.line[0]" :y1="drawn.line[1]" :x2="drawn.line[2]" :y2="drawn.line[3]" />
    <path class="arrow" :d="drawn.arrow" />
    <text class="first" :x="drawn.first[0]" :y="drawn.first[1]">first</text>
    <circle
      v-for="(at, i) in [drawn.a, drawn.b]"
      :key="`e${i}`"
      class="grip"
      r="7"
      :cx="at[0]"
      :cy="at[1]"
      tabindex="0"
      :aria-label="`End ${i + 1} of the dividing line`"
      :data-split-end="i"
      @pointerdown="onDown($event, i as 0 | 1)"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey($event, i as 0 | 1)"
    />
  </g>
</template>

<style scoped>
.under,
.over,
.soft {
  fill: none;
  stroke-width: 1.8;
  pointer-events: none;
}
.under {
  stroke: var(--mark-under);
}
.over {
  stroke: var(--mark);
  stroke-dasharray: 9 5;
}
.soft {
  stroke: var(--mark-faint);
  stroke-width: 1;
  stroke-dasharray: 2 4;
}
.arrow {
  fill: none;
  stroke: var(--mark);
  stroke-width: 2.4;
  pointer-events: none;
}
.first {
  fill: var(--mark);
  stroke: var(--mark-under);
  stroke-width: 3;
  paint-order: stroke;
  font-size: 12px;
  text-anchor: middle;
  pointer-events: none;
}
.grip {
  fill: var(--mark-soft);
  stroke: var(--mark-under);
  stroke-width: 1.4;
  pointer-events: all;
  cursor: move;
}
</style>
