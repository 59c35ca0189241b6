<script setup lang="ts">
import { computed, onMounted, ref } from 'vue';
import type { Media, Storage } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { frameUrl } from '../api/urls.ts';
import IconButton from '../components/IconButton.vue';
import { useNotices } from '../stores/notices.ts';
import { byteWords } from '../stores/transfer-rate.ts';

/** A project's plates and content: where each is used, what it takes on the disk. */
const props = defineProps<{ projectId: number }>();
const notices = useNotices();
const media = ref<Media[]>([]);
const storage = ref<Storage | null>(null);
const load = () =>
  notices.guard(async () => {
    media.value = await call('GET', `/projects/${props.projectId}/media`, 'mediaList');
    storage.value = await call('GET', `/projects/${props.projectId}/storage`, 'storage');
  });
onMounted(load);
const bytesOf = computed(() => new Map(storage.value?.media.map((m) => [m.mediaId, m.frameBytes]) ?? []));
const total = computed(() =>
  (storage.value?.media ?? []).reduce((sum, m) => sum + m.fileBytes + m.frameBytes, storage.value?.renderBytes ?? 0),
);
const used = (m: Media) =>
  m.usedBy.length === 0 ? 'not used' : m.usedBy.map((u) => `${u.as} of ${u.shot}`).join(', ');

const clear = (m: Media) =>
  notices.guard(async () => {
    await call('POST', `/media/${m.id}/clear`, 'media');
    await load();
  });
const remove = (m: Media) =>
  notices.guard(async () => {
    await call('DELETE', `/media/${m.id}`, 'mediaList');
    notices.add(
      `${m.name} deleted.`,
      'calm',
      {
        label: 'Bring it back',
        run: () =>
          void notices.guard(async () => {
            await call('POST', `/media/${m.id}/restore`, 'media');
            await load();
          }),
      },
      20,
    );
    await load();
  });
const sweep = () =>
  notices.guard(async () => {
    const found = await call('POST', '/storage/sweep', 'sweepReply');
    const lost = found.missing.length > 0 ? ` Missing: ${found.missing.join(', ')}.` : ' No file is missing.';
    notices.add(
      `${found.orphans} leftovers removed (${byteWords(found.orphanBytes)}), ${found.remade} made again.${lost}`,
      found.missing.length > 0 ? 'alarm' : 'calm',
    );
    await load();
  });
</script>

<template>
  <section v-if="media.length > 0" data-shelf>
    <header>
      <h2>Plates and content</h2>
      <span class="quiet"
        >{{ byteWords(total) }} on the disk, {{ byteWords(storage?.renderBytes ?? 0) }} of it rendered;
        {{ byteWords(storage?.freeBytes ?? 0) }} free</span
      ><button class="use-button" type="button" @click="sweep">look for leftovers</button>
    </header>
    <ul>
      <li v-for="m in media" :key="m.id" :data-medium="m.name">
        <img v-if="m.state === 'ready'" :src="frameUrl(m, 0, 'jpg')" alt="" loading="lazy" /><span
          v-else
          class="blank"
        />
        <span class="words"><b>{{ m.name }}</b><span class="quiet">{{ used(m) }}</span></span>
        <span class="quiet sizes"
          >{{ byteWords(m.bytes) }} file<br />{{
            m.state === 'cleared' ? 'frames put away' : `${byteWords(bytesOf.get(m.id) ?? 0)} frames`
          }}</span
        >
        <button v-if="m.state === 'ready' && m.kind !== 'still'" class="use-button" type="button" @click="clear(m)">
          put frames away
        </button>
        <IconButton icon="trash" :label="`Delete ${m.name}`" title="Delete; can be brought back" @click="remove(m)" />
      </li>
    </ul>
  </section>
</template>

<style scoped>
header {
  display: flex;
  align-items: baseline;
  gap: 14px;
  border-top: 1px solid var(--line);
  padding-top: 16px;
}
h2 {
  font-size: 16px;
  font-weight: 680;
  margin: 0;
}
ul {
  list-style: none;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(440px, 1fr));
  gap: 7px;
  margin: 10px 0;
}
li {
  display: flex;
  align-items: center;
  gap: 10px;
  background: var(--white);
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 5px 8px 5px 5px;
}
img,
.blank {
  width: 64px;
  height: 40px;
  object-fit: cover;
  background: var(--paper-sunk);
  flex: none;
}
.words {
  flex: 1;
  min-width: 0;
  display: grid;
}
.words > * {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.sizes {
  text-align: right;
  line-height: 1.3;
}
</style>
