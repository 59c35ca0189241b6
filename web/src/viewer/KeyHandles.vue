<script setup lang="ts">
import { computed, ref } from 'vue';
import { CORNER_NAMES, type Quad } from '../../../core/base/geometry/quad.ts';
import type { Point } from '../../../core/base/geometry/homography.ts';
import { putHandKey } from '../steps/follow/keys/key-edits.ts';
import { nudgeOf } from '../steps/nudge.ts';
import { middleOf, movePart, WHOLE } from '../steps/seat/move-part.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { useHandKeys } from '../stores/hand-keys.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useDocument } from '../stores/document.ts';
import { CORNER_SHAPES } from './corner-shapes.ts';
import { toPage, toPlate } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** The corners that hand keys put on this frame; moved, the frame is keyed. */
const viewport = useViewport();
const doc = useDocument();
const handKeys = useHandKeys();
const head = usePlayhead();
const workspace = useWorkspace();
const here = computed(() => handKeys.keyedAt(head.frame));
const corners = computed(() => here.value?.corners.map((c) => toPage(viewport.view, c)) ?? []);
const middle = computed(() => (here.value ? toPage(viewport.view, middleOf(here.value.corners)) : null));
const path = computed(() => corners.value.map((c) => c.join(' ')).join('L'));
const drag = ref<{ part: number; from: Point; quad: Quad } | null>(null);

function plateAt(event: PointerEvent): Point {
  const rect = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  return toPlate(viewport.view, event.clientX - rect.left, event.clientY - rect.top);
}
function onDown(event: PointerEvent, part: number): void {
  if (event.button !== 0 || !here.value) return;
  event.stopPropagation();
  workspace.part = part;
  drag.value = { part, from: plateAt(event), quad: here.value.corners };
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  (event.currentTarget as SVGElement).focus();
}
function onMove(event: PointerEvent): void {
  const d = drag.value;
  if (!d) return;
  const [x, y] = plateAt(event);
  const moved = movePart(d.quad, d.part, [x - d.from[0], y - d.from[1]]);
  doc.drag((draft) => putHandKey(draft, head.frame, moved));
  if (d.part < 4) workspace.dragPoint = { x: moved[d.part]![0], y: moved[d.part]![1] };
}
function onUp(): void {
  if (!drag.value) return;
  drag.value = null;
  workspace.dragPoint = null;
  doc.settle();
}
function onKey(event: KeyboardEvent, part: number): void {
  const nudge = nudgeOf(event);
  if (!nudge || !here.value) return;
  event.preventDefault();
  event.stopPropagation();
  doc.edit((draft) => putHandKey(draft, head.frame, movePart(here.value!.corners, part, nudge)));
}
</script>

<template>
  <g v-if="here" :class="`as-${here.how}`" :data-keyed="here.how">
    <path class="under" :d="`M${path}Z`" /><path class="over" :d="`M${path}Z`" />
    <g
      v-if="middle"
      class="grab"
      :class="{ chosen: workspace.part === WHOLE }"
      :transform="`translate(${middle[0]} ${middle[1]})`"
      tabindex="0"
      role="button"
      aria-label="All four corners"
      data-key-corner="all"
      @pointerdown="onDown($event, WHOLE)"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey($event, WHOLE)"
    >
      <rect x="-11" y="-11" width="22" height="22" class="hit" /><path class="halo" d="M-8 0H8M0 -8V8" /><path
        class="mark"
        d="M-8 0H8M0 -8V8"
      />
    </g>
    <g
      v-for="(c, i) in corners"
      :key="i"
      class="grab"
      :class="{ chosen: workspace.part === i }"
      :transform="`translate(${c[0]} ${c[1]})`"
      tabindex="0"
      role="button"
      :aria-label="`Keyed corner ${CORNER_NAMES[i]}`"
      :data-key-corner="i"
      @pointerdown="onDown($event, i)"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey($event, i)"
      @focus="workspace.part = i"
    >
      <path class="halo" :d="CORNER_SHAPES[i]" /><path class="mark" :d="CORNER_SHAPES[i]" />
    </g>
  </g>
</template>

<style scoped>
.under {
  fill: none;
  stroke: var(--mark-under);
  stroke-width: 2.6;
}
.over {
  fill: none;
  stroke: var(--mark-surface);
  stroke-width: 1.2;
  stroke-dasharray: 3 6;
}
.as-key .over,
.as-pulled .over {
  stroke-dasharray: none;
}
.grab {
  pointer-events: all;
  cursor: move;
  outline: none;
}
.hit {
  fill: transparent;
}
.halo {
  fill: var(--mark-fill);
  stroke: var(--mark-under);
  stroke-width: 4;
}
.mark {
  fill: var(--mark-fill);
  stroke: var(--mark);
  stroke-width: 1.8;
}
.as-key .mark {
  fill: var(--mark-strong);
}
.chosen .mark {
  stroke: var(--mark-picked);
  stroke-width: 2.4;
}
.grab:focus-visible .halo {
  stroke: var(--mark-strong);
  stroke-width: 6;
}
</style>
