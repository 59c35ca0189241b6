<script setup lang="ts">
import DataSection from './send/DataSection.vue';
import ImportSection from './send/ImportSection.vue';
import FilesSection from './send/FilesSection.vue';
import FramesSection from './send/FramesSection.vue';
import LoopSection from './send/LoopSection.vue';
import OthersSection from './send/OthersSection.vue';
import RenderList from './send/RenderList.vue';

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
