<script setup lang="ts">
import { useTitle } from '@vueuse/core';
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { useRoute } from 'vue-router';
import type { DeliveryFormat, Media, Shot, Variant } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { sheetUrl } from '../api/urls.ts';
import AppRange from '../components/AppRange.vue';
import AppSelect from '../components/AppSelect.vue';
import FilePick from '../components/FilePick.vue';
import { choicesOf } from '../components/choice.ts';
import { useJobs } from '../stores/jobs.ts';
import { useNotices } from '../stores/notices.ts';
import SlotList from '../variants/SlotList.vue';
import VariantRow from '../variants/VariantRow.vue';

/** One track, many contents: a table of them, rendered in one go; and slots that somebody else fills by a link. */
const FORMATS: Readonly<Partial<Record<DeliveryFormat, string>>> = {
  h264: 'film, H.264',
  vp9: 'film, VP9',
  ffv1: 'film without loss, FFV1',
  png: 'pictures, PNG',
  exr: 'pictures, EXR half',
};
const id = Number(useRoute().params.id);
const notices = useNotices();
const jobs = useJobs();
const shot = ref<Shot | null>(null);
const project = ref('');
const media = ref<Media[]>([]);
const rows = ref<Variant[]>([]);
const problems = ref<string[]>([]);
const name = ref('');
const format = ref<DeliveryFormat>('h264');
const sheetFrame = ref(0);
const range = ref<[number, number] | null>(null);
const frames = computed(() => shot.value?.plate?.facts?.frames ?? 0);
const first = computed(() => shot.value?.plate?.facts?.firstFrameNumber ?? 0);
const full = computed(() => rows.value.filter((row) => row.mediaId !== null));
const span = computed<[number, number]>(() => range.value ?? [0, Math.max(0, frames.value - 1)]);
/** Changes whenever a picture of the sheet may have. */
const stamp = computed(() =>
  rows.value.map((row) => `${row.id}.${row.mediaId}.${row.render?.jobId ?? 0}.${row.render?.done ?? 0}`).join('-'),
);
/** One after the other: an answer that is overtaken by a newer one would put back what was changed since. */
let turn: Promise<unknown> = Promise.resolve();
const inTurn = <T>(work: () => Promise<T>): Promise<T> => {
  const mine = turn.then(work);
  turn = mine.catch(() => undefined);
  return mine;
};
const loadRows = () => inTurn(async () => (rows.value = await call('GET', `/shots/${id}/variants`, 'variants')));
onMounted(() =>
  notices.guard(async () => {
    const detail = await call('GET', `/shots/${id}`, 'shotDetail');
    shot.value = detail.shot;
    range.value = detail.document.range ?? null;
    sheetFrame.value = detail.document.referenceFrame;
    [media.value] = await Promise.all([
      call('GET', `/projects/${detail.shot.projectId}/media`, 'mediaList'),
      loadRows(),
      call('GET', `/projects/${detail.shot.projectId}`, 'project').then((one) => (project.value = one.name)),
    ]);
  }),
);
useTitle(computed(() => (shot.value ? `Contents of ${shot.value.name} · Yarlop` : 'Yarlop')));
onBeforeUnmount(
  jobs.onJob((job) => {
    if (job.shotId === id && job.render?.variant) void notices.guard(loadRows);
  }),
);

/** `what` is asked of the row as it is when its turn comes. */
const change = (
  { id: rowId }: Variant,
  what: (row: Variant) => Partial<Pick<Variant, 'name' | 'mediaId' | 'framing'>>,
) =>
  notices.guard(() =>
    inTurn(async () => {
      const row = rows.value.find((one) => one.id === rowId);
      if (!row) return;
      const changed = await call('PATCH', `/variants/${rowId}`, 'variant', what(row));
      rows.value = rows.value.map((one) => (one.id === rowId ? changed : one));
    }),
  );
const add = () =>
  notices.guard(() =>
    inTurn(async () => {
      rows.value = [
        ...rows.value,
        await call('POST', `/shots/${id}/variants`, 'variant', { name: name.value, mediaId: null }),
      ];
      name.value = '';
    }),
  );
const remove = (row: Variant) =>
  notices.guard(() => inTurn(async () => (rows.value = await call('DELETE', `/variants/${row.id}`, 'variants'))));
