<script setup lang="ts">
import { ref } from 'vue';

/** A button that asks for one file; the same file can be chosen twice in a row. Other attributes are the button's. */
defineOptions({ inheritAttrs: false });
defineProps<{ label: string; accept: string }>();
const emit = defineEmits<{ pick: [file: File] }>();
const input = ref<HTMLInputElement>();

function chosen(): void {
  const file = input.value?.files?.[0];
  if (!file) return;
  emit('pick', file);
  input.value!.value = '';
}
</script>

<template>
  <input ref="input" type="file" hidden :accept="accept" :aria-label="label" @change="chosen" />
  <BButton variant="outline-secondary" v-bind="$attrs" @click="input?.click()"><slot /></BButton>
</template>
