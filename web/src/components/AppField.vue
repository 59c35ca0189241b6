<script setup lang="ts" generic="T extends string | number">
/** A line to type into, under its name; `spoken` where the name alone would not tell it from others. Other attributes are the input's. */
defineOptions({ inheritAttrs: false });
defineProps<{ label: string; spoken?: string; type?: 'text' | 'password' | 'number' }>();
const value = defineModel<T>({ required: true });
</script>

<template>
  <label class="app-field"
    >{{ label }}
    <BFormInput v-if="type === 'number'" v-model.number="value" v-bind="$attrs" type="number" :aria-label="spoken" />
    <BFormInput v-else v-model="value" v-bind="$attrs" :type="type ?? 'text'" :aria-label="spoken" />
  </label>
</template>
