<script setup lang="ts">
import { computed } from 'vue';
import type { Job } from '../../../../core/base/schemas/types.ts';
import { fileUrl } from '../../api/urls.ts';
import IconButton from '../../components/IconButton.vue';
import { isOpen, useJobs } from '../../stores/jobs.ts';
import { useNotices } from '../../stores/notices.ts';
import { useRenders } from '../../stores/renders.ts';
import { useShot } from '../../stores/shot.ts';
import { byteWords } from '../../stores/transfer-rate.ts';
import { jobWords } from '../../stores/job-words.ts';

/** Renders of the shot, the newest first: how far, what came of each, and holding on, going on, going first. */
const shot = useShot();
const renders = useRenders();
const jobs = useJobs();
const notices = useNotices();
const shown = computed(() => renders.own.slice(0, 8));
const WORDS = jobWords('rendering');
const span = (frames: Job['frames']) => (frames ? [...new Set(frames)].map((f) => f + shot.firstNumber).join('–') : '');
const state = (job: Job) =>
  job.state === 'running' && job.done === job.total
    ? 'writing the file'
    : isOpen(job) || job.state === 'paused'
      ? `${WORDS[job.state]} ${job.done} of ${job.total}`
      : job.state === 'stopped'
        ? `stopped at ${job.done} of ${job.total}`
        : WORDS[job.state];
const PRIORITIES = [
  ['later', -1],
  ['in turn', 0],
  ['first', 1],
] as const;
</script>

<template>
  <section v-if="shown.length > 0" class="section">
    <header><h2>Renders</h2></header>
    <ul class="renders">
      <li v-for="job in shown" :key="job.id" :data-render="job.state">
        <div class="row-line">
          <span
            ><span class="figure">{{ span(job.frames) }}</span
            ><span v-if="job.render?.variant"> {{ job.render.variant.name }}</span
            ><span class="quiet">
              · {{ state(job)
              }}<template v-if="job.render && job.render.workers > 1"> · {{ job.render.workers }} at it</template></span
            ></span
          >
          <span class="buttons">
            <IconButton
              v-if="isOpen(job) && job.done < job.total"
              icon="pause-fill"
              label="Hold on"
              title="Hold on"
              @click="notices.guard(() => renders.pause(job.id))"
            />
            <IconButton
              v-if="job.state === 'paused' || job.state === 'stopped' || job.state === 'failed'"
              icon="play-fill"
              label="Go on"
              title="Go on with what is not done"
              @click="notices.guard(() => renders.resume(job.id))"
            />
            <IconButton
              v-if="isOpen(job) || job.state === 'paused'"
              icon="stop-fill"
              label="Stop"
              title="Stop; what is done stays"
              @click="notices.guard(() => jobs.stop(job.id))"
            />
          </span>
        </div>
        <div v-if="(isOpen(job) || job.state === 'paused') && job.render" class="row-line">
          <span class="quiet">Its turn</span>
          <div class="choice" role="group" aria-label="Its turn">
            <button
              v-for="[word, value] in PRIORITIES"
              :key="value"
              type="button"
              :aria-pressed="job.render.priority === value"
              @click="notices.guard(() => renders.hasten(job.id, value))"
            >
              {{ word }}
            </button>
          </div>
        </div>
        <p v-if="job.problem" class="notice m-0">{{ job.problem }}</p>
        <template v-if="job.state === 'done'"
          ><a
            v-for="file in job.render?.files ?? []"
            :key="file.name"
            class="file"
            :href="fileUrl(job.id, file.name)"
            download
            data-download
            ><i class="bi bi-download" /> {{ file.name
            }}<span v-if="file.bytes" class="quiet size">{{ byteWords(file.bytes) }}</span></a
          >
          <p v-if="job.render && job.render.output !== 'frames' && job.render.files.length === 0" class="quiet m-0">
            Version {{ job.render.version }} came in with an archive; its files stayed where they were written.
          </p></template
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
.renders {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 7px;
}
.buttons {
  display: flex;
  gap: 2px;
}
.size {
  margin-left: 6px;
}
.file {
  display: block;
  font-size: 13px;
  overflow-wrap: anywhere;
}
</style>
