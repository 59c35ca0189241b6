<script setup lang="ts">
import type { GuestFraming } from '../../../core/base/schemas/types.ts';
import AppRange from '../components/AppRange.vue';
import ChoiceRow from '../components/ChoiceRow.vue';

/** How a guest's content lies on the screen, and on which frame it begins. */
defineProps<{
  /** Frames of the content; a still has one. */
  contentFrames: number;
  /** Frames of the shot, and the number that its first one bears. */
  frames: number;
  first: number;
}>();
const framing = defineModel<GuestFraming>({ required: true });
const change = (what: Partial<GuestFraming>) => (framing.value = { ...framing.value, ...what });
</script>

<template>
  <div class="block">
    <h2>Framing</h2>
    <ChoiceRow
      label="How it lies"
      :options="['fill', 'fit', 'stretch'] as const"
      :value="framing.fit"
      @choose="change({ fit: $event })"
    />
    <label
      >Right<AppRange
        label="To the right"
        :min="-1"
        :max="1"
        :step="0.01"
        :model-value="framing.offset[0]"
        @update:model-value="(x) => change({ offset: [x, framing.offset[1]] })"
      /><span class="figure">{{ Math.round(100 * framing.offset[0]) }} %</span></label
    >
    <label
      >Down<AppRange
        label="Down"
        :min="-1"
        :max="1"
        :step="0.01"
        :model-value="framing.offset[1]"
        @update:model-value="(y) => change({ offset: [framing.offset[0], y] })"
      /><span class="figure">{{ Math.round(100 * framing.offset[1]) }} %</span></label
    >
    <label
      >Size<AppRange
        label="Size"
        :min="0.2"
        :max="4"
        :step="0.01"
        :model-value="framing.scale"
        @update:model-value="(scale) => change({ scale })"
      /><span class="figure">{{ Math.round(100 * framing.scale) }} %</span></label
    >
    <label v-if="contentFrames > 1"
      >Begins<AppRange
        label="Begins on frame"
        :min="-contentFrames"
        :max="frames - 1"
        :model-value="framing.start"
        @update:model-value="(start) => change({ start })"
      /><span class="figure">{{ framing.start + first }}</span></label
    >
    <button class="use-button" type="button" @click="change({ offset: [0, 0], scale: 1, start: 0 })">
      as at first
    </button>
  </div>
</template>

<style scoped src="./slot-blocks.css"></style>
