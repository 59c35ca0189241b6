<script setup lang="ts">
import IconButton from './IconButton.vue';
import { useNotices } from '../stores/notices.ts';

const notices = useNotices();
</script>

<template>
  <div class="stack" aria-live="polite">
    <div v-for="n in notices.notices" :key="n.id" class="notice" :class="{ calm: n.tone === 'calm' }" role="alert">
      <span>{{ n.text }}</span>
      <button
        v-if="n.action"
        class="use-button"
        type="button"
        @click="
          n.action.run();
          notices.dismiss(n.id);
        "
      >
        {{ n.action.label }}
      </button>
      <IconButton icon="x" label="Close" @click="notices.dismiss(n.id)" />
    </div>
  </div>
</template>

<style scoped>
.stack {
  position: fixed;
  left: calc(var(--rail-width) + 14px);
  bottom: 14px;
  z-index: 2000;
  display: grid;
  gap: 8px;
  max-width: 620px;
}
.notice {
  display: flex;
  align-items: center;
  gap: 10px;
  box-shadow: 0 2px 10px var(--shadow);
}
</style>
