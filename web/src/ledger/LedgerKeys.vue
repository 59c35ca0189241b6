<script setup lang="ts">
import { computed } from 'vue';
import { keyFrames, moveKey, removeKey } from '../steps/follow/edit-outline.ts';
import { homeOf, OUTLINE_NAMES, outlinesOf, type OutlineKind } from '../steps/follow/outlines-of.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { ROWS } from './draw-parts.ts';
import { frameMiddle, type LedgerScale } from './ledger-scale.ts';
import { rowKey } from './row-key.ts';
import { useRowDrag } from './use-row-drag.ts';

/** Keys of outlines: press to go there, drag to move in time, Delete to remove. */
const props = defineProps<{
  scale: LedgerScale;
  nameOf: (frame: number) => string;
  lists: readonly (keyof typeof MARKS)[];
}>();
const shot = useShot();
const doc = useDocument();
const head = usePlayhead();
const workspace = useWorkspace();
/** Diamonds for regions, triangles for keep-outs, arches for shapes, rings for areas of spilled light, crosses for fixes, hourglasses for what divides. */
const MARKS = {
  regions: 'M0 -6L6 0L0 6L-6 0Z',
  keepOut: 'M-6 -5H6L0 6Z',
  shapes: 'M-5.5 5V0A5.5 5.5 0 0 1 5.5 0V5Z',
  areas: 'M-5.5 4A5.5 5.5 0 1 1 5.5 4L2.6 4A3 3 0 1 0 -2.6 4Z',
  fixes: 'M-6 -2H-2V-6H2V-2H6V2H2V6H-2V2H-6Z',
  split: 'M-6 -5L6 5V-5L-6 5Z',
} as const;

const keys = computed(() => {
  const document = doc.document;
  if (!document) return [];
  return props.lists
    .flatMap((list) =>
      outlinesOf(document, list).flatMap((outline, index) =>
        keyFrames(outline, homeOf(document, outline)).map((frame) => ({
          list,
          index,
          frame,
          x: frameMiddle(props.scale, frame),
          still: frame === homeOf(document, outline),
          title: `Key of ${OUTLINE_NAMES[list]} ${index + 1} on frame ${props.nameOf(frame)}`,
        })),
      ),
    )
    .filter((key) => key.x >= props.scale.left && key.x <= props.scale.left + props.scale.width);
});

const { take, onMove, onUp } = useRowDrag<{ list: OutlineKind; index: number; frame: number }>(
  () => ({ scale: props.scale, frames: shot.frames }),
  ({ list, index, frame }, to) => {
    const drawn = outlinesOf(doc.document!, list)[index];
    if (!drawn || frame === homeOf(doc.document!, drawn)) return false;
    let made = false;
    doc.drag((draft) => {
      const outline = outlinesOf(draft, list)[index]!;
      made = moveKey(outline, frame, to, homeOf(draft, outline));
    });
    return made;
  },
  ({ frame }) => {
    doc.settle();
    head.goTo(frame);
  },
);
function onDown(event: PointerEvent, list: OutlineKind, index: number, frame: number): void {
  if (event.button !== 0) return;
  workspace.picked = { list, index };
  take(event, { list, index, frame });
}
function onKey(event: KeyboardEvent, list: OutlineKind, index: number, frame: number): void {
  rowKey(event, {
    go: () => head.goTo(frame),
    remove: () => doc.edit((draft) => removeKey(outlinesOf(draft, list)[index]!, frame)),
    move: (by) =>
      doc.edit((draft) => {
        const outline = outlinesOf(draft, list)[index]!;
        moveKey(outline, frame, frame + by, homeOf(draft, outline));
      }),
  });
}
</script>

<template>
  <div class="keys" :style="{ top: `${ROWS.second.top}px`, height: `${ROWS.second.height}px` }">
    <button
      v-for="key in keys"
      :key="`${key.list}${key.index}-${key.frame}`"
      type="button"
      class="key"
      :class="[
        key.list,
        { picked: workspace.picked?.list === key.list && workspace.picked.index === key.index, still: key.still },
      ]"
      :style="{ left: `${key.x}px` }"
      :title="key.still ? `${key.title} (where it was drawn)` : `${key.title}: drag to move in time, Delete removes it`"
      :aria-label="key.title"
      :data-key="`${key.list}-${key.index}-${key.frame}`"
      @pointerdown.stop="onDown($event, key.list, key.index, key.frame)"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey($event, key.list, key.index, key.frame)"
    >
      <svg width="14" height="14" viewBox="-7 -7 14 14"><path :d="MARKS[key.list]" /></svg>
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
.key.still {
  cursor: pointer;
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
