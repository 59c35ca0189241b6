<script setup lang="ts">
import { computed } from 'vue';
import { CARD_NAMES } from '../../../../core/picture/composite/test-card.ts';
import ChoiceRow from '../../components/ChoiceRow.vue';
import { useWorkspace } from '../../stores/workspace.ts';
import { useDocument } from '../../stores/document.ts';

/** What is laid on the surface to see whether it holds. */
const doc = useDocument();
const workspace = useWorkspace();
const document = computed(() => doc.document!);
</script>

<template>
  <section class="section">
    <header><h2>Test card</h2></header>
    <BFormCheckbox
      switch
      :model-value="document.testCard"
      @update:model-value="
        doc.edit((d) => {
          d.testCard = $event === true;
        })
      "
      >Test card on the surface <kbd>T</kbd></BFormCheckbox
    >
    <ChoiceRow
      class="my-2"
      label="Which test card"
      :options="CARD_NAMES"
      :value="document.card ?? 'checks'"
      @choose="
        doc.edit((d) => {
          d.card = $event;
          d.testCard = true;
        })
      "
    />
    <BFormCheckbox
      switch
      :model-value="document.cardClear === true"
      @update:model-value="
        doc.edit((d) => {
          if ($event === true) d.cardClear = true;
          else delete d.cardClear;
        })
      "
      >Half of the plate shines through</BFormCheckbox
    >
  </section>
  <section class="section">
    <header><h2>Look</h2></header>
    <BFormCheckbox v-model="workspace.flat" switch>Surface laid flat and held still <kbd>L</kbd></BFormCheckbox>
    <BFormCheckbox v-model="workspace.showGrid" switch>Grid in perspective</BFormCheckbox>
    <BFormCheckbox v-model="workspace.showOutlines" switch>Outline and corner marks <kbd>O</kbd></BFormCheckbox>
    <BFormCheckbox v-model="workspace.withoutFixes" switch>As the track alone has it <kbd>Y</kbd></BFormCheckbox>
    <p class="quiet mt-1 mb-0">Play it: slips show as motion on a surface that should stand still.</p>
  </section>
</template>
