<script setup lang="ts">
import { ref, watch } from 'vue';

/** A line of text; what is half typed stands through whatever else changes. Emits whole edits only. */
const props = defineProps<{ label: string; value: string; maxlength?: number }>();
const emit = defineEmits<{ commit: [value: string] }>();
const text = ref(props.value);
watch(
  () => props.value,
  (value) => (text.value = value),
);
function commit(): void {
  const kept = text.value.trim();
  if (kept && kept !== props.value) emit('commit', kept);
  else text.value = props.value;
}
</script>

<template>
  <BFormInput v-model="text" :aria-label="label" :maxlength="maxlength" @change="commit" />
</template>
