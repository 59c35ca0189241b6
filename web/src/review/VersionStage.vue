<script setup lang="ts">
import { useEventListener, useIntervalFn } from '@vueuse/core';
import { LRUCache } from 'lru-cache';
import { computed, ref, watch } from 'vue';
import { clamp } from '../../../core/base/geometry/clamp.ts';
import type { ReviewNote, ReviewVersion } from '../../../core/base/schemas/types.ts';
import AppRange from '../components/AppRange.vue';
import AppSelect from '../components/AppSelect.vue';
import ChoiceRow from '../components/ChoiceRow.vue';
import IconButton from '../components/IconButton.vue';
import NoteList from './NoteList.vue';

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
const AHEAD = 12;
const TURN_MS = 500;
const mode = ref<(typeof MODES)[number]>('one');
const left = ref(props.versions[0]!.jobId);
const right = ref((props.versions[1] ?? props.versions[0]!).jobId);
const frame = ref(props.versions[0]!.frames[0]);
const border = ref(0.5);
const pending = ref<{ jobId: number; at: [number, number] } | null>(null);
const words = ref('');
const versionOf = (jobId: number) => props.versions.find((one) => one.jobId === jobId) ?? props.versions[0]!;
const shown = computed(() => (mode.value === 'one' ? [left.value] : [left.value, right.value]));
/** Frames that all versions on show have. */
const span = computed<[number, number]>(() => [
  Math.max(...shown.value.map((one) => versionOf(one).frames[0])),
  Math.min(...shown.value.map((one) => versionOf(one).frames[1])),
]);
watch(span, ([from, to]) => (frame.value = Math.min(Math.max(frame.value, from), Math.max(from, to))), {
  immediate: true,
});
const title = (version: ReviewVersion) =>
  `v${String(version.version).padStart(3, '0')}${version.name ? ` ${version.name}` : ''}, ${version.frames.map((f) => f + props.first).join('–')}`;
const titles = computed(() => props.versions.map((one) => ({ value: one.jobId, text: title(one) })));
const step = (by: number) => (frame.value = Math.min(span.value[1], Math.max(span.value[0], frame.value + by)));

// The next pictures are fetched ahead, so that playing does not wait for each.
const ahead = new LRUCache<string, HTMLImageElement>({ max: 400 });
watch(
  [frame, shown, span],
  () => {
    for (let f = frame.value; f <= Math.min(span.value[1], frame.value + AHEAD); f++)
      for (const jobId of shown.value) {
        const url = props.address(jobId, f);
        if (ahead.has(url)) continue;
        const image = new Image();
        image.src = url;
        ahead.set(url, image);
      }
  },
  { immediate: true },
);
const {
  isActive: playing,
  pause,
  resume,
} = useIntervalFn(
  () => {
    const next = frame.value >= span.value[1] ? span.value[0] : frame.value + 1;
    // Late pictures are waited for: each frame is seen.
    if (shown.value.every((jobId) => ahead.get(props.address(jobId, next))?.complete ?? true)) frame.value = next;
  },
  () => 1000 / props.rate,
  { immediate: false },
);

