<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import { EXPORT_FORMATS } from '../../../core/exchange/corner-data.ts';
import { exportUrl, resultUrl } from '../api/urls.ts';
import ChoiceRow from '../components/ChoiceRow.vue';
import NumberField from '../components/NumberField.vue';
import { useJobs } from '../stores/jobs.ts';
import { useNotices } from '../stores/notices.ts';
import { useShot } from '../stores/shot.ts';

/** What leaves the house? A range as a film or pictures, and the track as data. */
const OUTPUTS = ['mp4', 'png', 'exr'] as const;
const EXPORT_NAMES: Record<(typeof EXPORT_FORMATS)[number], string> = { 'corners-csv': 'Corners, CSV', 'corners-json': 'Corners, JSON', 'homography-json': 'Homographies, JSON' };
const shot = useShot();
const jobs = useJobs();
const notices = useNotices();
const output = ref<(typeof OUTPUTS)[number]>('mp4');
const from = ref(0);
const to = ref(0);
watch(() => shot.range, (range) => ([from.value, to.value] = range), { immediate: true });
const first = computed(() => shot.firstNumber);
const missing = computed(() => {
  if (!shot.plate) return 'There is no plate yet.';
  if (shot.rows.length === 0) return 'Follow the shot first.';
  if (!shot.document?.corners) return 'Set the corners on Seat first.';
  return shot.content ? null : 'Choose what is shown on Content first.';
});
const renders = computed(() => [...jobs.jobs.values()].filter((j) => j.kind === 'render' && j.shotId === shot.shot?.id).sort((a, b) => b.id - a.id).slice(0, 6));
const render = () => notices.guard(() => shot.render([Math.min(from.value, to.value), Math.max(from.value, to.value)], output.value));
const WORDS = { queued: 'waiting', running: 'rendering', done: 'done', failed: 'failed', stopped: 'stopped' } as const;
const span = (frames: readonly number[] | null | undefined) => (frames ? frames.map((f) => f + first.value).join('–') : '');
</script>

<template>
  <section class="section">
    <header><h2>Render</h2></header>
    <div class="rows">
      <NumberField label="From frame" :value="from + first" :min="first" :max="first + shot.frames - 1" :digits="0" @commit="from = Math.round($event) - first" />
      <NumberField label="To frame" :value="to + first" :min="first" :max="first + shot.frames - 1" :digits="0" @commit="to = Math.round($event) - first" />
      <ChoiceRow label="Output" :options="OUTPUTS" :value="output" @choose="output = $event" />
      <p class="quiet m-0">{{ output === 'mp4' ? 'One H.264 film, BT.709.' : 'Numbered PNG pictures in a zip, under the plate’s own numbers.' }}</p>
      <BButton variant="primary" :disabled="missing !== null || !!shot.running" @click="render">Render {{ Math.abs(to - from) + 1 }} frames</BButton>
      <p v-if="missing" class="notice m-0">{{ missing }}</p>
    </div>
  </section>
  <section v-if="renders.length > 0" class="section">
    <header><h2>Renders</h2></header>
    <ul class="renders">
      <li v-for="job in renders" :key="job.id" :data-render="job.state">
        <span>{{ span(job.frames) }}<span class="quiet"> · {{ job.state === 'running' ? `rendering ${job.done} of ${job.total}` : WORDS[job.state] }}</span></span>
        <a v-if="job.state === 'done'" class="btn btn-sm btn-outline-secondary" :href="resultUrl(job.id)" download data-download><i class="bi bi-download" /> {{ job.result?.split('.').at(-1) }}</a>
      </li>
    </ul>
  </section>
  <section class="section">
    <header><h2>Track data</h2></header>
    <p v-if="!shot.document?.corners || shot.rows.length === 0" class="quiet m-0">Ready as soon as the shot is followed and the corners are set.</p>
    <div v-else class="rows">
      <a v-for="format in EXPORT_FORMATS" :key="format" class="btn btn-outline-secondary text-start" :href="exportUrl(shot.shot!.id, format)" download :data-export="format"><i class="bi bi-download" /> {{ EXPORT_NAMES[format] }}</a>
      <p class="quiet m-0">Frames count from 0; pixel centres at 0.5; y down. Each file says so.</p>
    </div>
  </section>
</template>

<style scoped>
.renders { list-style: none; margin: 0; padding: 0; display: grid; gap: 5px; }
.renders li { display: flex; align-items: center; justify-content: space-between; min-height: 32px; }
</style>
