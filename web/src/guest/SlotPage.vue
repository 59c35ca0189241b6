<script setup lang="ts">
import { useDebounceFn, useTitle } from '@vueuse/core';
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { useRoute } from 'vue-router';
import type { GuestFraming, GuestSlot } from '../../../core/base/schemas/types.ts';
import { ApiProblem, call, sendFile } from '../api/client.ts';
import { slotFileUrl, slotFrameUrl } from '../api/urls.ts';
import AppRange from '../components/AppRange.vue';
import FilePick from '../components/FilePick.vue';
import { dayWords } from '../components/day-words.ts';
import { useNotices } from '../stores/notices.ts';
import { byteWords } from '../stores/transfer-rate.ts';
import SlotFraming from './SlotFraming.vue';

/** Filling a slot by its link, on any browser: content in, framed, looked at, rendered, fetched. */
const secret = String(useRoute().params.secret);
const path = `/guest/slots/${encodeURIComponent(secret)}`;
const notices = useNotices();
const slot = ref<GuestSlot | null>(null);
const gone = ref('');
const sending = ref('');
const over = ref(false);
const frame = ref(0);
const picture = ref<{ url: string; of: string } | null>(null);
const asking = ref(false);
const wrong = ref('');
/** The film plays until something is changed: then the frame is what counts. */
const playing = ref(false);
const framing = ref<GuestFraming>({ fit: 'fill', offset: [0, 0], scale: 1, start: 0 });
const ready = computed(() => slot.value?.content?.state === 'ready');
const open = computed(() => ['queued', 'running', 'paused'].includes(slot.value?.render?.state ?? ''));
const film = computed(() => (slot.value?.render?.state === 'done' ? slot.value.render.files[0] : undefined));
watch(
  () => film.value?.name,
  (name) => (playing.value = name !== undefined),
);
watch(frame, () => (playing.value = false));
useTitle(computed(() => slot.value?.name ?? 'Slot'));

function take(next: GuestSlot): void {
  const before = slot.value;
  slot.value = next;
  if (!before) {
    framing.value = next.framing;
    frame.value = Math.floor((next.frames - 1) / 2);
  }
}
onMounted(() => call('GET', path, 'guestSlot').then(take, (error: Error) => (gone.value = error.message)));
// How far content and render are is asked for while something goes on.
const again = setInterval(() => {
  if (slot.value && (slot.value.content?.state === 'waiting' || open.value))
    void call('GET', path, 'guestSlot').then(
      take,
      (error: unknown) => error instanceof ApiProblem && error.status === 404 && (gone.value = error.message),
    );
}, 700);
onBeforeUnmount(() => clearInterval(again));

const put = (file: File | undefined) =>
  file &&
  notices.guard(async () => {
    if (slot.value && file.size > slot.value.limits.bytes)
      throw new Error(
        `${file.name} has ${byteWords(file.size)}; this link takes ${byteWords(slot.value.limits.bytes)} at most.`,
      );
    sending.value = file.name;
    playing.value = false;
    try {
      take(await sendFile(`${path}/content?name=${encodeURIComponent(file.name)}`, 'guestSlot', file));
    } finally {
      sending.value = '';
    }
  });
const save = useDebounceFn(
  () => notices.guard(async () => take(await call('PUT', `${path}/framing`, 'guestSlot', framing.value))),
  250,
);
const frames = (next: GuestFraming) => {
  framing.value = next;
  playing.value = false;
  void save();
};

// A picture of the frame as it will be; the newest question counts.
let asked = 0;
watch([ready, frame, () => JSON.stringify(slot.value?.framing), () => slot.value?.content?.name], () => void look());
async function look(): Promise<void> {
  const mine = ++asked;
  wrong.value = slot.value?.impossible ?? '';
  if (!ready.value || wrong.value) return;
  asking.value = true;
  try {
    for (;;) {
      const {
        ready: there,
        key,
        problem,
      } = await call('POST', `${path}/preview`, 'guestPreview', { frame: frame.value });
      if (mine !== asked) return;
      if (problem) wrong.value = problem;
      if (there || problem) {
        if (there) picture.value = { url: slotFrameUrl(secret, frame.value, key!), of: key! };
        break;
      }
      await new Promise((resolve) => setTimeout(resolve, 250));
      if (mine !== asked) return;
    }
  } catch (error) {
    if (mine === asked) wrong.value = (error as Error).message;
  }
  if (mine === asked) asking.value = false;
}
const render = () => notices.guard(async () => take(await call('POST', `${path}/render`, 'guestSlot')));
</script>

