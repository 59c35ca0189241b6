<script setup lang="ts">
import { computed } from 'vue';
import { lookKeyFrames, moveLookKeys, removeLookKeys } from '../steps/blend/look-keys.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { ROWS } from './draw-parts.ts';
import { frameMiddle, type LedgerScale } from './ledger-scale.ts';
import { rowKey } from './row-key.ts';
import { useRowDrag } from './use-row-drag.ts';

/** Keys of the look: press to go there, drag to move those of a frame in time, Delete to remove them. */
const props = defineProps<{ scale: LedgerScale; nameOf: (frame: number) => string }>();
const shot = useShot();
const doc = useDocument();
const head = usePlayhead();
const keys = computed(() =>
  lookKeyFrames(doc.document!.look)
    .map(({ frame, titles }) => ({
      frame,
      x: frameMiddle(props.scale, frame),
      title: `Key on frame ${props.nameOf(frame)}: ${titles.join(', ')}`,
    }))
    .filter(({ x }) => x >= props.scale.left && x <= props.scale.left + props.scale.width),
);
const { take, onMove, onUp } = useRowDrag<{ frame: number }>(
  () => ({ scale: props.scale, frames: shot.frames }),
  ({ frame }, to) => {
    let moved = false;
    doc.drag((draft) => (moved = moveLookKeys(draft.look, frame, to)));
    return moved;
  },
  ({ frame }) => {
    doc.settle();
    head.goTo(frame);
  },
);
function onKey(event: KeyboardEvent, frame: number): void {
  rowKey(event, {
    go: () => head.goTo(frame),
    remove: () => doc.edit((draft) => removeLookKeys(draft.look, frame)),
    move: (by) =>
      frame + by >= 0 &&
      frame + by < shot.frames &&
      doc.edit((draft) => void moveLookKeys(draft.look, frame, frame + by)),
  });
}
</script>

<template>
  <div class="keys" :style="{ top: `${ROWS.second.top}px`, height: `${ROWS.second.height}px` }">
    <button
      v-for="key in keys"
      :key="key.frame"
      type="button"
      class="key"
      :class="{ here: key.frame === head.frame }"
      :style="{ left: `${key.x}px` }"
      :title="`${key.title}; drag to move in time, Delete removes it`"
      :aria-label="key.title"
      :data-look-key="key.frame"
      @pointerdown.stop="$event.button === 0 && take($event, { frame: key.frame })"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey($event, key.frame)"
    >
      <span />
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
  height: 16px;
  margin-left: -9px;
  padding: 0;
  border: 0;
  background: none;
  pointer-events: auto;
  cursor: ew-resize;
  touch-action: none;
  display: grid;
  place-items: center;
}
.key span {
  width: 10px;
  height: 8px;
  border: 1.6px solid var(--ink);
  border-radius: 2px;
  background: var(--paper);
}
.key.here span {
  background: var(--accent);
}
</style>
