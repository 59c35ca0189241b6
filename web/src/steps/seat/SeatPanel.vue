<script setup lang="ts">
import { computed } from 'vue';
import { useBench } from '../../stores/bench.ts';
import { useShot } from '../../stores/shot.ts';
import ChecksSection from './ChecksSection.vue';
import CompareSection from './CompareSection.vue';
import CornersSection from './CornersSection.vue';
import DriftSection from './DriftSection.vue';
import FixesSection from './FixesSection.vue';
import LockSection from './LockSection.vue';
import PlaceSection from './PlaceSection.vue';
import SeatCharts from './SeatCharts.vue';
import ShapeSection from './ShapeSection.vue';
import SnapSection from './SnapSection.vue';

/** Where exactly are the edges? Set them on the reference, find what drifts, look whether it holds. */
const shot = useShot();
const bench = useBench();
const PAGES = [{ name: 'set', title: 'Set', icon: 'bi-bounding-box-circles' }, { name: 'drift', title: 'Drift', icon: 'bi-activity' }, { name: 'check', title: 'Check', icon: 'bi-eye' }] as const;
const placed = computed(() => shot.document?.corners !== null);
</script>

<template>
  <PlaceSection v-if="!placed" />
  <template v-else>
    <nav class="pages" aria-label="Seat">
      <button v-for="page in PAGES" :key="page.name" type="button" :aria-pressed="bench.seatPage === page.name" @click="bench.seatPage = page.name"><i class="bi" :class="page.icon" /> {{ page.title }}</button>
    </nav>
    <template v-if="bench.seatPage === 'set'"><CornersSection /><SnapSection /><ShapeSection /></template>
    <template v-else-if="bench.seatPage === 'drift'"><DriftSection /><FixesSection /><LockSection /></template>
    <template v-else><CompareSection /><ChecksSection /><SeatCharts /></template>
    <section class="section"><RouterLink class="btn btn-primary w-100" :to="`/shots/${shot.shot!.id}/content`">On to Content <i class="bi bi-arrow-right" /></RouterLink></section>
  </template>
</template>

<style scoped>
.pages { display: flex; border-bottom: 1px solid var(--line); position: sticky; top: 0; background: var(--paper); z-index: 2; }
.pages button { flex: 1; border: 0; background: none; color: var(--ink-soft); padding: 9px 4px 7px; font-size: 13.5px; border-bottom: 3px solid transparent; }
.pages button[aria-pressed='true'] { color: var(--ink); font-weight: 660; border-bottom-color: var(--accent); }
</style>
