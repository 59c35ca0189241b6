<script setup lang="ts">
import { computed } from 'vue';
import { timePartAt, usedFrames, type ContentTime, type TimePart } from '../../../core/picture/content/content-time.ts';
import type { ContentTiming } from '../../../core/base/schemas/types.ts';
import { endOn, moveSpeedKey, speedKeys, toggleSpeedKey } from '../steps/content/time-edits.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { ROWS } from './draw-parts.ts';
import { frameLeft, frameMiddle, framesInView, type LedgerScale } from './ledger-scale.ts';
import { useRowDrag } from './use-row-drag.ts';

/** Where on the plate the content runs in its time, is held, comes again or is not there; its ends are dragged, and so are keys of its speed. */
const props = defineProps<{ scale: LedgerScale; nameOf: (frame: number) => string }>();
const shot = useShot();
const doc = useDocument();
const head = usePlayhead();
const time = computed<ContentTiming>(() => doc.document!.look.time ?? {});
const frames = computed(() => shot.content!.facts!.frames);
const plateRate = computed(() => shot.plate!.facts!.rate);
const rate = computed(() => (shot.content!.kind === 'clip' ? shot.content!.facts!.rate : plateRate.value));
const SAYS: Readonly<Record<TimePart, string>> = {
  'in time': 'shown in its time',
  held: 'one frame held',
  again: 'shown again',
  nothing: 'not there',
};
const runs = computed(() => {
  const [from, to] = framesInView(props.scale);
  const out: { part: TimePart; from: number; to: number }[] = [];
  for (let frame = from; frame <= Math.min(to, shot.frames - 1); frame++) {
    const part = timePartAt(time.value, frame, plateRate.value, rate.value, frames.value);
    const last = out.at(-1);
    if (last?.part === part) last.to = frame;
    else out.push({ part, from: frame, to: frame });
  }
  const right = props.scale.left + props.scale.width;
  return out
    .map((run) => {
      const left = Math.max(props.scale.left, frameLeft(props.scale, run.from));
      return { ...run, left, width: Math.min(right, frameLeft(props.scale, run.to + 1)) - left };
    })
    .filter((run) => run.width > 0);
});
const inTime = computed(() => runs.value.find((run) => run.part === 'in time') ?? null);
const used = computed(() => usedFrames(time.value as ContentTime, frames.value));
const ends = computed(() => {
  const run = inTime.value;
  return run === null
    ? []
    : [
        {
          which: 'start' as const,
          x: run.left,
          title: `Content starts on frame ${props.nameOf(run.from)}: drag to start it elsewhere`,
        },
        {
          which: 'end' as const,
          x: run.left + run.width,
          title: `Content ends with its frame ${used.value[1]}: drag to cut it there`,
        },
      ];
});
const keys = computed(() =>
  speedKeys(time.value)
    .map(({ frame, value }) => ({
      frame,
      x: frameMiddle(props.scale, frame),
      title: `Speed ${Math.round(100 * value)} % on frame ${props.nameOf(frame)}`,
    }))
    .filter((key) => key.x >= props.scale.left && key.x <= props.scale.left + props.scale.width),
);

