<script setup lang="ts">
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import type { Project } from '../../../core/base/schemas/types.ts';
import { call, sendFile } from '../api/client.ts';
import FilePick from '../components/FilePick.vue';
import NameDialog from '../components/NameDialog.vue';
import ItemList, { type Item } from '../library/ItemList.vue';
import { useNotices } from '../stores/notices.ts';
import { byteWords } from '../stores/transfer-rate.ts';

const notices = useNotices();
const router = useRouter();
const projects = ref<Project[] | null>(null);
const naming = ref(false);
const items = computed<Item[]>(() =>
  (projects.value ?? []).map((p) => ({
    id: p.id,
    name: p.name,
    to: `/projects/${p.id}`,
    createdAt: p.createdAt,
    archived: p.archived,
    picture: p.picture,
    about: `${p.shots} ${p.shots === 1 ? 'shot' : 'shots'}`,
  })),
);
const load = () => notices.guard(async () => void (projects.value = await call('GET', '/projects', 'projects')));
onMounted(load);

const create = (name: string) =>
  notices.guard(async () => {
    const project = await call('POST', '/projects', 'project', { name });
    await router.push(`/projects/${project.id}`);
  });
const change = (work: () => Promise<unknown>) =>
  notices.guard(async () => {
    await work();
    await load();
  });
const coming = ref<string | null>(null);
/** A project that was saved as one file, as a new one. What of the file is damaged is reported by name. */
const bring = (file: File) =>
  notices.guard(async () => {
    coming.value = `${byteWords(file.size)} coming in`;
    try {
      const { projectId, damaged, missing } = await sendFile('/archives', 'archiveReply', file);
      if (damaged.length > 0) notices.add(`Not whole in the file, and left out: ${damaged.join(', ')}.`);
      if (missing.length > 0) notices.add(`Not in the file, to be brought in again: ${missing.join(', ')}.`);
      await router.push(`/projects/${projectId}`);
    } finally {
      coming.value = null;
    }
  });
const remove = (item: Item) =>
  change(async () => {
    await call('DELETE', `/projects/${item.id}`, 'projects');
    notices.add(
      `Project “${item.name}” deleted.`,
      'calm',
      { label: 'Bring it back', run: () => void change(() => call('POST', `/projects/${item.id}/restore`, 'project')) },
      20,
    );
  });
</script>

<template>
  <div class="top-bar">
    <RouterLink class="word" to="/">Yarlop</RouterLink><RouterLink class="ms-auto" to="/access">Access</RouterLink
    ><RouterLink to="/http-api">HTTP API</RouterLink>
  </div>
  <main class="page">
    <div class="d-flex align-items-center justify-content-between">
      <h1>Projects</h1>
      <span class="d-flex gap-2">
        <FilePick
          label="A saved project"
          accept=".zip"
          :disabled="coming !== null"
          title="One file with a whole project in it, as “Save all” on a project’s page writes it"
          @pick="bring"
          ><i class="bi bi-box-arrow-in-down" /> {{ coming ?? 'A saved project …' }}</FilePick
        >
        <BButton variant="primary" @click="naming = true">New project</BButton>
      </span>
    </div>
    <p class="quiet">A project holds shots and the pictures that go onto their screens.</p>
    <p v-if="projects?.length === 0">There is no project yet. Make one, then bring a clip into its first shot.</p>
    <ItemList
      v-else
      thing="project"
      :items="items"
      @remove="remove"
      @rename="(project, name) => change(() => call('PATCH', `/projects/${project}`, 'project', { name }))"
      @archive="(item, archived) => change(() => call('PUT', `/projects/${item.id}/archived`, 'project', { archived }))"
    />
    <NameDialog :shown="naming" title="New project" action="Create" @close="naming = false" @done="create" />
  </main>
</template>
