<script setup lang="ts">
import { computed, onMounted, ref } from 'vue';
import type { ServiceDescription } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { DESCRIPTION_URL } from '../api/urls.ts';
import { useNotices } from '../stores/notices.ts';

/** What the service offers to programs, from its own description. */
const notices = useNotices();
const description = ref<ServiceDescription | null>(null);
const wanted = ref('');
onMounted(
  () =>
    void notices.guard(async () => {
      description.value = await call('GET', '/openapi.json', 'serviceDescription');
    }),
);
const TITLES: Readonly<Record<string, string>> = {
  projects: 'Projects',
  archives: 'Projects',
  shots: 'Shots',
  media: 'Plates and content',
  uploads: 'Plates and content',
  'server-files': 'Plates and content',
  jobs: 'Jobs and renders',
  finished: 'Jobs and renders',
  workers: 'Jobs and renders',
  events: 'Jobs and renders',
  looks: 'Looks',
  variants: 'Variants and slots',
  slots: 'Variants and slots',
  notes: 'Reviews',
  reviews: 'Reviews',
  guest: 'By a link',
  access: 'Access',
};
const groups = computed(() => {
  const found = new Map<
    string,
    { method: string; path: string; summary: string; takes: string; gives: string; query: string[] }[]
  >();
  for (const [path, operations] of Object.entries(description.value?.paths ?? {})) {
    for (const [method, { summary, requestBody, responses, parameters = [] }] of Object.entries(operations)) {
      const text = wanted.value.toLowerCase();
      if (text && !`${method} ${path} ${summary}`.toLowerCase().includes(text)) continue;
      const title = TITLES[path.split('/')[1]!] ?? 'The service';
      const ok = (responses['200'] as { content?: object } | undefined)?.content ?? {};
      const row = {
        method,
        path,
        summary,
        takes: Object.keys(requestBody?.content ?? {})
          .map(short)
          .join(', '),
        gives: Object.keys(ok).map(short).join(', '),
        query: parameters.filter((p) => p.in === 'query').map((p) => p.name),
      };
      found.set(title, [...(found.get(title) ?? []), row]);
    }
  }
  return [...found];
});
const short = (type: string): string =>
  ({
    'application/json': 'JSON',
    'application/zip': 'zip',
    'application/octet-stream': 'file',
    'text/event-stream': 'events',
  })[type] ?? type.split('/')[1]!.replace('x-', '').toUpperCase();
</script>

<template>
  <div class="top-bar">
    <RouterLink class="word" to="/">Yarlop</RouterLink
    ><span class="trail"><RouterLink to="/">Projects</RouterLink> / <b>HTTP API</b></span>
  </div>
  <main class="page wide">
    <div class="d-flex align-items-center justify-content-between">
      <h1>HTTP API</h1>
      <a class="btn btn-outline-secondary" :href="DESCRIPTION_URL" download="yarlop.openapi.json"
        ><i class="bi bi-download" /> OpenAPI 3.1</a
      >
    </div>
    <p class="quiet">
      Everything that this interface does, under <code>/api/v1</code>. What goes wrong comes as problem details with a
      sentence and a remedy. A POST with an <code>Idempotency-Key</code> is done once; a document is saved with
      <code>If-Match</code> only over the revision that it was made from.
    </p>
    <BFormInput v-model="wanted" class="find" type="search" placeholder="Find a route" aria-label="Find a route" />
    <section v-for="[title, rows] in groups" :key="title">
      <h2>{{ title }}</h2>
      <table>
        <tbody>
          <tr v-for="row in rows" :key="`${row.method} ${row.path}`" :data-route="`${row.method} ${row.path}`">
            <th scope="row">{{ row.method }}</th>
            <td>
              <code>{{ row.path }}</code><span v-if="row.query.length" class="quiet"> ?{{ row.query.join(', ') }}</span>
            </td>
            <td>{{ row.summary }}</td>
            <td class="quiet types">{{ row.takes ? `${row.takes} → ` : '' }}{{ row.gives }}</td>
          </tr>
        </tbody>
      </table>
    </section>
  </main>
</template>

<style scoped>
.find {
  width: 230px;
  border: 1px solid var(--line);
  border-radius: 3px;
  background: var(--white);
  color: var(--ink);
  padding: 3px 8px;
}
h2 {
  font-size: 16px;
  margin: 20px 0 6px;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 13.5px;
}
tr {
  border-top: 1px solid var(--line);
}
th,
td {
  padding: 4px 10px 4px 0;
  vertical-align: top;
  text-align: left;
}
th {
  width: 58px;
  font-weight: 660;
  color: var(--ink-soft);
}
td:nth-child(2) {
  width: 400px;
}
code {
  color: var(--ink);
  font-size: 13px;
}
.types {
  width: 130px;
  text-align: right;
}
</style>
