<script setup lang="ts">
import { computed, ref } from 'vue';
import { moveJoin, moveSpan } from '../steps/follow/splice/span-edits.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { ROWS } from './draw-parts.ts';
import { frameAt, frameLeft, type LedgerScale } from './ledger-scale.ts';

/** What the motion is made from, as bars in line with the frames; joins, and spans between two others, are dragged, or moved by arrow keys. */
const props = defineProps<{ scale: LedgerScale; nameOf: (frame: number) => string }>();
const shot = useShot();
const doc = useDocument();
const head = usePlayhead();
const dragging = ref<number | null>(null);
const SAYS = {
  plane: 'region',
  points: 'points',
  keys: 'hand keys',
  scene: 'room',
  hold: 'still',
  shot: 'another shot',
} as const;
const spans = computed(() => {
  const all = doc.document?.spans ?? [{ from: 0, to: Math.max(0, shot.frames - 1), source: 'plane' as const }];
  const { left, width } = props.scale;
  return all.flatMap((span, index) => {
    const a = Math.max(left, frameLeft(props.scale, span.from));
    const b = Math.min(left + width, frameLeft(props.scale, span.to + 1));
    return b > a
      ? [
          {
            index,
            source: span.source,
            from: span.from,
            left: a,
            width: b - a,
            begins: frameLeft(props.scale, span.from) >= left && index > 0 && all[index - 1]!.to + 1 === span.from,
            between: index > 0 && index < all.length - 1,
          },
        ]
      : [];
  });
});

function onDown(event: PointerEvent, index: number): void {
  if (event.button !== 0) return;
  dragging.value = index;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
function onMove(event: PointerEvent): void {
  const index = dragging.value;
  const row = (event.currentTarget as Element).parentElement!.getBoundingClientRect();
  if (index === null) return;
  doc.drag((draft) =>
    moveJoin(draft, index, frameAt(props.scale, event.clientX - row.left + props.scale.width / props.scale.across / 2)),
  );
}
function onUp(): void {
  const index = dragging.value;
  dragging.value = null;
  doc.settle();
  const from = index === null ? undefined : doc.document?.spans?.[index]?.from;
  if (from !== undefined) head.goTo(from);
}
/** A whole span under the pointer: where it was taken hold of, and whether it has moved. */
const held = ref<{ index: number; frame: number; moved: boolean } | null>(null);
const frameOf = (event: PointerEvent) =>
  frameAt(props.scale, event.clientX - (event.currentTarget as Element).parentElement!.getBoundingClientRect().left);
function onBarDown(event: PointerEvent, index: number): void {
  if (event.button !== 0) return;
  held.value = { index, frame: frameOf(event), moved: false };
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
function onBarMove(event: PointerEvent): void {
  const h = held.value;
  const by = h ? frameOf(event) - h.frame : 0;
  if (!h || by === 0) return;
  let moved = 0;
  doc.drag((draft) => {
    moved = moveSpan(draft, h.index, by);
  });
  held.value = { ...h, frame: h.frame + moved, moved: h.moved || moved !== 0 };
}
function onBarUp(event: PointerEvent): void {
  const h = held.value;
  held.value = null;
  if (h?.moved) doc.settle();
  else if (h) head.goTo(frameOf(event));
}
function onBarKey(event: KeyboardEvent, index: number): void {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (by === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  doc.edit((draft) => void moveSpan(draft, index, by));
}
function onKey(event: KeyboardEvent, index: number, from: number): void {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (by === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  doc.edit((draft) => moveJoin(draft, index, from + by));
}
</script>

<template>
  <div class="spans" :style="{ top: `${ROWS.second.top}px`, height: `${ROWS.second.height}px` }">
    <template v-for="span in spans" :key="span.index">
      <button
        v-if="span.between"
        type="button"
        class="bar whole"
        :class="span.source"
        :style="{ left: `${span.left}px`, width: `${span.width - 1}px` }"
        :data-span-bar="span.source"
        :aria-label="`Span from frame ${nameOf(span.from)}`"
        title="Drag it as it is, or press left and right"
        @pointerdown.stop="onBarDown($event, span.index)"
        @pointermove="onBarMove"
        @pointerup="onBarUp"
        @keydown="onBarKey($event, span.index)"
      >
        {{ SAYS[span.source] }}
      </button>
      <span
        v-else
        class="bar"
        :class="span.source"
        :style="{ left: `${span.left}px`, width: `${span.width - 1}px` }"
        :data-span-bar="span.source"
        >{{ SAYS[span.source] }}</span
      >
    </template>
    <button
      v-for="span in spans.filter((s) => s.begins)"
      :key="`j${span.index}`"
      type="button"
      class="joint"
      :style="{ left: `${span.left}px` }"
      :aria-label="`Join at frame ${nameOf(span.from)}`"
      :title="`Join at frame ${nameOf(span.from)}: drag it, or press left and right`"
      :data-joint="span.from"
      @pointerdown.stop="onDown($event, span.index)"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey($event, span.index, span.from)"
    />
  </div>
</template>

<style scoped>
.spans {
  position: absolute;
  left: 0;
  right: 0;
  pointer-events: none;
}
.bar {
  position: absolute;
  top: 3px;
  height: 17px;
  padding: 0 6px;
  font-size: 13px;
  line-height: 16px;
  overflow: hidden;
  white-space: nowrap;
  border: 1px solid var(--line);
  border-left: 3px solid var(--ink-soft);
  background: var(--paper-sunk);
  color: var(--ink);
}
.whole {
  text-align: left;
  border-radius: 0;
  pointer-events: auto;
  cursor: grab;
  touch-action: none;
}
.whole:active {
  cursor: grabbing;
}
.bar.keys {
  border-left-color: var(--accent);
  background: var(--accent-soft);
}
.bar.points {
  border-left-style: double;
  border-left-width: 5px;
}
.bar.hold {
  border-left-style: dotted;
}
.joint {
  position: absolute;
  top: 0;
  width: 11px;
  height: 23px;
  margin-left: -6px;
  padding: 0;
  border: 0;
  background: none;
  pointer-events: auto;
  cursor: ew-resize;
  touch-action: none;
}
.joint:focus-visible {
  outline-offset: -1px;
}
</style>
