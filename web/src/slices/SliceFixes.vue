<script setup lang="ts">
import { computed, ref } from 'vue';
import { frameAt, frameMiddle, type LedgerScale } from '../ledger/ledger-scale.ts';
import { changeFix, fixesByFrame, moveFix, removeFix } from '../steps/seat/seat-edits.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';

/** Fixes over the slices that they straighten: press to go there, drag to move in time, Delete to remove, M to mute. */
const props = defineProps<{ scale: LedgerScale }>();
const shot = useShot();
const doc = useDocument();
const head = usePlayhead();
const dragging = ref<number | null>(null);
const fixes = computed(() =>
  fixesByFrame(doc.document?.corrections ?? [])
    .map(({ frame, keys }) => ({
      frame,
      x: frameMiddle(props.scale, frame),
      muted: keys.every((k) => k.muted === true),
      single: keys.every((k) => k.ease === 'single'),
      title: `Fix of frame ${frame + shot.firstNumber}: ${Math.max(...keys.map((k) => Math.hypot(k.dx, k.dy))).toFixed(2)} px`,
    }))
    .filter((fix) => fix.x >= props.scale.left && fix.x <= props.scale.left + props.scale.width),
);
const isTaken = (frame: number) => (doc.document?.corrections ?? []).some((c) => c.frame === frame);

function onDown(event: PointerEvent, frame: number): void {
  if (event.button !== 0) return;
  dragging.value = frame;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
function onMove(event: PointerEvent): void {
  if (dragging.value === null) return;
  const row = (event.currentTarget as Element).parentElement!.getBoundingClientRect();
  const from = dragging.value;
  const to = frameAt(props.scale, event.clientX - row.left);
  // Over another fix it waits until it is past.
  if (to === from || isTaken(to)) return;
  doc.drag((draft) => moveFix(draft, from, to));
  dragging.value = to;
}
function onUp(): void {
  if (dragging.value === null) return;
  doc.settle();
  head.goTo(dragging.value);
  dragging.value = null;
}
function onKey(event: KeyboardEvent, frame: number, muted: boolean): void {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  const to = frame + (by ?? 0);
  if (event.key === 'Enter') head.goTo(frame);
  else if (event.key === 'Delete') doc.edit((draft) => removeFix(draft, frame));
  else if (event.key === 'm') {
    doc.edit((draft) =>
      changeFix(draft, frame, (key) => {
        if (muted) delete key.muted;
        else key.muted = true;
      }),
    );
  } else if (by !== undefined && to >= 0 && to < shot.frames && !isTaken(to))
    doc.edit((draft) => moveFix(draft, frame, to));
  else return;
  event.preventDefault();
  event.stopPropagation();
}
</script>

<template>
  <div v-if="fixes.length > 0" class="fixes">
    <span class="label">fixes</span>
    <button
      v-for="fix in fixes"
      :key="fix.frame"
      type="button"
      class="fix"
      :class="{ muted: fix.muted, here: fix.frame === head.frame }"
      :style="{ left: `${fix.x}px` }"
      :title="`${fix.title}. Drag to move in time, Delete removes it, M mutes it`"
      :aria-label="fix.title"
      :data-slice-fix="fix.frame"
      @pointerdown.stop="onDown($event, fix.frame)"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey($event, fix.frame, fix.muted)"
    >
      <svg width="13" height="13" viewBox="-7 -7 14 14">
        <path :d="fix.single ? 'M0 -5V5M-4 5H4' : 'M-5 -4H5L0 5Z'" />
      </svg>
    </button>
  </div>
</template>

<style scoped>
.fixes {
  position: relative;
  height: 19px;
  border-bottom: 1px solid var(--line);
}
.label {
  position: absolute;
  left: 0;
  width: 75px;
  text-align: right;
  font-size: 13px;
  line-height: 18px;
  color: var(--ink);
}
.fix {
  position: absolute;
  top: 1px;
  width: 17px;
  height: 17px;
  margin-left: -8.5px;
  padding: 2px;
  border: 0;
  background: none;
  line-height: 0;
  cursor: ew-resize;
  touch-action: none;
}
path {
  fill: var(--ink);
  stroke: var(--ink);
  stroke-width: 1.6;
}
.muted path {
  fill: none;
}
.here path {
  fill: var(--accent);
  stroke: var(--accent);
}
</style>
