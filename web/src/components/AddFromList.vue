<script setup lang="ts" generic="T extends string | number">
import { nextTick, ref } from 'vue';
import type { Choice } from './choice.ts';

/** A list to add from: its first line says what for, and stands there again after each choice. */
defineProps<{ label: string; says: string; options: readonly Choice<T>[] }>();
const emit = defineEmits<{ add: [value: T] }>();
const chosen = ref<T | ''>('');

async function add(value: T): Promise<void> {
  emit('add', value);
  await nextTick();
  chosen.value = '';
}
</script>

<template>
  <BFormSelect
    v-model="chosen"
    size="sm"
    :options="[{ value: '', text: says }, ...options]"
    :aria-label="label"
    @update:model-value="add($event as T)"
  />
</template>
