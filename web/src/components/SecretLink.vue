<script setup lang="ts">
import { ref } from 'vue';
import { useNotices } from '../stores/notices.ts';

/** A link or token that is shown this once, to be copied. */
const props = defineProps<{ says: string; text: string }>();
const notices = useNotices();
const copied = ref(false);
const copy = () =>
  notices.guard(async () => {
    await navigator.clipboard.writeText(props.text);
    copied.value = true;
    setTimeout(() => (copied.value = false), 1500);
  });
</script>

<template>
  <p class="notice calm once">
    <span>{{ says }}</span
    ><BFormInput
      :model-value="text"
      readonly
      :aria-label="says"
      data-secret
      @focus="($event.target as HTMLInputElement).select()"
    /><button class="btn btn-outline-secondary" type="button" @click="copy">
      <i class="bi" :class="copied ? 'bi-check2' : 'bi-clipboard'" /> {{ copied ? 'copied' : 'Copy' }}
    </button>
  </p>
</template>

<style scoped>
.once {
  display: flex;
  align-items: center;
  gap: 10px;
  margin: 8px 0;
}
.once span {
  white-space: nowrap;
}
input {
  flex: 1;
  min-width: 80px;
  border: 1px solid var(--line);
  background: var(--paper);
  color: var(--ink);
  border-radius: 3px;
  padding: 3px 8px;
  font-size: 13px;
}
</style>
