<script setup lang="ts">
import { useLocalStorage, useTitle } from '@vueuse/core';
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { useRoute } from 'vue-router';
import type { ReviewNote, ReviewVersion, Shot } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { versionFrameUrl } from '../api/urls.ts';
import ReviewLinks from '../review/ReviewLinks.vue';
import VersionStage from '../review/VersionStage.vue';
import { useAccess } from '../stores/access.ts';
import { useJobs } from '../stores/jobs.ts';
import { useNotices } from '../stores/notices.ts';

/** Versions of a shot beside one another, what reviewers noted, and the links that they look by. */
const id = Number(useRoute().params.id);
const notices = useNotices();
const access = useAccess();
const jobs = useJobs();
const shot = ref<Shot | null>(null);
const project = ref('');
const versions = ref<ReviewVersion[] | null>(null);
const notes = ref<ReviewNote[]>([]);
const own = useLocalStorage('yarlop.author', '');
const author = computed(() => access.name ?? own.value);
const links = ref(false);
const facts = computed(() => shot.value?.plate?.facts ?? null);
const loadVersions = async () => (versions.value = await call('GET', `/shots/${id}/versions`, 'reviewVersions'));
const loadNotes = async () => (notes.value = await call('GET', `/shots/${id}/notes`, 'notes'));
onMounted(() =>
  notices.guard(async () => {
    shot.value = (await call('GET', `/shots/${id}`, 'shotDetail')).shot;
    await Promise.all([
      loadVersions(),
      loadNotes(),
      call('GET', `/projects/${shot.value.projectId}`, 'project').then((one) => (project.value = one.name)),
    ]);
  }),
);
useTitle(computed(() => (shot.value ? `Versions of ${shot.value.name} · Yarlop` : 'Yarlop')));
onBeforeUnmount(
  jobs.onJob(
    (job) => job.shotId === id && job.kind === 'render' && job.state === 'done' && void notices.guard(loadVersions),
  ),
);
// Notes come in while one looks.
const again = setInterval(() => void loadNotes().catch(() => {}), 5000);
onBeforeUnmount(() => clearInterval(again));
const take = (work: () => Promise<ReviewNote[]>) => notices.guard(async () => (notes.value = await work()));
</script>

<template>
  <div class="bench">
    <div class="top-bar">
      <RouterLink class="word" to="/">Yarlop</RouterLink
      ><span v-if="shot" class="trail"
        ><RouterLink :to="`/projects/${shot.projectId}`">{{ project }}</RouterLink> /
        <RouterLink :to="`/shots/${id}/send`">{{ shot.name }}</RouterLink> / <b>Versions</b></span
      ><span class="spacer" /><button
        v-if="versions?.length"
        class="btn btn-outline-secondary"
        type="button"
        :aria-expanded="links"
        @click="links = !links"
      >
        <i class="bi bi-link-45deg" /> Links for reviewers
      </button>
    </div>
    <ReviewLinks v-if="links && versions" :shot-id="id" :versions="versions" />
    <VersionStage
      v-if="versions?.length && facts"
      :versions="versions"
      :notes="notes"
      :first="facts.firstFrameNumber"
      :rate="facts.rate[0] / facts.rate[1]"
      :width="facts.width"
      :height="facts.height"
      :address="versionFrameUrl"
      :author="author"
      settles
      @pin="(note) => take(() => call('POST', `/shots/${id}/notes`, 'notes', { ...note, author }))"
      @answer="(note, words) => take(() => call('POST', `/notes/${note}/answers`, 'notes', { author, words }))"
      @settle="(note, settled) => take(() => call('PUT', `/notes/${note}/settled`, 'notes', { settled }))"
      ><template #who
        ><label v-if="access.name === null" class="who"
          >You are<BFormInput v-model="own" maxlength="80" aria-label="Your name" /></label></template
    ></VersionStage>
    <main v-else-if="versions" class="page">
      <h1>Versions</h1>
      <p>
        There is none yet. Each film or set of pictures that is written on
        <RouterLink :to="`/shots/${id}/send`">Send</RouterLink> is one; then two of them can be looked at beside one
        another, and shown to reviewers by a link.
      </p>
    </main>
  </div>
</template>

<style scoped>
.bench {
  height: 100%;
  display: flex;
  flex-direction: column;
  overflow: hidden;
}
.who {
  display: flex;
  align-items: center;
  gap: 8px;
  margin-bottom: 10px;
  white-space: nowrap;
}
</style>
