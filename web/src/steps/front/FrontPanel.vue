<script setup lang="ts">
import { computed } from 'vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import { FRONT_VIEWS } from '../../preview/compose-request.ts';
import { useWorkspace } from '../../stores/workspace.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import CleanSection from './CleanSection.vue';
import DifferenceSection from './DifferenceSection.vue';
import KeySection from './KeySection.vue';
import ShapeSection from './ShapeSection.vue';
import SpillSection from './SpillSection.vue';

/** What is in front of it? A key of the screen's colour, drawn shapes, and the screen's light on what stands near. */
const shot = useShot();
const doc = useDocument();
const workspace = useWorkspace();
const ready = computed(() => doc.document!.corners !== null);
const SAYS = {
  finished: 'The finished picture.',
  matte: 'White is where content is seen.',
  parts: 'Dark is wholly in front, light wholly screen, amber between.',
  checker: 'What is in front, over a checker.',
  cleaned: 'The plate with what is painted out, nothing laid on.',
  plate: 'The plate as it was filmed.',
  black: 'What is in front, over black: bright fringes show.',
  white: 'What is in front, over white: dark fringes show.',
} as const;
</script>

<template>
  <section v-if="!ready" class="section">
    <p class="quiet mb-0">First seat the four corners: what is in front is looked for inside them.</p>
  </section>
  <template v-else>
    <section class="section">
      <header>
        <h2>Look at</h2>
        <span class="quiet">J for the next</span>
      </header>
      <ChoiceRow
        class="views"
        label="Look at"
        :options="FRONT_VIEWS"
        :value="workspace.frontView"
        @choose="workspace.frontView = $event"
      />
      <p class="quiet mt-2 mb-0">
        {{
          doc.document!.contentId === null && workspace.frontView === 'finished'
            ? 'There is no content yet: choose it on Content.'
            : SAYS[workspace.frontView]
        }}
      </p>
    </section>
    <KeySection />
    <DifferenceSection />
    <ShapeSection />
    <SpillSection />
    <CleanSection />
    <section class="section">
      <RouterLink class="btn btn-primary w-100" :to="`/shots/${shot.shot!.id}/blend`"
        >On to Blend <i class="bi bi-arrow-right"
      /></RouterLink>
    </section>
  </template>
</template>

<style scoped>
.views {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 0;
}
.views :deep(button) {
  margin: 0 0 -1px -1px;
  border-radius: 0;
}
</style>
