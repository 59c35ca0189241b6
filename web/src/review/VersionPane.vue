<script setup lang="ts">
import { computed, ref } from 'vue';
import { clamp } from '../../../core/base/geometry/clamp.ts';
import type { ReviewNote, ReviewVersion } from '../../../core/base/schemas/types.ts';
import type { useZoomedPicture } from './use-zoomed-picture.ts';

/** A version's frame, or one laid over another: in turns, up to a border, or as what differs; with the pins of both. */
const props = defineProps<{
  stack: readonly ReviewVersion[];
  frame: number;
  /** The number that the shot's first frame bears. */
  first: number;
  mode: string;
  /** Which of the stack is seen, in turns. */
  turn: number;
  zoomed: ReturnType<typeof useZoomedPicture>;
  notes: readonly ReviewNote[];
  pending: { jobId: number; at: [number, number] } | null;
  settles: boolean;
  address: (jobId: number, frame: number) => string;
  title: (version: ReviewVersion) => string;
}>();
const emit = defineEmits<{ mark: [at: { jobId: number; at: [number, number] }] }>();
/** Where a wipe's border is, from 0 at the left to 1. */
const border = defineModel<number>('border', { required: true });
const { scale, offset, transform, inPicture, moveTo, zoom } = props.zoomed;

let drag: { x: number; y: number; from: [number, number]; moved: boolean; wipe: boolean } | null = null;
function press(event: PointerEvent): void {
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  drag = {
    x: event.clientX,
    y: event.clientY,
    from: offset.value,
    moved: false,
    wipe: props.mode === 'wipe' && Math.abs(inPicture(event)[0] - border.value) * scale.value < 0.02,
  };
}
function move(event: PointerEvent): void {
  if (!drag) return;
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
  const dx = event.clientX - drag.x;
  const dy = event.clientY - drag.y;
  drag.moved ||= Math.hypot(dx, dy) > 4;
  if (drag.wipe) border.value = clamp(inPicture(event)[0], 0, 1);
  else if (drag.moved && scale.value > 1) moveTo([drag.from[0] + dx / box.width, drag.from[1] + dy / box.height]);
}
function release(event: PointerEvent): void {
  const was = drag;
  drag = null;
  if (!was || was.moved || was.wipe) return;
  const [x, y] = inPicture(event);
  const over = (props.mode === 'wipe' && x > border.value) || (props.mode === 'in turns' && props.turn === 1);
  emit('mark', { jobId: props.stack[over ? 1 : 0]!.jobId, at: [clamp(x, 0, 1), clamp(y, 0, 1)] });
}

/** Whether one of a stack of two is seen now. */
const isSeen = (k: number) => props.mode !== 'in turns' || k === props.turn;
const pins = computed(() =>
  props.notes.filter(
    (note) => note.frame === props.frame && props.stack.some(({ jobId }, k) => jobId === note.jobId && isSeen(k)),
  ),
);
const numberOf = (note: ReviewNote) => props.notes.indexOf(note) + 1;
const placeOf = ([x, y]: readonly [number, number]) => ({
  left: `${100 * x}%`,
  top: `${100 * y}%`,
  transform: `translate(-50%, -50%) scale(${1 / scale.value})`,
});
/** Pictures that are not there, by their addresses. */
const gone = ref(new Set<string>());
const missing = computed(() => props.stack.filter(({ jobId }) => gone.value.has(props.address(jobId, props.frame))));
</script>

<template>
  <div class="pane" @wheel.prevent="zoom" @pointerdown="press" @pointermove="move" @pointerup="release">
    <div class="moved" :style="transform">
      <img
        v-for="(version, k) in stack"
        :key="k"
        :src="address(version.jobId, frame)"
        :alt="`Frame ${frame + first} of ${title(version)}`"
        draggable="false"
        :class="{ over: k > 0, difference: k > 0 && mode === 'difference', away: !isSeen(k) }"
        :style="k > 0 && mode === 'wipe' ? { clipPath: `inset(0 0 0 ${100 * border}%)` } : {}"
        :data-version="version.jobId"
        :data-frame="frame"
        @error="gone.add(address(version.jobId, frame))"
        @load="gone.delete(address(version.jobId, frame))"
      />
      <i
        v-if="mode === 'wipe'"
        class="border"
        :style="{ left: `${100 * border}%`, transform: `scaleX(${1 / scale})` }"
      />
      <span
        v-for="note in pins"
        :key="note.id"
        class="pin"
        :class="{ settled: note.settled }"
        :style="placeOf(note.at)"
        :title="note.words"
        :data-pin="note.id"
        >{{ numberOf(note) }}</span
      >
      <span
        v-if="pending && stack.some(({ jobId }) => jobId === pending!.jobId)"
        class="pin pending"
        :style="placeOf(pending.at)"
        >+</span
      >
    </div>
    <span v-if="mode === 'in turns'" class="tag" :data-turn="stack[turn]!.jobId">{{ title(stack[turn]!) }}</span>
    <p v-if="missing.length > 0" class="gone" data-gone>
      Frame {{ frame + first }} of {{ missing.map((one) => title(one).split(',')[0]).join(' and ') }} is not here.
      {{
        settles
          ? 'Render it again, or bring the project in from an archive with its renders.'
          : 'Ask whoever sent you this link.'
      }}
    </p>
  </div>
</template>

<style scoped>
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
  background: var(--mark-under);
  color: var(--mark);
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
  background: var(--mark);
  outline: 1px solid var(--mark-black);
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
  border: 1px solid var(--mark);
  pointer-events: none;
}
.pin.settled {
  background: var(--mark);
  color: var(--mark-under);
  border-style: dashed;
  border-color: var(--mark-under);
}
.pin.pending {
  background: var(--mark-under);
  color: var(--mark);
}
</style>
