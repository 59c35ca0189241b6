<script setup lang="ts">
import { computed } from 'vue';
import { moveHandKey, removeHandKey } from '../steps/follow/keys/key-edits.ts';
import { useHandKeys } from '../stores/hand-keys.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { ROWS } from './draw-parts.ts';
import { frameMiddle, type LedgerScale } from './ledger-scale.ts';
import { rowKey } from './row-key.ts';
import { useRowDrag } from './use-row-drag.ts';

/** Corners keyed by hand, and the frames between that were pulled onto the picture: press to go there, drag a key to move it in time, Delete to remove it. */
const props = defineProps<{ scale: LedgerScale; nameOf: (frame: number) => string }>();
const shot = useShot();
const doc = useDocument();
const handKeys = useHandKeys();
const head = usePlayhead();
const inView = (frame: number) => {
  const x = frameMiddle(props.scale, frame);
  return x >= props.scale.left && x <= props.scale.left + props.scale.width;
};
const keys = computed(() => handKeys.keys.map((k) => k.frame).filter(inView));
const pulled = computed(() => [...handKeys.held.keys()].filter(inView));

const { take, onMove, onUp } = useRowDrag<{ frame: number }>(
  () => ({ scale: props.scale, frames: shot.frames }),
  ({ frame }, to) => {
    if (handKeys.keys.some((k) => k.frame === to)) return false;
    doc.drag((draft) => moveHandKey(draft, frame, to));
    return true;
  },
  ({ frame }) => {
    doc.settle();
    head.goTo(frame);
  },
);
function onDown(event: PointerEvent, frame: number): void {
  if (event.button === 0) take(event, { frame });
}
function onKey(event: KeyboardEvent, frame: number): void {
  rowKey(event, {
    go: () => head.goTo(frame),
    remove: () => doc.edit((draft) => removeHandKey(draft, frame)),
    move: (by) =>
      frame + by >= 0 && frame + by < shot.frames && doc.edit((draft) => moveHandKey(draft, frame, frame + by)),
  });
}
</script>

<template>
  <div class="keys" :style="{ top: `${ROWS.second.top}px`, height: `${ROWS.second.height}px` }">
    <span
      v-for="frame in pulled"
      :key="`p${frame}`"
      class="pulled"
      :style="{ left: `${frameMiddle(scale, frame)}px` }"
    />
    <button
      v-for="frame in keys"
      :key="frame"
      type="button"
      class="key"
      :style="{ left: `${frameMiddle(scale, frame)}px` }"
      :title="`Hand key on frame ${nameOf(frame)}: drag to move in time, Delete removes it`"
      :aria-label="`Hand key on frame ${nameOf(frame)}`"
      :data-hand-key="frame"
      @pointerdown.stop="onDown($event, frame)"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey($event, frame)"
    >
      <svg width="14" height="14" viewBox="-7 -7 14 14"><path d="M-4 -6H4V1L0 6L-4 1Z" /></svg>
    </button>
  </div>
</template>

<style scoped>
.keys {
  position: absolute;
  left: 0;
  right: 0;
  pointer-events: none;
}
.key {
  position: absolute;
  top: 2px;
  width: 18px;
  height: 18px;
  margin-left: -9px;
  padding: 2px;
  border: 0;
  background: none;
  line-height: 0;
  pointer-events: auto;
  cursor: ew-resize;
  touch-action: none;
}
path {
  fill: var(--accent);
  stroke: var(--ink);
  stroke-width: 1.2;
}
.pulled {
  position: absolute;
  top: 9px;
  width: 5px;
  height: 5px;
  margin-left: -2.5px;
  border-radius: 50%;
  background: var(--ink-soft);
}
</style>
