<script setup lang="ts">
import { computed } from 'vue';
import type { GuestFraming } from '../../../core/base/schemas/types.ts';
import AppRange from '../components/AppRange.vue';
import ChoiceRow from '../components/ChoiceRow.vue';

/** How a guest's content lies on the screen, and on which frame it begins. */
const props = defineProps<{
  /** Frames of the content; a still has one. */
  contentFrames: number;
  /** Frames of the shot, and the number that its first one bears. */
  frames: number;
  first: number;
}>();
const framing = defineModel<GuestFraming>({ required: true });
const change = (what: Partial<GuestFraming>) => (framing.value = { ...framing.value, ...what });
const percent = (share: number) => `${Math.round(100 * share)} %`;
const sliders = computed(() => {
  const { offset, scale, start } = framing.value;
  const across = { min: -1, max: 1, step: 0.01 };
  return [
    {
      name: 'Right',
      label: 'To the right',
      value: offset[0],
      says: percent(offset[0]),
      range: across,
      set: (x: number) => change({ offset: [x, offset[1]] }),
    },
    {
      name: 'Down',
      label: 'Down',
      value: offset[1],
      says: percent(offset[1]),
      range: across,
      set: (y: number) => change({ offset: [offset[0], y] }),
    },
    {
      name: 'Size',
      label: 'Size',
      value: scale,
      says: percent(scale),
      range: { min: 0.2, max: 4, step: 0.01 },
      set: (size: number) => change({ scale: size }),
    },
    ...(props.contentFrames > 1
      ? [
          {
            name: 'Begins',
            label: 'Begins on frame',
            value: start,
            says: String(start + props.first),
            range: { min: -props.contentFrames, max: props.frames - 1 },
            set: (frame: number) => change({ start: frame }),
          },
        ]
      : []),
  ];
});
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
    <label v-for="{ name, label, value, says, range, set } in sliders" :key="name"
      >{{ name }}<AppRange :label="label" :model-value="value" v-bind="range" @update:model-value="set" /><span
        class="figure"
        >{{ says }}</span
      ></label
    >
    <button class="use-button" type="button" @click="change({ offset: [0, 0], scale: 1, start: 0 })">
      as at first
    </button>
  </div>
</template>

<style scoped src="./slot-blocks.css"></style>
