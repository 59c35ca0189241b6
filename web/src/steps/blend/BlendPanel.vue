<script setup lang="ts">
import { computed } from 'vue';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import EdgeSection from './EdgeSection.vue';
import GrainSection from './GrainSection.vue';
import CastSection from './CastSection.vue';
import LevelsSection from './LevelsSection.vue';
import MeasureSection from './MeasureSection.vue';
import MixSection from './MixSection.vue';
import MotionSection from './MotionSection.vue';
import ReflectionSection from './ReflectionSection.vue';
import ScreenSection from './ScreenSection.vue';
import ShelfSection from './ShelfSection.vue';

/** Does it belong? Measured, then level by level in the order in which it is done. */
const shot = useShot();
const doc = useDocument();
const ready = computed(() => doc.document!.corners !== null);
const ORDER = 'levels → blur → edge → softness → texture → reflections → front → grain → glow';
</script>

<template>
  <section v-if="!ready" class="section">
    <p class="quiet mb-0">First seat the four corners: the look is measured along them.</p>
  </section>
  <template v-else>
    <MeasureSection />
    <section class="section order">
      <p class="quiet mb-0" title="The order in which the picture is made; it is always the same">{{ ORDER }}</p>
    </section>
    <LevelsSection />
    <EdgeSection />
    <MotionSection />
    <GrainSection />
    <ReflectionSection />
    <CastSection />
    <ScreenSection />
    <MixSection />
    <ShelfSection />
    <section class="section">
      <RouterLink class="btn btn-primary w-100" :to="`/shots/${shot.shot!.id}/send`"
        >On to Send <i class="bi bi-arrow-right"
      /></RouterLink>
    </section>
  </template>
</template>

<style scoped>
.order {
  padding-top: 8px;
  padding-bottom: 8px;
}
</style>