// Both pictures are looked at the same place.
const scale = ref(1);
const offset = ref<[number, number]>([0, 0]);
const transform = computed(() => ({
  transform: `translate(${100 * offset.value[0]}%, ${100 * offset.value[1]}%) scale(${scale.value})`,
}));
const within = (event: MouseEvent): [number, number] => {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
  return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
};
function zoom(event: WheelEvent): void {
  const [x, y] = within(event);
  const next = clamp(scale.value * 1.2 ** -Math.sign(event.deltaY), 1, 16);
  moveTo([x - ((x - offset.value[0]) * next) / scale.value, y - ((y - offset.value[1]) * next) / scale.value], next);
}
function moveTo([x, y]: [number, number], to = scale.value): void {
  scale.value = to;
  offset.value = [Math.min(0, Math.max(1 - to, x)), Math.min(0, Math.max(1 - to, y))];
}
let drag: { x: number; y: number; from: [number, number]; moved: boolean; wipe: boolean } | null = null;
function press(event: PointerEvent): void {
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  drag = {
    x: event.clientX,
    y: event.clientY,
    from: offset.value,
    moved: false,
    wipe: mode.value === 'wipe' && Math.abs(inPicture(within(event))[0] - border.value) * scale.value < 0.02,
  };
}
const inPicture = ([x, y]: [number, number]): [number, number] => [
  (x - offset.value[0]) / scale.value,
  (y - offset.value[1]) / scale.value,
];
function move(event: PointerEvent): void {
  if (!drag) return;
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
  const dx = event.clientX - drag.x;
  const dy = event.clientY - drag.y;
  drag.moved ||= Math.hypot(dx, dy) > 4;
  if (drag.wipe) border.value = clamp(inPicture(within(event))[0], 0, 1);
  else if (drag.moved && scale.value > 1) moveTo([drag.from[0] + dx / box.width, drag.from[1] + dy / box.height]);
}
function release(event: PointerEvent, jobId: number): void {
  const was = drag;
  const place = inPicture(within(event));
  drag = null;
  if (!was || was.moved || was.wipe) return;
  pause();
  pending.value = {
    jobId:
      (mode.value === 'wipe' && place[0] > border.value) || (mode.value === 'in turns' && turn.value === 1)
        ? right.value
        : jobId,
    at: place.map((v) => clamp(v, 0, 1)) as [number, number],
  };
}
function pin(): void {
  if (!pending.value || !words.value.trim() || !props.author.trim()) return;
  emit('pin', { ...pending.value, frame: frame.value, words: words.value.trim() });
  pending.value = null;
  words.value = '';
}
const pinsOn = (jobId: number) => props.notes.filter((note) => note.jobId === jobId && note.frame === frame.value);
function goTo(note: ReviewNote): void {
  pause();
  if (!shown.value.includes(note.jobId)) left.value = note.jobId;
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
/** Whether one of a stack of two is seen now. */
const isSeen = (k: number) => mode.value !== 'in turns' || k === turn.value;

/** Pictures that are not there, by their addresses. */
const gone = ref(new Set<string>());
const isGone = (jobId: number) => gone.value.has(props.address(jobId, frame.value));
const numberOf = (note: ReviewNote) => props.notes.indexOf(note) + 1;
const layers = computed(() =>
  mode.value === 'side by side'
    ? [[left.value], [right.value]]
    : mode.value === 'one'
      ? [[left.value]]
      : [[left.value, right.value]],
);
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
        <span class="spacer" /><button v-if="scale > 1" class="use-button" type="button" @click="moveTo([0, 0], 1)">
          whole picture
        </button>
      </div>
      <div class="panes" :class="{ two: layers.length > 1 }" :style="{ '--aspect': width / height }">
        <div
          v-for="(stack, i) in layers"
          :key="i"
          class="pane"
          :style="{ aspectRatio: `${width} / ${height}` }"
          :data-pane="i"
          @wheel.prevent="zoom"
          @pointerdown="press"
          @pointermove="move"
          @pointerup="release($event, stack[0]!)"
        >
          <div class="moved" :style="transform">
            <img
              v-for="(jobId, k) in stack"
              :key="k"
              :src="address(jobId, frame)"
              :alt="`Frame ${frame + first} of ${title(versionOf(jobId))}`"
              draggable="false"
              :class="{ over: k > 0, difference: k > 0 && mode === 'difference', away: !isSeen(k) }"
              :style="k > 0 && mode === 'wipe' ? { clipPath: `inset(0 0 0 ${100 * border}%)` } : {}"
              :data-version="jobId"
              :data-frame="frame"
              @error="gone.add(address(jobId, frame))"
              @load="gone.delete(address(jobId, frame))"
            />
            <i
              v-if="mode === 'wipe'"
              class="border"
              :style="{ left: `${100 * border}%`, transform: `scaleX(${1 / scale})` }"
            />
            <template v-for="jobId in stack" :key="`pins${jobId}`"
              ><span
                v-for="note in isSeen(stack.indexOf(jobId)) ? pinsOn(jobId) : []"
                :key="note.id"
                class="pin"
                :class="{ settled: note.settled }"
                :style="{
                  left: `${100 * note.at[0]}%`,
                  top: `${100 * note.at[1]}%`,
                  transform: `translate(-50%, -50%) scale(${1 / scale})`,
                }"
                :title="note.words"
                :data-pin="note.id"
                >{{ numberOf(note) }}</span
              ></template
            >
            <span
              v-if="pending && stack.includes(pending.jobId)"
              class="pin pending"
              :style="{
                left: `${100 * pending.at[0]}%`,
                top: `${100 * pending.at[1]}%`,
                transform: `translate(-50%, -50%) scale(${1 / scale})`,
              }"
              >+</span
            >
          </div>
          <span v-if="mode === 'in turns'" class="tag" :data-turn="stack[turn]">{{
            title(versionOf(stack[turn]!))
          }}</span>
          <p v-if="stack.some(isGone)" class="gone" data-gone>
            Frame {{ frame + first }} of
            {{
              stack
                .filter(isGone)
                .map((jobId) => title(versionOf(jobId)).split(',')[0])
                .join(' and ')
            }}
            is not here.
            {{
              settles
                ? 'Render it again, or bring the project in from an archive with its renders.'
                : 'Ask whoever sent you this link.'
            }}
          </p>
        </div>
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
            v-for="note in notes.filter((one) => shown.includes(one.jobId))"
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
      <form v-if="pending" class="new" @submit.prevent="pin">
        <p class="m-0">Frame <b>{{ frame + first }}</b>, at the mark</p>
        <textarea
          v-model="words"
          rows="3"
          class="form-control"
          aria-label="Note"
          placeholder="What is to be done here"
          maxlength="2000"
        />
        <p v-if="!author.trim()" class="quiet m-0">Say above who you are first.</p>
        <span class="d-flex gap-2"
          ><BButton type="submit" variant="primary" :disabled="!words.trim() || !author.trim()">Pin it</BButton
          ><BButton variant="outline-secondary" @click="pending = null">Leave it</BButton></span
        >
      </form>
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
.pane {
  position: relative;
  overflow: hidden;
  width: min(100%, calc(100cqh * var(--aspect)));
  cursor: crosshair;
  touch-action: none;
}
.moved {
  position: absolute;
  inset: 0;
  transform-origin: 0 0;
  isolation: isolate;
}
img {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  user-select: none;
  image-rendering: auto;
}
.difference {
  mix-blend-mode: difference;
}
.away {
  visibility: hidden;
}
.tag {
  position: absolute;
  left: 8px;
  bottom: 8px;
  padding: 2px 8px;
  border-radius: 3px;
  background: #23262a;
  color: #fff;
  font-size: 13px;
  pointer-events: none;
}
.gone {
  position: absolute;
  inset: auto 0 40% 0;
  margin: 0 auto;
  width: fit-content;
  max-width: 80%;
  padding: 8px 12px;
  border-radius: 4px;
  background: var(--paper);
  color: var(--ink);
  font-size: 14px;
  text-align: center;
  pointer-events: none;
}
.border {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 2px;
  margin-left: -1px;
  background: #fff;
  outline: 1px solid #000;
  cursor: ew-resize;
}
.pin {
  position: absolute;
  min-width: 24px;
  height: 24px;
  padding: 0 6px;
  border-radius: 12px 12px 12px 2px;
  background: var(--accent);
  color: var(--on-accent);
  font-size: 13px;
  font-weight: 660;
  line-height: 22px;
  text-align: center;
  border: 1px solid #fff;
  pointer-events: none;
}
.pin.settled {
  background: #fff;
  color: #23262a;
  border-style: dashed;
  border-color: #23262a;
}
.pin.pending {
  background: #23262a;
  color: #fff;
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
.new {
  display: grid;
  gap: 8px;
  margin-bottom: 12px;
  padding: 10px;
  border: 1px solid var(--accent);
  border-radius: 4px;
  background: var(--white);
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
