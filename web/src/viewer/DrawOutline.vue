<script setup lang="ts">
import { onKeyStroke } from '@vueuse/core';
import { computed, ref } from 'vue';
import { useBench } from '../stores/bench.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { middleOutline, toPage, toPlate, type ViewTransform } from './view-transform.ts';

/** Drawing an outline point by point: click sets a point, the first point or Enter closes, Escape gives up, Backspace takes one back. */
const props = defineProps<{ view: ViewTransform; width: number; height: number }>();
const shot = useShot();
const head = usePlayhead();
const bench = useBench();
const points = ref<[number, number][]>([]);
const hover = ref<[number, number] | null>(null);
const page = computed(() => points.value.map((p) => toPage(props.view, p)));
const line = computed(() => [...page.value, ...(hover.value ? [hover.value] : [])].join(' '));

function at(event: PointerEvent): [number, number] {
  const rect = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  return [event.clientX - rect.left, event.clientY - rect.top];
}
function onDown(event: PointerEvent): void {
  if (event.button !== 0) return;
  event.stopPropagation();
  const [x, y] = at(event);
  const first = page.value[0];
  if (first && points.value.length >= 3 && Math.hypot(first[0] - x, first[1] - y) < 10) finish();
  else points.value.push(toPlate(props.view, x, y));
}
function finish(): void {
  const facts = shot.plate?.facts;
  // Enter at once: an outline in the middle, to be moved by keys.
  if (points.value.length === 0 && facts) points.value = middleOutline(facts.width, facts.height);
  if (points.value.length >= 3) {
    const outline = { points: points.value };
    const list = bench.tool === 'draw-keep-out' ? 'keepOut' : 'regions';
    shot.edit((draft) => {
      // The first outline decides on which frame things are defined.
      if (draft.regions.length === 0 && draft.keepOut.length === 0 && draft.corners === null) draft.referenceFrame = head.frame;
      draft[list].push(outline);
    });
    bench.picked = { list, index: shot.document![list].length - 1 };
  }
  points.value = [];
  bench.tool = 'look';
}
onKeyStroke('Enter', (event) => {
  event.preventDefault();
  finish();
});
onKeyStroke('Escape', () => {
  points.value = [];
  bench.tool = 'look';
});
onKeyStroke('Backspace', () => points.value.pop());
</script>

<template>
  <g>
    <rect class="catcher" :width="width" :height="height" data-draw @pointerdown="onDown" @pointermove="hover = at($event)" @dblclick="finish" />
    <polyline class="under" :points="line" />
    <polyline class="over" :points="line" />
    <circle v-for="(p, i) in page" :key="i" :cx="p[0]" :cy="p[1]" :r="i === 0 ? 6 : 4" class="dot" />
  </g>
</template>

<style scoped>
.catcher { fill: transparent; pointer-events: all; cursor: crosshair; }
.under, .over { fill: none; stroke-width: 1.8; pointer-events: none; }
.under { stroke: #17191b; }
.over { stroke: #fff; stroke-dasharray: 6 5; }
.dot { fill: #fff; stroke: #17191b; stroke-width: 1.5; pointer-events: none; }
</style>
