<script setup lang="ts">
import { computed } from 'vue';
import { useDocument } from '../stores/document.ts';
import { toPage } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** What of the picture is to lie on itself where pictures are joined. */
const viewport = useViewport();
const doc = useDocument();
const polygon = computed(() => doc.document?.loop?.region?.map(([x, y]) => toPage(viewport.view, [x, y])).join(' '));
</script>

<template>
  <g v-if="polygon" data-join-region
    ><polygon class="under" :points="polygon" /><polygon class="over" :points="polygon"
  /></g>
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
  stroke-dasharray: 14 4;
}
</style>
