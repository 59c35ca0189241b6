<script setup lang="ts" generic="T extends string">
defineProps<{ label: string; options: readonly T[]; value: T }>();
defineEmits<{ choose: [value: T] }>();
</script>

<template>
  <div class="choice" role="group" :aria-label="label">
    <button
      v-for="option in options"
      :key="option"
      type="button"
      :aria-pressed="option === value"
      @click="$emit('choose', option)"
    >
      {{ option }}
    </button>
  </div>
</template>
