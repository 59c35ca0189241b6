<script setup lang="ts">
import { computed } from 'vue';
import { useCornerPoints } from '../stores/corner-points.ts';
import PointMagnifier from './PointMagnifier.vue';

/** The surroundings of each point, held still: what slips moves here. */
const found = useCornerPoints();
const names = computed(() => found.points.map((p) => p.name));
</script>

<template>
  <div class="row-of-glasses" data-magnifiers><PointMagnifier v-for="name in names" :key="name" :name="name" /></div>
</template>

<style scoped>
.row-of-glasses {
  display: flex;
  gap: 1px;
  height: 148px;
  background: var(--line);
  border-top: 1px solid var(--line);
  overflow-x: auto;
}
.row-of-glasses > * {
  flex: 1 0 150px;
}
</style>
