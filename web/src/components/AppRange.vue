<script setup lang="ts">
/** A number set by hand on a line: changes while it is dragged; `change` when it is let go. */
defineProps<{ label: string }>();
const value = defineModel<number>({ required: true });
</script>

<template>
  <BFormInput v-model.number="value" type="range" :aria-label="label" />
</template>
