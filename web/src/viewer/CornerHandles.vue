<script setup lang="ts">
import { computed, ref } from 'vue';
import { CORNER_NAMES } from '../../../core/geometry/quad.ts';
import { useBench } from '../stores/bench.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { moveCorner, nudgeOf } from '../steps/move-corner.ts';
import { CORNER_SHAPES } from './corner-shapes.ts';
import { toPage, toPlate, type ViewTransform } from './view-transform.ts';

/** The four corners, to be dragged or nudged by arrow keys on any frame where they are known. */
const props = defineProps<{ view: ViewTransform }>();
const shot = useShot();
const head = usePlayhead();
const bench = useBench();
const dragging = ref<number | null>(null);
let grip: [number, number] = [0, 0];
const corners = computed(() => shot.cornersAt(head.frame)?.map((c) => toPage(props.view, c)) ?? []);

function onDown(event: PointerEvent, index: number): void {
  bench.corner = index;
  dragging.value = index;
  const [x, y] = plateAt(event);
  const corner = shot.cornersAt(head.frame)![index]!;
  grip = [corner[0] - x, corner[1] - y];
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  (event.currentTarget as SVGElement).focus();
  event.stopPropagation();
}
function onMove(event: PointerEvent): void {
  if (dragging.value === null) return;
  const [x, y] = plateAt(event);
  moveCorner(shot, head.frame, dragging.value, [x + grip[0], y + grip[1]], 'drag');
  bench.dragPoint = { x: x + grip[0], y: y + grip[1] };
}
function onUp(): void {
  dragging.value = null;
  bench.dragPoint = null;
  shot.settle();
}
function plateAt(event: PointerEvent): [number, number] {
  const rect = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  return toPlate(props.view, event.clientX - rect.left, event.clientY - rect.top);
}
function onKey(event: KeyboardEvent, index: number): void {
  const nudge = nudgeOf(event);
  const corner = shot.cornersAt(head.frame)?.[index];
  if (!nudge || !corner) return;
  event.preventDefault();
  event.stopPropagation();
  moveCorner(shot, head.frame, index, [corner[0] + nudge[0], corner[1] + nudge[1]], 'edit');
}
</script>

<template>
  <g
    v-for="(c, i) in corners" :key="i" class="corner" :class="{ chosen: bench.corner === i }" :transform="`translate(${c[0]} ${c[1]})`" tabindex="0" role="button"
    :aria-label="`Corner ${CORNER_NAMES[i]}`" :data-corner="i" @pointerdown="onDown($event, i)" @pointermove="onMove" @pointerup="onUp" @keydown="onKey($event, i)" @focus="bench.corner = i"
  >
    <path class="halo" :d="CORNER_SHAPES[i]" />
    <path class="mark" :d="CORNER_SHAPES[i]" />
    <path class="cross" d="M-2.5 0H2.5M0 -2.5V2.5" />
  </g>
</template>

<style scoped>
.corner { pointer-events: all; cursor: move; outline: none; }
.halo { fill: rgb(255 255 255 / 12%); stroke: #17191b; stroke-width: 4; }
.mark { fill: rgb(255 255 255 / 12%); stroke: #fff; stroke-width: 1.8; }
.chosen .mark { stroke: #ffb36b; stroke-width: 2.4; }
.corner:focus-visible .halo { stroke: #b45309; stroke-width: 6; }
.cross { stroke: #fff; stroke-width: 1; mix-blend-mode: difference; }
</style>
