<script setup lang="ts">
import { computed } from 'vue';
import AppRange from '../components/AppRange.vue';
import ChoiceRow from '../components/ChoiceRow.vue';
import IconButton from '../components/IconButton.vue';
import { CHANNELS, MOST_STOPS, useViewing } from '../stores/viewing.ts';

/** How the picture is viewed: lighter or darker, by gamma, by channel; nothing that is rendered. */
const viewing = useViewing();
const exposureText = computed(
  () => `${viewing.exposure > 0 ? '+' : viewing.exposure < 0 ? '−' : '±'}${Math.abs(viewing.exposure).toFixed(1)} EV`,
);
</script>

<template>
  <span class="cluster viewed" title="For viewing only">
    <IconButton icon="brightness-low" label="View darker" title="View darker ([)" @click="viewing.brighten(-0.5)" />
    <BDropdown variant="link" no-caret toggle-class="bar-word" :text="exposureText" aria-label="How it is viewed">
      <div class="view-menu" @click.stop>
        <label
          >Exposure
          <AppRange
            v-model="viewing.exposure"
            label="Viewing exposure, stops"
            :min="-MOST_STOPS"
            :max="MOST_STOPS"
            :step="0.5"
          /><span>{{ exposureText }}</span></label
        >
        <label
          >Gamma <AppRange v-model="viewing.gamma" label="Viewing gamma" :min="0.2" :max="4" :step="0.05" /><span>{{
            viewing.gamma.toFixed(2)
          }}</span></label
        >
        <ChoiceRow label="Channel" :options="CHANNELS" :value="viewing.channel" @choose="viewing.channel = $event" />
        <p class="quiet mb-0">
          Changes what you see, nothing that is rendered.
          <button class="use-button" type="button" @click="viewing.reset()">as it is</button>
        </p>
      </div>
    </BDropdown>
    <IconButton icon="brightness-high" label="View brighter" title="View brighter (])" @click="viewing.brighten(0.5)" />
  </span>
</template>

<style scoped>
.cluster {
  display: flex;
  align-items: center;
}
.view-menu {
  display: grid;
  gap: 8px;
  padding: 8px 14px;
  width: 356px;
  font-size: 13px;
}
.view-menu label {
  display: grid;
  grid-template-columns: 66px 1fr 60px;
  align-items: center;
  gap: 8px;
}
.view-menu label span {
  text-align: right;
}
:deep(.dropdown-menu) {
  width: 358px;
  max-width: none;
}
</style>
