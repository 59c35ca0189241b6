<script setup lang="ts">
import { computed, ref, watch } from 'vue';
import type { Job } from '../../../core/base/schemas/types.ts';
import IconButton from './IconButton.vue';
import { useJobs } from '../stores/jobs.ts';
import { useNotices } from '../stores/notices.ts';

/** Running work: what, how far, how long still, and a stop. */
const props = defineProps<{ job: Job }>();
const jobs = useJobs();
const notices = useNotices();
const NAMES = {
  'bring-in': 'Bringing in',
  check: 'Checking',
  follow: 'Following',
  points: 'Following points',
  pull: 'Pulling onto the picture',
  seat: 'Looking at the borders',
  scene: 'Solving the scene',
  steady: 'Steadying',
  board: 'Writing the board',
  loop: 'Joining',
  render: 'Rendering',
} as const;
const share = computed(() => (props.job.total > 0 ? props.job.done / props.job.total : 0));
/** When this page first saw the job run, and how far it was: what the time left is reckoned from. */
const begun = ref<{ id: number; at: number; done: number } | null>(null);
watch(
  () => props.job,
  (job) => {
    if (job.state === 'running' && begun.value?.id !== job.id)
      begun.value = { id: job.id, at: Date.now(), done: job.done };
  },
  { immediate: true },
);
const left = computed(() => {
  if (props.job.state !== 'running') return 'waiting';
  if (!begun.value) return '';
  const passed = (Date.now() - begun.value.at) / 1000;
  const made = props.job.done - begun.value.done;
  if (made < 2 || passed < 1) return '';
  const seconds = ((props.job.total - props.job.done) * passed) / made;
  return seconds > 90 ? `${Math.round(seconds / 60)} min left` : `${Math.max(1, Math.round(seconds))} s left`;
});
</script>

<template>
  <div class="job" role="status" :data-job="job.kind">
    <span>{{ NAMES[job.kind] }}</span><span v-if="job.total" class="figure">{{ job.done }}/{{ job.total }}</span>
    <span class="bar"><i :style="{ width: `${100 * share}%` }" /></span>
    <span class="quiet">{{ left }}</span>
    <IconButton
      icon="stop-fill"
      label="Stop"
      title="Stop; what is done stays"
      @click="notices.guard(() => jobs.stop(job.id))"
    />
  </div>
</template>

<style scoped>
.job {
  display: flex;
  align-items: center;
  gap: 10px;
  border: 1px solid var(--line);
  border-radius: 3px;
  padding: 1px 4px 1px 10px;
  background: var(--white);
  font-size: 13.5px;
  white-space: nowrap;
}
.bar {
  width: 86px;
  height: 5px;
  background: var(--line);
}
.bar i {
  display: block;
  height: 100%;
  background: var(--accent);
}
</style>
