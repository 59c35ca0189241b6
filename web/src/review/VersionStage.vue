<script setup lang="ts">
import { useEventListener, useIntervalFn } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import type { ReviewNote, ReviewVersion } from '../../../core/base/schemas/types.ts';
import AppRange from '../components/AppRange.vue';
import AppSelect from '../components/AppSelect.vue';
import ChoiceRow from '../components/ChoiceRow.vue';
import IconButton from '../components/IconButton.vue';
import NewNote from './NewNote.vue';
import NoteList from './NoteList.vue';
import VersionPane from './VersionPane.vue';
import { useVersionFrames } from './use-version-frames.ts';
import { useZoomedPicture } from './use-zoomed-picture.ts';

/** Versions of a shot: one, two side by side, in turns, one wiped over the other, or what differs; with notes pinned to frame and place. */
const props = defineProps<{
  versions: readonly ReviewVersion[];
  notes: readonly ReviewNote[];
  first: number;
  rate: number;
  width: number;
  height: number;
  address: (jobId: number, frame: number) => string;
  author: string;
  settles: boolean;
}>();
const emit = defineEmits<{
  pin: [note: { jobId: number; frame: number; at: [number, number]; words: string }];
  answer: [note: number, words: string];
  settle: [note: number, settled: boolean];
}>();
const MODES = ['one', 'side by side', 'in turns', 'wipe', 'difference'] as const;
const TURN_MS = 500;
const mode = ref<(typeof MODES)[number]>('one');
const left = ref(props.versions[0]!.jobId);
const right = ref((props.versions[1] ?? props.versions[0]!).jobId);
const border = ref(0.5);
const pending = ref<{ jobId: number; at: [number, number] } | null>(null);
const versionOf = (jobId: number) => props.versions.find((one) => one.jobId === jobId) ?? props.versions[0]!;
const shown = computed(() => (mode.value === 'one' ? [left.value] : [left.value, right.value]).map(versionOf));
const panes = computed(() => (mode.value === 'side by side' ? shown.value.map((one) => [one]) : [shown.value]));
const title = (version: ReviewVersion) =>
  `v${String(version.version).padStart(3, '0')}${version.name ? ` ${version.name}` : ''}, ${version.frames.map((f) => f + props.first).join('–')}`;
const titles = computed(() => props.versions.map((one) => ({ value: one.jobId, text: title(one) })));
const { frame, span, step, playing, pause, resume } = useVersionFrames(
  shown,
  (jobId, f) => props.address(jobId, f),
  () => props.rate,
);
const ticks = computed(() => props.notes.filter((note) => shown.value.some(({ jobId }) => jobId === note.jobId)));
const zoomed = useZoomedPicture();
const { scale } = zoomed;

function mark(at: { jobId: number; at: [number, number] }): void {
  pause();
  pending.value = at;
}
function pin(words: string): void {
  emit('pin', { ...pending.value!, frame: frame.value, words });
  pending.value = null;
}
function goTo(note: ReviewNote): void {
  pause();
  if (!shown.value.some(({ jobId }) => jobId === note.jobId)) left.value = note.jobId;
  frame.value = note.frame;
}
useEventListener(window, 'keydown', (event) => {
  const { tagName } = event.target as HTMLElement;
  // Space presses a button; arrows mean nothing to it.
  if (/^(INPUT|TEXTAREA|SELECT)$/.test(tagName) || (tagName === 'BUTTON' && event.key === ' ')) return;
  if (event.key === 'ArrowRight') step(1);
  else if (event.key === 'ArrowLeft') step(-1);
  else if (event.key === ' ') (playing.value ? pause : resume)();
  else if (event.key === 'Escape') pending.value = null;
  else return;
  event.preventDefault();
});
// In turns: what stands still does not move between the two.
const turn = ref(0);
const { pause: holdTurns, resume: takeTurns } = useIntervalFn(() => (turn.value = 1 - turn.value), TURN_MS, {
  immediate: false,
});
watch(mode, (now) => {
  turn.value = 0;
  (now === 'in turns' ? takeTurns : holdTurns)();
});
</script>

