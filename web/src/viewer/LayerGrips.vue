<script setup lang="ts">
import { computed } from 'vue';
import type { BoardLayer } from '../../../core/base/schemas/types.ts';
import { scaleLayerTo, turnLayerTo } from '../steps/content/board-edits.ts';
import { useBoard } from '../stores/board.ts';
import { useDocument } from '../stores/document.ts';
import { usePlayhead } from '../stores/playhead.ts';

/** Corners and a stalk of the layer that was picked last: it is scaled and turned about its anchor by them. */
const props = defineProps<{
  /** The layer's corners on the page, px. */
  outline: readonly (readonly number[])[];
  /** Pixels of the page to one of the board. */
  scale: number;
}>();
const doc = useDocument();
const head = usePlayhead();
const stage = useBoard();
const STALK = 30;
const grips = computed(() => {
  const [a, b, c, d] = props.outline as [number, number][];
  const mid = [(a![0] + b![0]) / 2, (a![1] + b![1]) / 2];
  const centre = [(a![0] + c![0]) / 2, (a![1] + c![1]) / 2];
  const away = Math.hypot(mid[0]! - centre[0]!, mid[1]! - centre[1]!) || 1;
  return {
    corners: [a!, b!, c!, d!],
    mid,
    stalk: [mid[0]! + (STALK * (mid[0]! - centre[0]!)) / away, mid[1]! + (STALK * (mid[1]! - centre[1]!)) / away],
  };
});
let grip: { turns: boolean; from: readonly [number, number]; start: BoardLayer } | null = null;
function boardAt(event: PointerEvent): [number, number] {
  const box = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  return [(event.clientX - box.left) / props.scale, (event.clientY - box.top) / props.scale];
}
function onGrip(event: PointerEvent, turns: boolean): void {
  if (event.button !== 0 || !stage.layer) return;
  event.stopPropagation();
  grip = { turns, from: boardAt(event), start: JSON.parse(JSON.stringify(stage.layer)) as BoardLayer };
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
function onGripMove(event: PointerEvent): void {
  if (!grip) return;
  const { turns, from: held, start } = grip;
  const to = boardAt(event);
  const frame = head.frame;
  stage.change((board) => {
    const layer = board.layers.find((l) => l.id === start.id);
    if (!layer) return;
    if (turns) turnLayerTo(layer, start, frame, held, to, event.shiftKey);
    else scaleLayerTo(layer, start, frame, held, to, event.shiftKey ? 'each' : 'both');
  }, 'drag');
}
function onGripUp(): void {
  if (grip) doc.settle();
  grip = null;
}
</script>

<template>
  <g>
    <path class="stem" :d="`M${grips.mid}L${grips.stalk}`" />
    <circle
      class="grip"
      r="5.5"
      :cx="grips.stalk[0]"
      :cy="grips.stalk[1]"
      data-layer-turn
      @pointerdown="onGrip($event, true)"
      @pointermove="onGripMove"
      @pointerup="onGripUp"
    >
      <title>Turn it about its anchor; Shift turns freely</title>
    </circle>
    <rect
      v-for="(p, i) in grips.corners"
      :key="i"
      class="grip"
      width="10"
      height="10"
      :x="p[0] - 5"
      :y="p[1] - 5"
      :data-layer-corner="i"
      @pointerdown="onGrip($event, false)"
      @pointermove="onGripMove"
      @pointerup="onGripUp"
    >
      <title>Scale it about its anchor; Shift: each way by itself</title>
    </rect>
  </g>
</template>

<style scoped>
.stem {
  stroke: var(--mark);
  stroke-width: 1.6;
  pointer-events: none;
}
.grip {
  fill: var(--mark);
  stroke: var(--mark-under);
  stroke-width: 1.4;
  pointer-events: all;
  cursor: pointer;
}
</style>
