<script setup lang="ts">
import { computed, ref } from 'vue';
import { useViewing } from '../stores/viewing.ts';
import { toPage, toPlate } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** The border of the wipe: dragged in its middle it moves, at its grip it turns. Arrow keys do the same. */
const viewport = useViewport();
const viewing = useViewing();
const GRIP = 90;
const wipe = computed(() => viewing.wipe!);
const middle = computed(() => toPage(viewport.view, [wipe.value.x, wipe.value.y]));
const along = computed(() => [Math.cos(wipe.value.angle), Math.sin(wipe.value.angle)] as const);
const ends = computed(() => {
  const reach = viewport.width + viewport.height;
  const [x, y] = middle.value;
  const [dx, dy] = along.value;
  return [x - dx * reach, y - dy * reach, x + dx * reach, y + dy * reach];
});
const grip = computed(() => [middle.value[0] + along.value[0] * GRIP, middle.value[1] + along.value[1] * GRIP]);
const sides = computed(() => {
  const [x, y] = middle.value;
  const [dx, dy] = along.value;
  return { after: [x + dy * 34, y - dx * 34], before: [x - dy * 34, y + dx * 34] };
});
const held = ref<'middle' | 'grip' | null>(null);

function onDown(event: PointerEvent, part: 'middle' | 'grip'): void {
  held.value = part;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  event.stopPropagation();
}
function onMove(event: PointerEvent): void {
  if (!held.value) return;
  const rect = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  const x = event.clientX - rect.left;
  const y = event.clientY - rect.top;
  if (held.value === 'grip')
    viewing.wipe = { ...wipe.value, angle: Math.atan2(y - middle.value[1], x - middle.value[0]) };
  else {
    const [px, py] = toPlate(viewport.view, x, y);
    viewing.wipe = { ...wipe.value, x: px, y: py };
  }
}
function onKey(event: KeyboardEvent): void {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (by === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  const step = (by * (event.shiftKey ? 10 : 1)) / viewport.view.scale;
  const [dx, dy] = along.value;
  viewing.wipe = event.altKey
    ? { ...wipe.value, angle: wipe.value.angle + (by * Math.PI) / 36 }
    : { ...wipe.value, x: wipe.value.x - (dy * step) / viewport.view.aspect, y: wipe.value.y + dx * step };
}
</script>

<template>
  <g class="wipe" data-wipe>
    <line class="under" :x1="ends[0]" :y1="ends[1]" :x2="ends[2]" :y2="ends[3]" />
    <line class="over" :x1="ends[0]" :y1="ends[1]" :x2="ends[2]" :y2="ends[3]" />
    <text :x="sides.after[0]" :y="sides.after[1]! + 4" text-anchor="middle">finished</text>
    <text :x="sides.before[0]" :y="sides.before[1]! + 4" text-anchor="middle">plate</text>
    <circle
      class="handle"
      :cx="middle[0]"
      :cy="middle[1]"
      r="9"
      tabindex="0"
      role="slider"
      aria-label="Border, moved"
      :aria-valuenow="Math.round(wipe.x)"
      data-wipe-middle
      @pointerdown="onDown($event, 'middle')"
      @pointermove="onMove"
      @pointerup="held = null"
      @keydown="onKey"
    />
    <rect
      class="handle"
      :x="grip[0]! - 7"
      :y="grip[1]! - 7"
      width="14"
      height="14"
      rx="2"
      data-wipe-grip
      @pointerdown="onDown($event, 'grip')"
      @pointermove="onMove"
      @pointerup="held = null"
    />
  </g>
</template>

<style scoped>
.under {
  stroke: var(--mark-under);
  stroke-width: 3;
}
.over {
  stroke: var(--mark);
  stroke-width: 1;
}
.handle {
  fill: var(--label-back-soft);
  stroke: var(--mark);
  stroke-width: 1.6;
  pointer-events: all;
  cursor: move;
}
rect.handle {
  cursor: crosshair;
}
text {
  font-size: 13px;
  fill: var(--mark);
  paint-order: stroke;
  stroke: var(--mark-under);
  stroke-width: 3px;
}
</style>