<template>
  <div class="review">
    <div class="look">
      <div class="bar">
        <AppSelect label="Version" :value="left" :options="titles" @choose="left = $event" />
        <ChoiceRow v-if="versions.length > 1" label="Compared" :options="MODES" :value="mode" @choose="mode = $event" />
        <AppSelect
          v-if="mode !== 'one'"
          label="Other version"
          :value="right"
          :options="titles"
          @choose="right = $event"
        />
        <span class="spacer" /><button
          v-if="scale > 1"
          class="use-button"
          type="button"
          @click="zoomed.moveTo([0, 0], 1)"
        >
          whole picture
        </button>
      </div>
      <div class="panes" :class="{ two: panes.length > 1 }" :style="{ '--aspect': width / height }">
        <VersionPane
          v-for="(stack, i) in panes"
          :key="i"
          v-model:border="border"
          :style="{ aspectRatio: `${width} / ${height}` }"
          :data-pane="i"
          v-bind="{ stack, frame, first, mode, turn, zoomed, notes, pending, settles, address, title }"
          @mark="mark"
        />
      </div>
      <div class="bar transport">
        <IconButton
          :icon="playing ? 'pause-fill' : 'play-fill'"
          :label="playing ? 'Hold' : 'Play'"
          :title="playing ? 'Hold (space)' : 'Play (space)'"
          @click="playing ? pause() : resume()"
        />
        <IconButton icon="chevron-left" label="A frame back" title="A frame back" @click="step(-1)" />
        <span class="strip"
          ><AppRange v-model="frame" label="Frame" :min="span[0]" :max="span[1]" /><i
            v-for="note in ticks"
            :key="note.id"
            class="tick"
            :class="{ settled: note.settled }"
            :style="{ left: `${(100 * (note.frame - span[0])) / Math.max(1, span[1] - span[0])}%` }"
        /></span>
        <IconButton icon="chevron-right" label="A frame on" title="A frame on" @click="step(1)" />
        <span class="figure number" data-review-frame>{{ frame + first }}</span>
      </div>
    </div>
    <aside class="notes">
      <slot name="who" />
      <NewNote v-if="pending" :frame="frame + first" :author="author" @pin="pin" @leave="pending = null" />
      <p v-else class="quiet">Click into the picture to pin a note to this frame and place.</p>
      <NoteList
        :notes="notes"
        :first="first"
        :frame="frame"
        :author="author"
        :settles="settles"
        @go="goTo"
        @answer="(id, text) => $emit('answer', id, text)"
        @settle="(id, is) => $emit('settle', id, is)"
      />
    </aside>
  </div>
</template>

<style scoped>
.review {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 330px;
}
.look {
  min-width: 0;
  min-height: 0;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  background: var(--surround);
}
.bar {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 7px 14px;
  background: var(--paper);
  border-bottom: 1px solid var(--line);
  flex-wrap: wrap;
}
.transport {
  border-bottom: 0;
  border-top: 1px solid var(--line);
  flex-wrap: nowrap;
}
.panes {
  display: grid;
  gap: 10px;
  padding: 12px;
  min-height: 0;
  place-items: center;
  container-type: size;
}
.panes.two {
  grid-template-columns: 1fr 1fr;
}
.strip {
  position: relative;
  flex: 1;
  display: flex;
}
.tick {
  position: absolute;
  top: 17px;
  width: 3px;
  height: 7px;
  margin-left: -1.5px;
  background: var(--accent);
  pointer-events: none;
}
.tick.settled {
  background: var(--ink-soft);
  opacity: 0.5;
}
.number {
  min-width: 46px;
  text-align: right;
}
.notes {
  border-left: 1px solid var(--line);
  padding: 12px 14px;
  overflow-y: auto;
  background: var(--paper);
}
@media (max-width: 760px) {
  .review {
    grid-template: minmax(200px, 46%) minmax(0, 1fr) / 1fr;
  }
  .panes.two {
    grid-template: 1fr 1fr / 1fr;
  }
  .panes {
    padding: 4px;
  }
  .notes {
    border-left: 0;
    border-top: 1px solid var(--line);
  }
}
</style>
