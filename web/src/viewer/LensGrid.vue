<script setup lang="ts">
import { computed } from 'vue';
import type { Point } from '../../../core/base/geometry/homography.ts';
import { bend, isStraight, straighten } from '../../../core/motion/lens/lens.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { toPage } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** Lines that are straight without the lens, as it films them: to be compared with what is straight in the world. */
const viewport = useViewport();
const shot = useShot();
const doc = useDocument();
const ACROSS = 8;
const STEPS = 40;
const paths = computed(() => {
  const lens = doc.document?.lens;
  const facts = shot.plate?.facts;
  if (!lens || !facts || isStraight(lens)) return '';
  const { width, height } = facts;
  const down = Math.max(2, Math.round((ACROSS * height) / width));
  const line = (from: Point, to: Point) => {
    const [a, b] = [straighten(lens, from), straighten(lens, to)];
    if (![...a, ...b].every(Number.isFinite)) return '';
    return Array.from({ length: STEPS + 1 }, (_, i) => {
      const p = toPage(
        viewport.view,
        bend(lens, [a[0] + ((b[0] - a[0]) * i) / STEPS, a[1] + ((b[1] - a[1]) * i) / STEPS]),
      );
      return `${i === 0 ? 'M' : 'L'}${p[0].toFixed(2)} ${p[1].toFixed(2)}`;
    }).join('');
  };
  return [
    ...Array.from({ length: ACROSS + 1 }, (_, i) => line([(width * i) / ACROSS, 0], [(width * i) / ACROSS, height])),
    ...Array.from({ length: down + 1 }, (_, i) => line([0, (height * i) / down], [width, (height * i) / down])),
  ].join('');
});
</script>

<template>
  <g v-if="paths" data-lens-grid><path class="under" :d="paths" /><path class="line" :d="paths" /></g>
</template>

<style scoped>
path {
  fill: none;
}
.under {
  stroke: var(--shade-strong);
  stroke-width: 2.4;
}
.line {
  stroke: var(--mark-soft);
  stroke-width: 0.9;
}
</style>
