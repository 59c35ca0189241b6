<script setup lang="ts" generic="T extends string">
/** The pages of a step's column. */
defineProps<{
  label: string;
  pages: readonly { readonly name: T; readonly title: string; readonly icon: string }[];
  value: T;
}>();
defineEmits<{ choose: [page: T] }>();
</script>

<template>
  <nav class="pages" :aria-label="label">
    <button
      v-for="page in pages"
      :key="page.name"
      type="button"
      :aria-pressed="value === page.name"
      @click="$emit('choose', page.name)"
    >
      <i class="bi" :class="page.icon" /> {{ page.title }}
    </button>
  </nav>
</template>

<style scoped>
.pages {
  display: flex;
  border-bottom: 1px solid var(--line);
  position: sticky;
  top: 0;
  background: var(--paper);
  z-index: 2;
}
.pages button {
  flex: 1;
  border: 0;
  background: none;
  color: var(--ink-soft);
  padding: 9px 2px 7px;
  font-size: 13.5px;
  border-bottom: 3px solid transparent;
  white-space: nowrap;
}
.pages button[aria-pressed='true'] {
  color: var(--ink);
  font-weight: 660;
  border-bottom-color: var(--accent);
}
</style>
