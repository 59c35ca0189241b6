<script setup lang="ts" generic="T extends string | number">
import type { Choice } from './choice.ts';

/** One out of a list. Values keep their type: none is read back from the text of an option. */
defineProps<{ label: string; value: T; options: readonly (T | Choice<T>)[] }>();
const emit = defineEmits<{ choose: [value: T] }>();
</script>

<template>
  <BFormSelect
    size="sm"
    :model-value="value"
    :options="options"
    :aria-label="label"
    @update:model-value="emit('choose', $event as T)"
  />
</template>