function change(how: 'edit' | 'drag', recipe: (time: ContentTiming) => void): void {
  doc[how]((draft) => recipe((draft.look.time ??= {})));
}
type Held = { what: 'start' | 'end' | 'key'; frame: number };
const { take, onMove, onUp } = useRowDrag<Held>(
  () => ({ scale: props.scale, frames: shot.frames }),
  ({ what, frame }, to) => {
    let made = true;
    change('drag', (t) => {
      if (what === 'start') t.start = to;
      else if (what === 'end') made = endOn(t, to, plateRate.value, rate.value, frames.value);
      else made = moveSpeedKey(t, frame, to);
    });
    return made;
  },
  ({ what, frame }) => {
    doc.settle();
    if (what === 'key') head.goTo(frame);
  },
);
function onDown(event: PointerEvent, what: Held['what'], frame: number): void {
  if (event.button === 0) take(event, { what, frame });
}
function onKey(event: KeyboardEvent, what: 'start' | 'end' | 'key', frame: number): void {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (by !== undefined && what === 'start') change('edit', (t) => (t.start = (t.start ?? 0) + by));
  else if (by !== undefined && what === 'end')
    change(
      'edit',
      (t) => (t.trim = [used.value[0], Math.max(used.value[0], Math.min(frames.value - 1, used.value[1] + by))]),
    );
  else if (by !== undefined) change('edit', (t) => void moveSpeedKey(t, frame, frame + by));
  else if (what === 'key' && event.key === 'Delete') change('edit', (t) => toggleSpeedKey(t, frame));
  else return;
  event.preventDefault();
  event.stopPropagation();
}
</script>

<template>
  <div class="content" :style="{ top: `${ROWS.second.top}px`, height: `${ROWS.second.height}px` }" data-ledger-content>
    <span
      v-for="run in runs"
      :key="`${run.part}${run.from}`"
      class="run"
      :class="run.part.replace(' ', '-')"
      :style="{ left: `${run.left}px`, width: `${run.width}px` }"
      :title="`Frames ${nameOf(run.from)}–${nameOf(run.to)}: ${SAYS[run.part]}`"
      :data-run="run.part"
      >{{ run.part === 'in time' && run.width > 90 ? `${used[0]}–${used[1]}` : '' }}</span
    >
    <button
      v-for="end in ends"
      :key="end.which"
      type="button"
      class="end"
      :style="{ left: `${end.x}px` }"
      :title="end.title"
      :aria-label="end.title"
      :data-content-end="end.which"
      @pointerdown.stop="onDown($event, end.which, -1)"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey($event, end.which, -1)"
    />
    <button
      v-for="key in keys"
      :key="key.frame"
      type="button"
      class="key"
      :style="{ left: `${key.x}px` }"
      :title="`${key.title}: drag to move in time, Delete removes it`"
      :aria-label="key.title"
      :data-speed-key="key.frame"
      @pointerdown.stop="onDown($event, 'key', key.frame)"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey($event, 'key', key.frame)"
    >
      <svg width="12" height="12" viewBox="-6 -6 12 12"><path d="M-4 -5L5 0L-4 5Z" /></svg>
    </button>
  </div>
</template>

<style scoped>
.content {
  position: absolute;
  left: 0;
  right: 0;
  pointer-events: none;
}
.run {
  position: absolute;
  top: 0;
  height: 100%;
  font-size: 12px;
  line-height: 20px;
  padding-left: 8px;
  overflow: hidden;
  background: var(--paper);
  border-top: 1px solid var(--line);
  border-bottom: 1px solid var(--line);
}
.in-time {
  background: var(--ink);
  color: var(--paper);
  border-color: var(--ink);
}
.held {
  background: repeating-linear-gradient(90deg, var(--ink-soft) 0 1px, var(--paper) 1px 5px);
}
.again {
  background: repeating-linear-gradient(135deg, var(--ink-soft) 0 2px, var(--paper) 2px 6px);
}
.end {
  position: absolute;
  top: -3px;
  width: 9px;
  height: 26px;
  margin-left: -4.5px;
  padding: 0;
  border: 1.5px solid var(--ink);
  border-radius: 2px;
  background: var(--paper);
  pointer-events: auto;
  cursor: ew-resize;
  touch-action: none;
}
.key {
  position: absolute;
  top: 1px;
  width: 18px;
  height: 18px;
  margin-left: -9px;
  padding: 3px;
  border: 0;
  background: none;
  line-height: 0;
  pointer-events: auto;
  cursor: ew-resize;
  touch-action: none;
}
path {
  fill: var(--accent);
  stroke: var(--paper);
  stroke-width: 1;
}
</style>
