<script setup lang="ts">
import { ref, useTemplateRef } from 'vue';
import IconButton from './IconButton.vue';
import { gather, gatherDropped, type Gathered } from '../media/gather-files.ts';
import { useNotices } from '../stores/notices.ts';
import { byteWords } from '../stores/transfer-rate.ts';
import { useUploads } from '../stores/uploads.ts';

/** Where files are dropped or chosen, with what is on its way; `stills`: numbered pictures need not be without gaps. */
const props = defineProps<{ says: string; accept: string; folder?: boolean; stills?: boolean }>();
const emit = defineEmits<{ files: [files: Gathered[]] }>();
const uploads = useUploads();
const notices = useNotices();
const over = ref(false);
const file = useTemplateRef<HTMLInputElement>('file');
const directory = useTemplateRef<HTMLInputElement>('directory');

async function onDrop(event: DragEvent): Promise<void> {
  over.value = false;
  const { dataTransfer } = event;
  if (dataTransfer) await notices.guard(async () => emit('files', await gatherDropped(dataTransfer, props.stills)));
}
async function onChosen(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  const files = [...(input.files ?? [])];
  const folder = files[0]?.webkitRelativePath.split('/')[0];
  input.value = '';
  await notices.guard(async () => emit('files', await gather(files, folder || undefined, props.stills)));
}
</script>

<template>
  <div class="drop" :class="{ over }" @dragover.prevent="over = true" @dragleave="over = false" @drop.prevent="onDrop">
    <p class="quiet">{{ says }}</p>
    <div class="d-flex gap-2">
      <BButton variant="outline-secondary" @click="file?.click()"
        ><i class="bi bi-file-earmark-arrow-up" /> Choose a file</BButton
      >
      <BButton v-if="folder" variant="outline-secondary" @click="directory?.click()"
        ><i class="bi bi-folder2-open" /> Folder</BButton
      >
    </div>
    <input ref="file" type="file" hidden multiple :accept="accept" data-file-input @change="onChosen" />
    <input v-if="folder" ref="directory" type="file" hidden webkitdirectory data-folder-input @change="onChosen" />
  </div>
  <p v-if="uploads.limits" class="quiet mt-1 mb-0">
    Up to {{ byteWords(uploads.limits.uploadBytes) }} a file. An upload goes on after a reload.
  </p>
  <div v-for="u in uploads.uploads" :key="u.key" class="sending" role="status" :data-upload="u.name">
    <span class="name">{{ u.name }}<span class="quiet d-block">{{ u.words || byteWords(u.size) }}</span></span>
    <template v-if="!u.wantsFile"
      ><span class="bar"><i :style="{ width: `${(100 * u.sent) / u.size}%` }" /></span
      ><span class="quiet">{{ Math.round((100 * u.sent) / u.size) }} %</span></template
    >
    <IconButton icon="x" :label="`Cancel ${u.name}`" title="Cancel" @click="u.cancel()" />
  </div>
</template>

<style scoped>
.drop {
  border: 1px dashed var(--ink-soft);
  border-radius: 4px;
  padding: 10px 12px 12px;
  background: var(--white);
}
.drop p {
  margin-bottom: 8px;
}
.over {
  border-color: var(--accent);
  background: var(--accent-soft);
}
.sending {
  display: flex;
  align-items: center;
  gap: 8px;
  margin-top: 8px;
  font-size: 13px;
}
.name {
  flex: 1;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.bar {
  width: 80px;
  height: 5px;
  background: var(--line);
}
.bar i {
  display: block;
  height: 100%;
  background: var(--accent);
}
</style>
