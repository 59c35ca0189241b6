<script setup lang="ts">
import { computed } from 'vue';
import { useWorkspace } from '../stores/workspace.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { toPage } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** Where the value that is pointed at was measured on the frame on show. */
const viewport = useViewport();
const workspace = useWorkspace();
const playhead = usePlayhead();
const places = computed(() =>
  (workspace.reason?.why.places ?? [])
    .filter((place) => place.frame === playhead.frame)
    .map(({ points }) =>
      points
        .map(([x, y]) =>
          toPage(viewport.view, [x, y])
            .map((v) => v.toFixed(1))
            .join(','),
        )
        .join(' '),
    ),
);
</script>

<template>
  <g :data-measured-places="places.length">
    <template v-for="(points, i) in places" :key="i"
      ><polygon class="under" :points="points" /><polygon class="over" :points="points"
    /></template>
  </g>
</template>

<style scoped>
.under {
  fill: var(--mark-fill);
  stroke: var(--mark-under);
  stroke-width: 3;
}
.over {
  fill: none;
  stroke: var(--mark);
  stroke-width: 1.2;
  stroke-dasharray: 2 3;
}
</style>
