<script setup lang="ts">
import { computed } from 'vue';
import { keyFrames, moveKeys, removeKeys } from '../steps/content/board-edits.ts';
import { useBoard } from '../stores/board.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { ROWS } from './draw-parts.ts';
import { frameMiddle, type LedgerScale } from './ledger-scale.ts';
import { rowKey } from './row-key.ts';
import { useRowDrag } from './use-row-drag.ts';

/** Keys of the board's picked layers (of all, faintly, when none is): press to go there, drag to move in time, Delete to remove. */
const props = defineProps<{ scale: LedgerScale; nameOf: (frame: number) => string }>();
const shot = useShot();
const doc = useDocument();
const head = usePlayhead();
const stage = useBoard();
const keys = computed(() =>
  (stage.board?.layers ?? [])
    .filter((layer) => stage.picked.length === 0 || stage.picked.includes(layer.id))
    .flatMap((layer) =>
      keyFrames(layer).map(({ frame, names }) => ({
        id: layer.id,
        frame,
        x: frameMiddle(props.scale, frame),
        title: `Key of ${layer.name ?? layer.id} on frame ${props.nameOf(frame)}: ${names.join(', ')}`,
      })),
    )
    .filter((key) => key.x >= props.scale.left && key.x <= props.scale.left + props.scale.width),
);

const { take, onMove, onUp } = useRowDrag<{ id: string; frame: number }>(
  () => ({ scale: props.scale, frames: shot.frames }),
  ({ id, frame }, to) => {
    let made = false;
    stage.change(
      (board) =>
        (made = moveKeys(
          board.layers.find((l) => l.id === id)!,
          frame,
          to,
        )),
      'drag',
    );
    return made;
  },
  ({ frame }) => {
    doc.settle();
    head.goTo(frame);
  },
);
function onDown(event: PointerEvent, id: string, frame: number): void {
  if (event.button !== 0) return;
  if (!stage.picked.includes(id)) stage.pick(id);
  take(event, { id, frame });
}
function onKey(event: KeyboardEvent, id: string, frame: number): void {
  const layerOf = (board: NonNullable<typeof stage.board>) => board.layers.find((l) => l.id === id)!;
  rowKey(event, {
    go: () => head.goTo(frame),
    remove: () => stage.change((board) => removeKeys(layerOf(board), frame)),
    move: (by) => stage.change((board) => void moveKeys(layerOf(board), frame, frame + by)),
  });
}
</script>

<template>
  <div class="keys" :style="{ top: `${ROWS.second.top}px`, height: `${ROWS.second.height}px` }">
    <button
      v-for="key in keys"
      :key="`${key.id}-${key.frame}`"
      type="button"
      class="key"
      :class="{ picked: stage.picked.includes(key.id) }"
      :style="{ left: `${key.x}px` }"
      :title="`${key.title}: drag to move in time, Delete removes it`"
      :aria-label="key.title"
      :data-layer-key="`${key.id}-${key.frame}`"
      @pointerdown.stop="onDown($event, key.id, key.frame)"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey($event, key.id, key.frame)"
    >
      <svg width="14" height="14" viewBox="-7 -7 14 14"><path d="M-5.5 3A5.5 5.5 0 1 1 5.5 3Z" /></svg>
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
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 1.4;
}
.picked path {
  fill: var(--ink);
}
</style>
