<script setup lang="ts">
import { computed } from 'vue';
import { applyToPoint } from '../../../core/geometry/homography.ts';
import { homographyBetweenQuads } from '../../../core/geometry/estimate-homography.ts';
import { UNIT_SQUARE } from '../../../core/geometry/quad.ts';
import { useBench } from '../stores/bench.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { toPage, type ViewTransform } from './view-transform.ts';

/** The surface's outline, two-toned, with a tab on the content's upper edge, and a grid in perspective. */
const props = defineProps<{ view: ViewTransform }>();
const shot = useShot();
const head = usePlayhead();
const bench = useBench();
const map = computed(() => {
  const corners = shot.cornersAt(head.frame);
  return corners && homographyBetweenQuads(UNIT_SQUARE, corners);
});
const at = (u: number, v: number): [number, number] => toPage(props.view, applyToPoint(map.value!, [u, v]));
const outline = computed(() => map.value && [at(0, 0), at(1, 0), at(1, 1), at(0, 1)].join(' '));
const tab = computed(() => map.value && [at(0.45, 0), at(0.46, -0.045), at(0.54, -0.045), at(0.55, 0)].join(' '));
const grid = computed(() => {
  if (!map.value || !bench.showGrid || bench.step !== 'seat') return [];
  return [1, 2, 3, 4, 5, 6, 7].flatMap((i) => [[at(i / 8, 0), at(i / 8, 1)], [at(0, i / 8), at(1, i / 8)]]);
});
</script>

<template>
  <g v-if="outline" class="surface">
    <line v-for="(line, i) in grid" :key="i" class="grid" :x1="line[0]![0]" :y1="line[0]![1]" :x2="line[1]![0]" :y2="line[1]![1]" />
    <polygon class="under" :points="outline" />
    <polygon class="over" :points="outline" data-surface />
    <polygon class="tab" :points="tab!" />
  </g>
</template>

<style scoped>
.under, .over { fill: none; stroke-width: 1.5; }
.under { stroke: #17191b; }
.over { stroke: #ffd9ae; stroke-dasharray: 9 6; }
.tab { fill: #b45309; stroke: #fff; stroke-width: 1; }
.grid { stroke: rgb(255 255 255 / 55%); stroke-width: 1; mix-blend-mode: difference; }
</style>
