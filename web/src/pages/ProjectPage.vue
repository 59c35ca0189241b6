<script setup lang="ts">
import { computed, onMounted, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import type { Project, Shot } from '../../../core/schemas/types.ts';
import { call } from '../api/client.ts';
import { frameUrl } from '../api/urls.ts';
import NameDialog from '../components/NameDialog.vue';
import NamedList, { type NamedItem } from '../components/NamedList.vue';
import { decimalRate } from '../../../core/exchange/rate.ts';
import { useNotices } from '../stores/notices.ts';

const notices = useNotices();
const router = useRouter();
const id = Number(useRoute().params.id);
const project = ref<Project | null>(null);
const shots = ref<Shot[] | null>(null);
const naming = ref(false);
const items = computed<NamedItem[]>(() => (shots.value ?? []).map((shot) => {
  const facts = shot.plate?.facts;
  return {
    id: shot.id, name: shot.name, to: `/shots/${shot.id}/plate`,
    about: facts ? `${facts.width}×${facts.height}, ${facts.frames} frames at ${decimalRate(facts.rate)}` : shot.plate ? 'plate is coming in' : 'no plate yet',
    picture: facts && shot.plate ? frameUrl(shot.plate, Math.floor(facts.frames / 2), 'jpg') : undefined,
  };
}));
const load = () => notices.guard(async () => {
  project.value = await call('GET', `/projects/${id}`, 'project');
  shots.value = await call('GET', `/projects/${id}/shots`, 'shots');
});
onMounted(load);

const create = (name: string) => notices.guard(async () => {
  const shot = await call('POST', `/projects/${id}/shots`, 'shot', { name });
  await router.push(`/shots/${shot.id}/plate`);
});
const rename = (shotId: number, name: string) => notices.guard(async () => {
  await call('PATCH', `/shots/${shotId}`, 'shot', { name });
  await load();
});
const remove = (item: NamedItem) => notices.guard(async () => {
  shots.value = await call('DELETE', `/shots/${item.id}`, 'shots');
  notices.add(`Shot “${item.name}” deleted.`, 'calm', { label: 'Bring it back', run: () => void notices.guard(async () => {
    await call('POST', `/shots/${item.id}/restore`, 'shot');
    await load();
  }) }, 20);
});
</script>

<template>
  <div class="top-bar"><RouterLink class="word" to="/">Yarlop</RouterLink><span class="trail"><RouterLink to="/">Projects</RouterLink> / <b>{{ project?.name }}</b></span></div>
  <main class="page">
    <div class="d-flex align-items-center justify-content-between"><h1>{{ project?.name }}</h1><BButton variant="primary" @click="naming = true">New shot</BButton></div>
    <p v-if="shots?.length === 0">There is no shot yet. Make one for each clip in which a screen is to be replaced.</p>
    <NamedList thing="shot" :items="items" @rename="rename" @remove="remove" />
    <NameDialog :shown="naming" title="New shot" action="Create" @close="naming = false" @done="create" />
  </main>
</template>
