<script setup lang="ts">
import { ref } from 'vue';
import type { ReviewNote } from '../../../core/base/schemas/types.ts';

/** Notes with their answers, in the order of their frames. */
defineProps<{ notes: readonly ReviewNote[]; first: number; frame: number; author: string; settles: boolean }>();
const emit = defineEmits<{
  go: [note: ReviewNote];
  answer: [note: number, words: string];
  settle: [note: number, settled: boolean];
}>();
const answering = ref<number | null>(null);
const words = ref('');
function answer(note: ReviewNote): void {
  if (!words.value.trim()) return;
  emit('answer', note.id, words.value.trim());
  answering.value = null;
  words.value = '';
}
</script>

<template>
  <ol v-if="notes.length > 0" class="list">
    <li
      v-for="(note, i) in notes"
      :key="note.id"
      :class="{ here: note.frame === frame, settled: note.settled }"
      :data-note="note.id"
    >
      <button class="where" type="button" :title="`Go to frame ${note.frame + first}`" @click="$emit('go', note)">
        <b>{{ i + 1 }}</b><span class="figure">{{ note.frame + first }}</span
        ><span class="quiet">v{{ String(note.version).padStart(3, '0') }} · {{ note.author }}</span
        ><span v-if="note.settled" class="quiet ms-auto"><i class="bi bi-check2" /> settled</span>
      </button>
      <p>{{ note.words }}</p>
      <p v-for="(one, k) in note.answers" :key="k" class="answer"><b>{{ one.author }}</b> {{ one.words }}</p>
      <form v-if="answering === note.id" class="d-grid gap-1" @submit.prevent="answer(note)">
        <textarea v-model="words" rows="2" class="form-control" aria-label="Answer" maxlength="2000" /><BButton
          type="submit"
          size="sm"
          variant="outline-secondary"
          :disabled="!words.trim() || !author.trim()"
          >Send the answer</BButton
        >
      </form>
      <span v-else class="d-flex gap-2"
        ><button class="use-button" type="button" @click="answering = note.id">answer</button
        ><button v-if="settles" class="use-button" type="button" @click="$emit('settle', note.id, !note.settled)">
          {{ note.settled ? 'open again' : 'settle' }}
        </button></span
      >
    </li>
  </ol>
  <p v-else class="quiet">There are no notes yet.</p>
</template>

<style scoped>
.list {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
}
li {
  padding: 9px 0 10px 10px;
  border-top: 1px solid var(--line);
  border-left: 3px solid transparent;
}
li.here {
  border-left-color: var(--accent);
}
.where {
  display: flex;
  align-items: baseline;
  gap: 8px;
  width: 100%;
  border: 0;
  background: none;
  color: var(--ink);
  padding: 0;
  text-align: left;
}
p {
  margin: 3px 0 5px;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
.settled p {
  color: var(--ink-soft);
}
.answer {
  border-left: 2px solid var(--line);
  padding-left: 8px;
  font-size: 13px;
}
</style>
