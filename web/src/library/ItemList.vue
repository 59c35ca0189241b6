<script setup lang="ts">
import { computed, ref } from 'vue';
import IconButton from '../components/IconButton.vue';
import NameDialog from '../components/NameDialog.vue';
import { findItems, SORTS, type Listed, type Sort } from './sort-items.ts';
import type { Reading } from '../rail/readings.ts';

/** A list of named things with pictures: searched, sorted, renamed, duplicated, archived, deleted. */
export interface Item extends Listed {
  id: number;
  to: string;
  about: string;
  picture: string | null;
  /** How far each step is. */
  steps?: { title: string; reading: Reading }[];
}
const props = defineProps<{ items: readonly Item[]; thing: string; canDuplicate?: boolean }>();
const emit = defineEmits<{
  rename: [id: number, name: string];
  remove: [item: Item];
  archive: [item: Item, archived: boolean];
  duplicate: [item: Item, name: string];
}>();
const search = ref('');
const sort = ref<Sort>('name');
const archived = ref(false);
const renaming = ref<Item | null>(null);
const copying = ref<Item | null>(null);
const shown = computed(() => findItems(props.items, search.value, sort.value, archived.value));
const put = computed(() => props.items.filter((i) => i.archived).length);
</script>

<template>
  <div class="bar">
    <BFormInput v-model="search" type="search" :placeholder="`Find a ${thing}`" :aria-label="`Find a ${thing}`" />
    <div class="choice" role="group" aria-label="Sort by">
      <button v-for="s in SORTS" :key="s" type="button" :aria-pressed="sort === s" @click="sort = s">{{ s }}</button>
    </div>
    <button
      v-if="put > 0 || archived"
      class="use-button"
      type="button"
      :aria-pressed="archived"
      @click="archived = !archived"
    >
      {{ archived ? 'back' : `${put} archived` }}
    </button>
    <span class="quiet">{{ shown.length }} of {{ archived ? put : items.length - put }}</span>
  </div>
  <ul class="list" :data-list="thing">
    <li v-for="item in shown" :key="item.id" :data-item="item.name">
      <RouterLink :to="item.to" class="entry">
        <img v-if="item.picture" :src="item.picture" alt="" loading="lazy" /><span v-else class="blank"
          ><i class="bi bi-film"
        /></span>
        <span class="words"><b>{{ item.name }}</b><span class="quiet about">{{ item.about }}</span></span>
        <span v-if="item.steps" class="steps">
          <span
            v-for="s in item.steps"
            :key="s.title"
            class="step"
            :class="s.reading.state"
            :title="`${s.title}: ${s.reading.lines.join(' ')}`"
            ><span class="title">{{ s.title }}</span><span>{{ s.reading.lines[0] }}</span
            ><span>{{ s.reading.lines[1] }}</span></span
          >
        </span>
      </RouterLink>
      <IconButton icon="pencil" :label="`Rename ${item.name}`" title="Rename" @click="renaming = item" />
      <IconButton
        v-if="canDuplicate"
        icon="copy"
        :label="`Duplicate ${item.name}`"
        title="Duplicate with its work"
        @click="copying = item"
      />
      <IconButton
        :icon="item.archived ? 'box-arrow-up' : 'archive'"
        :label="`${item.archived ? 'Bring back' : 'Archive'} ${item.name}`"
        :title="item.archived ? 'Bring back' : 'Archive'"
        @click="emit('archive', item, !item.archived)"
      />
      <IconButton
        icon="trash"
        :label="`Delete ${item.name}`"
        title="Delete; can be brought back"
        @click="emit('remove', item)"
      />
    </li>
  </ul>
  <p v-if="items.length > 0 && shown.length === 0" class="quiet">
    {{ archived ? 'Nothing is archived.' : 'No name fits.' }}
  </p>
  <NameDialog
    :shown="renaming !== null"
    :title="`Rename ${thing}`"
    action="Rename"
    :value="renaming?.name ?? ''"
    @close="renaming = null"
    @done="emit('rename', renaming!.id, $event)"
  />
  <NameDialog
    :shown="copying !== null"
    :title="`Duplicate ${thing}`"
    action="Duplicate"
    :value="copying ? `${copying.name} 2` : ''"
    @close="copying = null"
    @done="emit('duplicate', copying!, $event)"
  />
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 12px;
  margin: 16px 0 10px;
}
.bar input {
  width: 230px;
}
.list {
  list-style: none;
  padding: 0;
  margin: 0 0 18px;
  display: grid;
  gap: 7px;
}
li {
  display: flex;
  align-items: center;
  gap: 2px;
  background: var(--white);
  border: 1px solid var(--line);
  border-radius: 4px;
  padding-right: 8px;
  content-visibility: auto;
  contain-intrinsic-size: auto 76px;
}
li:hover {
  border-color: var(--ink-soft);
}
.entry {
  flex: 1;
  min-width: 0;
  display: flex;
  align-items: center;
  gap: 14px;
  color: var(--ink);
  text-decoration: none;
  padding: 6px;
}
img,
.blank {
  width: 108px;
  height: 62px;
  object-fit: cover;
  background: var(--paper-sunk);
  border-radius: 2px;
  flex: none;
}
.blank {
  display: grid;
  place-items: center;
  color: var(--ink-soft);
  font-size: 20px;
}
.words {
  flex: 1;
  min-width: 150px;
}
.words b {
  display: block;
  overflow-wrap: anywhere;
}
.about {
  display: block;
  margin-top: 2px;
}
.steps {
  display: grid;
  grid-template-columns: repeat(7, 92px);
}
.step {
  display: grid;
  padding: 1px 6px 1px 8px;
  border-left: 2px solid var(--line);
  font-size: 13px;
  line-height: 1.3;
  color: var(--ink-soft);
}
.step span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.step .title {
  font-weight: 640;
  color: var(--ink);
}
.step.done {
  border-left-color: var(--ink);
}
.step.part {
  border-left-color: var(--ink-soft);
}
.step.look {
  border-left-color: var(--alarm);
}
.step.look .title::after {
  content: ' !';
  color: var(--alarm);
}
.step.empty .title {
  color: var(--ink-soft);
  font-weight: 400;
}
</style>