<template>
  <div class="top-bar">
    <span class="word">Yarlop</span><span v-if="slot" class="trail"><b>{{ slot.name }}</b></span>
  </div>
  <main v-if="gone" class="page">
    <h1>Nothing here</h1>
    <p role="alert">{{ gone }}</p>
  </main>
  <main v-else-if="slot" class="slot">
    <section
      class="picture"
      :style="{ aspectRatio: `${slot.width} / ${slot.height}` }"
      :class="{ over }"
      @dragover.prevent="over = true"
      @dragleave="over = false"
      @drop.prevent="
        over = false;
        put($event.dataTransfer?.files[0]);
      "
    >
      <video
        v-if="film && playing"
        :src="slotFileUrl(secret, film.name)"
        controls
        playsinline
        loop
        muted
        :poster="picture?.url"
        data-film
      />
      <img
        v-else-if="picture"
        :src="picture.url"
        :alt="`Frame ${frame + slot.first} with your content`"
        :data-preview="picture.of"
      />
      <p v-else>
        {{ slot.content ? 'The picture comes in a moment.' : 'Drop a picture or film here, or choose one below.' }}
      </p>
      <span v-if="asking || slot.content?.state === 'waiting'" class="busy" role="status">{{
        slot.content?.state === 'waiting' ? 'reading your file …' : 'making the picture …'
      }}</span>
    </section>
    <p v-if="wrong" class="notice" role="alert">{{ wrong }}</p>
    <p v-if="slot.content?.state === 'failed'" class="notice" role="alert">{{ slot.content.problem }}</p>
    <section class="controls">
      <div class="block">
        <h2>Content</h2>
        <p class="m-0">
          {{ sending ? `${sending} is on its way …` : (slot.content?.name ?? 'none yet')
          }}<span v-if="slot.content?.frames && slot.content.frames > 1" class="quiet">
            · {{ slot.content.frames }} frames</span
          >
        </p>
        <FilePick
          label="Content"
          accept="image/*,video/*"
          :variant="slot.content ? 'outline-secondary' : 'primary'"
          @pick="put"
          ><i class="bi bi-file-earmark-arrow-up" />
          {{ slot.content ? 'Choose another' : 'Choose a picture or film' }}</FilePick
        >
        <p class="quiet m-0">
          Up to {{ byteWords(slot.limits.bytes) }}; {{ slot.limits.files - slot.used.files }} more.
        </p>
      </div>
      <SlotFraming
        v-if="slot.content"
        :model-value="framing"
        :content-frames="slot.content.frames ?? 1"
        :frames="slot.frames"
        :first="slot.first"
        @update:model-value="frames"
      />
      <div v-if="slot.content" class="block">
        <h2>Look at</h2>
        <label
          >Frame<AppRange
            label="Frame"
            :min="0"
            :max="slot.frames - 1"
            :model-value="frame"
            @change="frame = Number($event.target.value)"
          /><span class="figure">{{ frame + slot.first }}</span></label
        >
        <BButton v-if="!open" variant="primary" :disabled="!ready || !!wrong" data-render @click="render">{{
          slot.render ? 'Render again' : 'Render the film'
        }}</BButton>
        <p v-else class="m-0" role="status">
          {{
            slot.render!.state === 'queued' && slot.render!.done === 0
              ? 'Waiting for its turn'
              : `${slot.render!.done} of ${slot.render!.total} frames`
          }}<span class="progress"
            ><i :style="{ width: `${(100 * slot.render!.done) / Math.max(1, slot.render!.total)}%` }"
          /></span>
        </p>
        <p v-if="slot.render?.state === 'failed'" class="notice m-0">{{ slot.render.problem }}</p>
        <BButton v-if="film && !playing" variant="outline-secondary" @click="playing = true"
          ><i class="bi bi-play-fill" /> Play the film</BButton
        >
        <a v-if="film" class="btn btn-outline-secondary" :href="slotFileUrl(secret, film.name)" download data-download
          ><i class="bi bi-download" /> Film, {{ byteWords(film.bytes) }}</a
        >
        <p class="quiet m-0">
          {{ slot.limits.renders - slot.used.renders }} renders more. Open until {{ dayWords(slot.expiresAt) }}.
        </p>
      </div>
    </section>
  </main>
</template>

<style scoped src="./slot-blocks.css"></style>

<style scoped>
.slot {
  max-width: 1080px;
  margin: 0 auto;
  padding: 14px;
  display: grid;
  gap: 14px;
}
.picture {
  position: relative;
  background: var(--surround);
  display: grid;
  place-items: center;
  width: 100%;
  max-height: 62vh;
  margin: 0 auto;
  overflow: hidden;
}
.picture.over {
  outline: 3px solid var(--accent);
}
.picture img,
.picture video {
  width: 100%;
  height: 100%;
  object-fit: contain;
  display: block;
}
.picture p {
  color: var(--mark);
  padding: 20px;
  text-align: center;
  margin: 0;
}
.busy {
  position: absolute;
  left: 8px;
  bottom: 8px;
  background: var(--label-back);
  color: var(--mark);
  font-size: 13px;
  padding: 2px 8px;
  border-radius: 3px;
}
.controls {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(260px, 1fr));
  gap: 22px;
}
.progress {
  display: block;
  height: 6px;
  margin-top: 5px;
  background: var(--line);
}
.progress i {
  display: block;
  height: 100%;
  background: var(--accent);
}
</style>
