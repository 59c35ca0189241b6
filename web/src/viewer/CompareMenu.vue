<script setup lang="ts">
import { useDocument } from '../stores/document.ts';
import { useViewing, type Compare } from '../stores/viewing.ts';

/** Holds the finished picture against the plate, or against an earlier look. */
const doc = useDocument();
const viewing = useViewing();
const WAYS: readonly { way: Compare; title: string }[] = [
  { way: 'none', title: 'off' },
  { way: 'flicker', title: 'in turns' },
  { way: 'difference', title: 'difference' },
];
</script>

<template>
  <BDropdown
    variant="link"
    no-caret
    toggle-class="bar-word"
    :text="
      viewing.compare === 'none' ? 'Compare' : `Compare: ${viewing.compare === 'flicker' ? 'in turns' : 'difference'}`
    "
    aria-label="Compare"
  >
    <div class="menu" @click.stop>
      <div class="choice" role="group" aria-label="Way to compare">
        <button
          v-for="{ way, title } in WAYS"
          :key="way"
          type="button"
          :aria-pressed="viewing.compare === way"
          @click="viewing.compare = way"
        >
          {{ title }}
        </button>
      </div>
      <p class="quiet mt-2 mb-1">Against</p>
      <div class="choice" role="group" aria-label="Compare against">
        <button type="button" :aria-pressed="viewing.against === 'plate'" @click="viewing.against = 'plate'">
          the plate</button
        ><button
          type="button"
          :aria-pressed="viewing.against === 'kept'"
          :disabled="!viewing.kept"
          @click="viewing.against = 'kept'"
        >
          the kept look
        </button>
      </div>
      <button
        class="btn btn-sm btn-outline-secondary w-100 mt-2"
        type="button"
        title="Remembers this look until the page is left, to hold later ones against it"
        @click="viewing.keep(doc.document!.look)"
      >
        Keep this look to compare
      </button>
      <p class="quiet mt-2 mb-0">The border (B) shows both side by side. Differences are shown 8 times as large.</p>
    </div>
  </BDropdown>
</template>

<style scoped>
.menu {
  padding: 4px 14px;
  white-space: normal;
}
</style>
