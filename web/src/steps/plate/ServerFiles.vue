<script setup lang="ts">
import { ref } from 'vue';
import type { ServerFolder } from '../../../../core/base/schemas/types.ts';
import { call } from '../../api/client.ts';
import { useNotices } from '../../stores/notices.ts';
import { byteWords } from '../../stores/transfer-rate.ts';
import { useUploads } from '../../stores/uploads.ts';

/** Files of the server's own machine, taken without an upload. A folder of pictures is taken as one sequence. */
const emit = defineEmits<{ taken: [mediaId: number] }>();
const uploads = useUploads();
const notices = useNotices();
const folder = ref<ServerFolder | null>(null);
const open = (path: string) =>
  notices.guard(
    async () =>
      void (folder.value = await call('GET', `/server-files?path=${encodeURIComponent(path)}`, 'serverFolder')),
  );
const below = (name: string) => (folder.value?.path ? `${folder.value.path}/${name}` : name);
const above = () => folder.value!.path.split('/').slice(0, -1).join('/');
async function take(path: string): Promise<void> {
  const media = await uploads.takeFromServer(path);
  if (media) emit('taken', media.id);
}
</script>

<template>
  <button v-if="!folder" class="use-button mt-2" type="button" @click="open('')">From this machine</button>
  <div v-else class="files" data-server-files>
    <div class="row-line">
      <b>{{ folder.path || 'plates' }}</b
      ><button v-if="folder.path" class="use-button" type="button" @click="take(folder.path)">
        take these pictures
      </button>
    </div>
    <button v-if="folder.path" type="button" @click="open(above())"><i class="bi bi-arrow-up" /> up</button>
    <button
      v-for="e in folder.entries"
      :key="e.name"
      type="button"
      @click="e.folder ? open(below(e.name)) : take(below(e.name))"
    >
      <i class="bi" :class="e.folder ? 'bi-folder2' : 'bi-film'" /> {{ e.name }}
      <span v-if="!e.folder" class="quiet">{{ byteWords(e.bytes) }}</span>
    </button>
  </div>
</template>

<style scoped>
.files {
  display: grid;
  gap: 2px;
  margin-top: 8px;
  max-height: 240px;
  overflow-y: auto;
  border: 1px solid var(--line);
  border-radius: 3px;
  padding: 6px 8px;
  background: var(--white);
}
.files > button {
  border: 0;
  background: none;
  color: var(--ink);
  text-align: left;
  padding: 2px 4px;
}
.files > button:hover {
  background: var(--paper-sunk);
}
</style>
