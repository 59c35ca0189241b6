<script setup lang="ts">
/** Yes or no, with the words beside it. What is yes or no for each of a list is asked one by one. */
const on = defineModel<boolean>({ required: true });
</script>

<template>
  <BFormCheckbox v-model="on"><slot /></BFormCheckbox>
</template>
