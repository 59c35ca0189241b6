<script setup lang="ts">
import { computed, onMounted, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { decimalRate } from '../../../core/base/time/frame-rate.ts';
import type { Project, ShotCard } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { archiveUrl } from '../api/urls.ts';
import NameDialog from '../components/NameDialog.vue';
import ItemList, { type Item } from '../library/ItemList.vue';
import MediaShelf from '../library/MediaShelf.vue';
import { readings } from '../rail/readings.ts';
import { STEPS } from '../rail/steps.ts';
import { useNotices } from '../stores/notices.ts';

const notices = useNotices();
const router = useRouter();
const id = Number(useRoute().params.id);
const project = ref<Project | null>(null);
const cards = ref<ShotCard[] | null>(null);
const naming = ref(false);
const withPlates = ref(true);
const withRenders = ref(false);
const items = computed<Item[]>(() =>
  (cards.value ?? []).map(({ shot, document, track, seatOff, contentName, render, changedAt, picture }) => {
    const facts = shot.plate?.facts;
    const all = readings({ shot, document, track, seatOff, contentName, render });
    return {
      id: shot.id,
      name: shot.name,
      to: `/shots/${shot.id}/plate`,
      createdAt: shot.createdAt,
      changedAt,
      archived: shot.archived,
      picture,
      about: facts
        ? `${facts.width}×${facts.height}, ${facts.frames} f at ${decimalRate(facts.rate)}`
        : shot.plate
          ? 'plate is coming in'
          : 'no plate yet',
      steps: STEPS.map((step) => ({ title: step.title, reading: all[step.name] })),
    };
  }),
);
const load = () =>
  notices.guard(async () => {
    [project.value, cards.value] = await Promise.all([
      call('GET', `/projects/${id}`, 'project'),
      call('GET', `/projects/${id}/cards`, 'shotCards'),
    ]);
  });
onMounted(load);

const create = (name: string) =>
  notices.guard(async () => {
    const shot = await call('POST', `/projects/${id}/shots`, 'shot', { name });
    await router.push(`/shots/${shot.id}/plate`);
  });
const change = (work: () => Promise<unknown>) =>
  notices.guard(async () => {
    await work();
    await load();
  });
const remove = (item: Item) =>
  change(async () => {
    await call('DELETE', `/shots/${item.id}`, 'shots');
    notices.add(
      `Shot “${item.name}” deleted.`,
      'calm',
      { label: 'Bring it back', run: () => void change(() => call('POST', `/shots/${item.id}/restore`, 'shot')) },
      20,
    );
  });
</script>

<template>
  <div class="top-bar">
    <RouterLink class="word" to="/">Yarlop</RouterLink
    ><span class="trail"><RouterLink to="/">Projects</RouterLink> / <b>{{ project?.name }}</b></span>
  </div>
  <main class="page wide">
    <div class="d-flex align-items-center justify-content-between">
      <h1>{{ project?.name }}</h1>
      <span class="d-flex gap-2 align-items-center">
        <BFormCheckbox v-model="withPlates">with plates</BFormCheckbox>
        <BFormCheckbox v-model="withRenders">with finished frames</BFormCheckbox>
        <a
          class="btn btn-outline-secondary"
          :href="archiveUrl(id, withPlates, withRenders)"
          download
          data-save-all
          title="One file with shots, tracks, looks, content and notes, to be brought in elsewhere"
          ><i class="bi bi-download" /> Save all</a
        >
        <BButton variant="primary" @click="naming = true">New shot</BButton>
      </span>
    </div>
    <p v-if="cards?.length === 0">There is no shot yet. Make one for each clip in which a screen is to be replaced.</p>
    <ItemList
      v-else
      thing="shot"
      :items="items"
      can-duplicate
      @remove="remove"
      @rename="(shot, name) => change(() => call('PATCH', `/shots/${shot}`, 'shot', { name }))"
      @archive="(item, archived) => change(() => call('PUT', `/shots/${item.id}/archived`, 'shot', { archived }))"
      @duplicate="(item, name) => change(() => call('POST', `/shots/${item.id}/duplicate`, 'shot', { name }))"
    />
    <MediaShelf v-if="project" :project-id="id" />
    <NameDialog :shown="naming" title="New shot" action="Create" @close="naming = false" @done="create" />
  </main>
</template>
