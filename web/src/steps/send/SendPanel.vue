<script setup lang="ts">
import DataSection from './DataSection.vue';
import ImportSection from './ImportSection.vue';
import FilesSection from './FilesSection.vue';
import FramesSection from './FramesSection.vue';
import LoopSection from './LoopSection.vue';
import OthersSection from './OthersSection.vue';
import RenderList from './RenderList.vue';

/** What leaves the house? Finished frames, files made from them, and the track as data. */
</script>

<template>
  <FramesSection />
  <FilesSection />
  <RenderList />
  <LoopSection />
  <OthersSection />
  <DataSection />
  <ImportSection />
</template>
