<script setup lang="ts">
import { computed, ref } from 'vue';
import type { Board } from '../../../../core/base/schemas/types.ts';
import { call } from '../../api/client.ts';
import { resultUrl } from '../../api/urls.ts';
import AddFromList from '../../components/AddFromList.vue';
import { useBoard } from '../../stores/board.ts';
import { useDocument } from '../../stores/document.ts';
import { useJobs } from '../../stores/jobs.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSaving } from '../../stores/saving.ts';
import { useShot } from '../../stores/shot.ts';
import { jobWords } from '../../stores/job-words.ts';

/** Boards of other shots of the project to take a copy of, and this one's as a clip. */
const shot = useShot();
const doc = useDocument();
const saving = useSaving();
const stage = useBoard();
const jobs = useJobs();
const notices = useNotices();
const found = ref<readonly { id: number; name: string; board: Board }[] | null>(null);
/** Looked for when the list is opened: a board may have been made since in another tab. */
const look = () =>
  notices.guard(async () => {
    const shots = await call('GET', `/projects/${shot.project!.id}/shots`, 'shots');
    const details = await Promise.all(
      shots.filter((s) => s.id !== shot.shot?.id).map((s) => call('GET', `/shots/${s.id}`, 'shotDetail')),
    );
    found.value = details.flatMap(({ shot: { id, name }, document }) =>
      document.look.board ? [{ id, name, board: document.look.board }] : [],
    );
  });
function take(id: number): void {
  const other = found.value?.find((one) => one.id === id);
  if (!other) return;
  doc.edit((draft) => {
    draft.look.board = JSON.parse(JSON.stringify(other.board)) as Board;
  });
  stage.picked = [];
}
const clips = computed(() =>
  [...jobs.jobs.values()]
    .filter((j) => j.kind === 'board' && j.shotId === shot.shot?.id)
    .sort((a, b) => b.id - a.id)
    .slice(0, 2),
);
const write = () =>
  notices.guard(async () => {
    if (shot.shot && (await saving.saved()))
      jobs.take(await call('POST', `/shots/${shot.shot.id}/board-clip`, 'apiJob'));
  });
const WORDS = jobWords('being written', 'written');
</script>

<template>
  <div class="shelf">
    <AddFromList
      label="Take the board of another shot"
      :says="found?.length === 0 ? 'No other shot has a board' : 'Take the board of …'"
      :options="
        (found ?? []).map(({ id, name, board }) => ({ value: id, text: `${name} · ${board.width}×${board.height}` }))
      "
      data-take-board
      @pointerdown="look"
      @focus="look"
      @add="take"
    />
    <button
      v-if="stage.board"
      class="btn btn-sm btn-outline-secondary"
      type="button"
      :disabled="!!shot.running"
      title="The board by itself, over the shot’s range, at the plate’s rate"
      data-write-board
      @click="write"
    >
      <i class="bi bi-film" /> As a clip
    </button>
  </div>
  <div v-for="job in clips" :key="job.id" class="row-line" :data-board-clip="job.state">
    <span class="quiet"
      >board clip · {{ job.state === 'running' ? `${job.done} of ${job.total}` : WORDS[job.state] }}</span
    >
    <a v-if="job.state === 'done'" class="btn btn-sm btn-outline-secondary" :href="resultUrl(job.id)" download
      ><i class="bi bi-download" /> mp4</a
    >
  </div>
</template>

<style scoped>
.shelf {
  display: flex;
  gap: 6px;
  margin-top: 6px;
}
.shelf button {
  white-space: nowrap;
}
</style>
