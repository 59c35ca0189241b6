<script setup lang="ts">
import { computed } from 'vue';
import DropArea from '../components/DropArea.vue';
import type { Gathered } from '../media/gather-files.ts';
import { decimalRate } from '../../../core/exchange/rate.ts';
import { useNotices } from '../stores/notices.ts';
import { useShot } from '../stores/shot.ts';
import { useUploads } from '../stores/uploads.ts';

/** What have we got? Bring a clip in, see what it says about itself. */
const shot = useShot();
const notices = useNotices();
const uploads = useUploads();
const medium = computed(() => shot.shot?.plate ?? null);
const facts = computed(() => medium.value?.facts ?? null);
const clips = computed(() => shot.media.filter((m) => m.kind !== 'still' && m.id !== medium.value?.id));
const lines = computed(() => {
  const f = facts.value;
  if (!f) return [];
  const seconds = (f.frames * f.rate[1]) / f.rate[0];
  return [
    ['Size', `${f.width} × ${f.height}`], ['Length', `${f.frames} frames, ${seconds.toFixed(2)} s`], ['Rate', `${decimalRate(f.rate)} (${f.rate.join('/')})`],
    ['First frame', String(f.firstFrameNumber)], ['Coding', `${f.codec}, ${f.pixelFormat}`], ['Depth', `${f.bits} bit, ${f.range} range`],
    ['Matrix', f.matrix], ['Transfer', f.transfer],
  ];
});

async function take(files: Gathered[]): Promise<void> {
  for (const [i, file] of files.entries()) {
    const sent = await uploads.send(file.name, file.blob);
    if (sent && i === 0) await choose(sent.id);
  }
}
const choose = (id: number) => notices.guard(() => shot.choosePlate(id));
</script>

<template>
  <section v-if="medium" class="section">
    <header><h2>{{ medium.name }}</h2></header>
    <p v-if="medium.state === 'failed'" class="notice" role="alert">{{ medium.problem }}</p>
    <p v-else-if="medium.state === 'waiting'" class="quiet">Coming in: frames are being unpacked so that any of them is at hand.</p>
    <dl v-else class="facts"><template v-for="[name, value] in lines" :key="name"><dt>{{ name }}</dt><dd>{{ value }}</dd></template></dl>
    <p v-for="note in facts?.assumed ?? []" :key="note" class="notice calm mt-2 mb-0">{{ note.charAt(0).toUpperCase() + note.slice(1) }}.</p>
  </section>
  <section class="section">
    <header><h2>{{ medium ? 'Another plate' : 'Bring in a plate' }}</h2></header>
    <DropArea says="Drop an MP4, MOV, MKV or WebM here, or a folder or zip of numbered PNG or JPEG pictures." accept="video/*,.mkv,.mxf,.zip,image/png,image/jpeg" folder @files="take" />
    <template v-if="clips.length > 0">
      <p class="quiet mt-3 mb-1">Or one that is in this project:</p>
      <div class="rows">
        <button v-for="clip in clips" :key="clip.id" class="pick" type="button" :disabled="clip.state !== 'ready'" @click="choose(clip.id)">
          <span>{{ clip.name }}</span><span class="quiet">{{ clip.facts ? `${clip.facts.frames} f` : 'coming in' }}</span>
        </button>
      </div>
    </template>
  </section>
  <section v-if="facts" class="section"><RouterLink class="btn btn-primary w-100" :to="`/shots/${shot.shot!.id}/follow`">On to Follow <i class="bi bi-arrow-right" /></RouterLink></section>
</template>

<style scoped>
.facts { display: grid; grid-template-columns: auto 1fr; gap: 5px 14px; margin: 0; }
dt { font-weight: 400; color: var(--ink-soft); }
dd { margin: 0; text-align: right; }
h2 { overflow-wrap: anywhere; }
.pick { display: flex; justify-content: space-between; gap: 8px; border: 1px solid var(--line); border-radius: 3px; background: var(--white); color: var(--ink); padding: 5px 9px; text-align: left; }
.pick:hover { border-color: var(--ink-soft); }
</style>