const takeTable = (file: File) =>
  notices.guard(async () => {
    const text = await file.text();
    const reply = await inTurn(() =>
      call('POST', `/shots/${id}/variants/table`, 'variantTableReply', { text }).then(
        (answer) => ((rows.value = answer.variants), answer),
      ),
    );
    problems.value = reply.problems;
    notices.add(`${reply.made} rows were added, ${reply.changed} changed.`, 'calm');
  });
const render = (only?: Variant) =>
  notices.guard(async () => {
    for (const job of await call('POST', `/shots/${id}/variants/render`, 'jobs', {
      ...(only ? { variants: [only.id] } : {}),
      request: { frames: span.value, output: format.value },
    }))
      jobs.take(job);
    await loadRows();
  });
</script>

<template>
  <div class="top-bar">
    <RouterLink class="word" to="/">Yarlop</RouterLink
    ><span v-if="shot" class="trail"
      ><RouterLink :to="`/projects/${shot.projectId}`">{{ project }}</RouterLink> /
      <RouterLink :to="`/shots/${id}/send`">{{ shot.name }}</RouterLink> / <b>Contents</b></span
    >
  </div>
  <main class="page wide">
    <div class="d-flex align-items-center justify-content-between gap-3">
      <h1>One track, many contents</h1>
      <span class="d-flex gap-2 align-items-center">
        <AppSelect label="Written as" :value="format" :options="choicesOf(FORMATS)" @choose="format = $event" />
        <BButton variant="primary" :disabled="full.length === 0" data-render-all @click="render()"
          >Render {{ full.length === 1 ? 'it' : `all ${full.length}` }}</BButton
        >
      </span>
    </div>
    <p v-if="rows.length === 0">
      Each row is the same shot with another content: a language, a campaign, a customer. Type a name, or take a CSV
      table with the columns <code>name</code> and <code>file</code>.
    </p>
    <div class="scroll">
      <table v-if="rows.length > 0">
        <thead>
          <tr>
            <th>Name</th>
            <th>Content</th>
            <th>Lies</th>
            <th>Scale, %</th>
            <th>Begins on</th>
            <th>State</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <VariantRow
            v-for="row in rows"
            :key="row.id"
            :row="row"
            :media="media"
            :first="first"
            @change="(what) => change(row, what)"
            @render="render(row)"
            @remove="remove(row)"
          />
        </tbody>
      </table>
    </div>
    <ul v-if="problems.length > 0" class="notice">
      <li v-for="problem in problems" :key="problem">{{ problem }}</li>
    </ul>
    <form class="d-flex gap-2 mt-2" @submit.prevent="add">
      <BFormInput
        v-model="name"
        class="name"
        placeholder="Name of a new row"
        aria-label="Name of a new row"
        required
        maxlength="80"
      />
      <BButton type="submit" variant="outline-secondary">Add a row</BButton>
      <FilePick label="CSV table" accept=".csv,.tsv,.txt,text/csv" @pick="takeTable"
        ><i class="bi bi-table" /> From a CSV table</FilePick
      >
    </form>
    <section v-if="rows.length > 0" class="sheet">
      <h2>All on one sheet</h2>
      <label class="d-flex gap-2 align-items-center quiet"
        >Frame <AppRange v-model="sheetFrame" label="Frame of the sheet" :min="0" :max="Math.max(0, frames - 1)" /><span
          class="figure"
          >{{ sheetFrame + first }}</span
        ><a
          class="btn btn-outline-secondary"
          :href="sheetUrl(id, sheetFrame, stamp)"
          :download="`${shot?.name ?? 'shot'}-contents.jpg`"
          ><i class="bi bi-download" /> Sheet</a
        ></label
      >
      <img v-if="frames > 0" :src="sheetUrl(id, sheetFrame, stamp)" alt="All contents on one sheet" data-sheet />
    </section>
    <SlotList :shot-id="id" @changed="notices.guard(loadRows)" />
  </main>
</template>

<style scoped>
h2 {
  font-size: 16px;
  margin: 26px 0 6px;
}
.scroll {
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 13.5px;
}
thead th {
  font-weight: 560;
  color: var(--ink-soft);
  font-size: 13px;
  padding-bottom: 4px;
  text-align: left;
}
.name {
  max-width: 240px;
}
.form-select {
  width: auto;
}
.sheet img {
  width: 100%;
  max-width: 1240px;
  border: 1px solid var(--line);
}
.sheet label {
  margin-bottom: 8px;
}
.sheet .form-range {
  width: 260px;
}
</style>
