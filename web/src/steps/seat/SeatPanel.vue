<script setup lang="ts">
import { computed } from 'vue';
import { useWorkspace } from '../../stores/workspace.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import PageTabs from '../../components/PageTabs.vue';
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
const doc = useDocument();
const workspace = useWorkspace();
const PAGES = [
  { name: 'set', title: 'Set', icon: 'bi-bounding-box-circles' },
  { name: 'drift', title: 'Drift', icon: 'bi-activity' },
  { name: 'check', title: 'Check', icon: 'bi-eye' },
] as const;
const placed = computed(() => doc.document?.corners !== null);
</script>

<template>
  <PlaceSection v-if="!placed" />
  <template v-else>
    <PageTabs label="Seat" :pages="PAGES" :value="workspace.seatPage" @choose="(page) => (workspace.seatPage = page)" />
    <template v-if="workspace.seatPage === 'set'"><CornersSection /><SnapSection /><ShapeSection /></template>
    <template v-else-if="workspace.seatPage === 'drift'"><DriftSection /><FixesSection /><LockSection /></template>
    <template v-else><CompareSection /><ChecksSection /><SeatCharts /></template>
    <section class="section">
      <RouterLink class="btn btn-primary w-100" :to="`/shots/${shot.shot!.id}/content`"
        >On to Content <i class="bi bi-arrow-right"
      /></RouterLink>
    </section>
  </template>
</template>
