<script setup lang="ts">
import { computed } from 'vue';
import { usePlayhead } from '../stores/playhead.ts';
import { useDocument } from '../stores/document.ts';
import { toPage } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** Lines that were drawn along something straight, on the frame they were drawn on; from end to end as it would be without the lens. */
const viewport = useViewport();
const doc = useDocument();
const head = usePlayhead();
const lines = computed(() =>
  (doc.document?.straightLines ?? []).flatMap(({ frame, points }, index) =>
    frame === head.frame ? [{ index, page: points.map((p) => toPage(viewport.view, p)) }] : [],
  ),
);
</script>

<template>
  <g v-for="{ index, page } in lines" :key="index" :data-straight="index">
    <line class="chord" :x1="page[0]![0]" :y1="page[0]![1]" :x2="page.at(-1)![0]" :y2="page.at(-1)![1]" />
    <polyline class="under" :points="page.join(' ')" /><polyline class="over" :points="page.join(' ')" />
    <circle v-for="(p, i) in page" :key="i" r="3.5" :cx="p[0]" :cy="p[1]" />
  </g>
</template>

<style scoped>
.under,
.over,
.chord {
  fill: none;
  stroke-width: 1.6;
}
.under {
  stroke: var(--mark-under);
}
.over {
  stroke: var(--mark);
  stroke-dasharray: 8 4;
}
.chord {
  stroke: var(--mark-faint);
  stroke-width: 1;
}
circle {
  fill: var(--mark);
  stroke: var(--mark-under);
  stroke-width: 1.2;
}
</style>
