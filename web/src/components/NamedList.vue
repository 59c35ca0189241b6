<script setup lang="ts">
import { ref } from 'vue';
import NameDialog from './NameDialog.vue';

/** A list of named things that can be opened, renamed and deleted. */
export interface NamedItem {
  id: number;
  name: string;
  to: string;
  about: string;
  picture?: string | undefined;
}
defineProps<{ items: readonly NamedItem[]; thing: string }>();
const emit = defineEmits<{ rename: [id: number, name: string]; remove: [item: NamedItem] }>();
const renaming = ref<NamedItem | null>(null);
const removing = ref<NamedItem | null>(null);
</script>

<template>
  <ul class="list">
    <li v-for="item in items" :key="item.id">
      <RouterLink :to="item.to" class="entry">
        <img v-if="item.picture" :src="item.picture" alt="" /><span v-else class="blank" />
        <span><b>{{ item.name }}</b><span class="quiet about">{{ item.about }}</span></span>
      </RouterLink>
      <button class="icon-button" type="button" :aria-label="`Rename ${item.name}`" title="Rename" @click="renaming = item"><i class="bi bi-pencil" /></button>
      <button class="icon-button" type="button" :aria-label="`Delete ${item.name}`" title="Delete" @click="removing = item"><i class="bi bi-trash" /></button>
    </li>
  </ul>
  <NameDialog :shown="renaming !== null" :title="`Rename ${thing}`" action="Rename" :value="renaming?.name ?? ''" @close="renaming = null" @done="emit('rename', renaming!.id, $event)" />
  <BModal :model-value="removing !== null" :title="`Delete ${thing}`" no-footer @hide="removing = null">
    <p>Delete “{{ removing?.name }}”? It can be brought back for a while.</p>
    <div class="d-flex justify-content-end gap-2">
      <BButton variant="outline-secondary" @click="removing = null">Keep it</BButton>
      <BButton variant="danger" @click="emit('remove', removing!); removing = null">Delete</BButton>
    </div>
  </BModal>
</template>

<style scoped>
.list { list-style: none; padding: 0; margin: 18px 0; display: grid; gap: 8px; }
li { display: flex; align-items: center; gap: 4px; background: var(--white); border: 1px solid var(--line); border-radius: 4px; padding-right: 8px; }
li:hover { border-color: var(--ink-soft); }
.entry { flex: 1; display: flex; align-items: center; gap: 14px; color: var(--ink); text-decoration: none; padding: 8px; }
img, .blank { width: 112px; height: 63px; object-fit: cover; background: var(--paper-sunk); border-radius: 2px; }
.about { display: block; margin-top: 2px; }
</style>
