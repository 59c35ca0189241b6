<script setup lang="ts">
import { ref } from 'vue';

/** What is to be said at a mark on a frame; `frame` as the shot counts. */
const props = defineProps<{ frame: number; author: string }>();
const emit = defineEmits<{ pin: [words: string]; leave: [] }>();
const words = ref('');

function pin(): void {
  if (words.value.trim() && props.author.trim()) emit('pin', words.value.trim());
}
</script>

<template>
  <form class="new" @submit.prevent="pin">
    <p class="m-0">Frame <b>{{ frame }}</b>, at the mark</p>
    <BFormTextarea v-model="words" rows="3" aria-label="Note" placeholder="What is to be done here" maxlength="2000" />
    <p v-if="!author.trim()" class="quiet m-0">Say above who you are first.</p>
    <span class="d-flex gap-2"
      ><BButton type="submit" variant="primary" :disabled="!words.trim() || !author.trim()">Pin it</BButton
      ><BButton variant="outline-secondary" @click="$emit('leave')">Leave it</BButton></span
    >
  </form>
</template>

<style scoped>
.new {
  display: grid;
  gap: 8px;
  margin-bottom: 12px;
  padding: 10px;
  border: 1px solid var(--accent);
  border-radius: 4px;
  background: var(--white);
}
</style>
