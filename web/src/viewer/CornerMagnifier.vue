<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { CORNER_NAMES, type Quad } from '../../../core/base/geometry/quad.ts';
import type { Point } from '../../../core/base/geometry/homography.ts';
import { nudgeOf } from '../steps/nudge.ts';
import { movePart } from '../steps/seat/move-part.ts';
import { moveQuad } from '../steps/seat/seat-edits.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { usePictureOnShow } from '../stores/picture-on-show.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import { useViewing } from '../stores/viewing.ts';
import { CORNER_SHAPES } from './corner-shapes.ts';
import { paintPicture } from './paint-picture.ts';

/** One corner at eight times its size; dragging here moves it by eighths of a pixel. */
const props = defineProps<{ index: number }>();
const ZOOM = 8;
const shot = useShot();
const doc = useDocument();
const placed = usePlacedCorners();
const head = usePlayhead();
const workspace = useWorkspace();
const onShow = usePictureOnShow();
const viewing = useViewing();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const { width, height } = useElementSize(canvas);
const quad = computed(() => placed.cornersAt(head.frame));
/** While dragging the picture stands still and the corner moves. */
const drag = ref<{ centre: Point; quad: Quad; x: number; y: number } | null>(null);
const centre = computed(() => drag.value?.centre ?? quad.value?.[props.index] ?? null);

function onPage([x, y]: Point): [number, number] {
  return [width.value / 2 + (x - centre.value![0]) * ZOOM, height.value / 2 + (y - centre.value![1]) * ZOOM];
}
const edges = computed(
  () =>
    quad.value &&
    centre.value &&
    [1, 3].map((step) => [onPage(quad.value![props.index]!), onPage(quad.value![(props.index + step) % 4]!)] as const),
);

watch(
  [() => onShow.picture, centre, width, height, () => viewing.exposure, () => viewing.gamma, () => viewing.channel],
  () => {
    const facts = shot.plate?.facts;
    const at = centre.value;
    if (!canvas.value || !facts || !at) return;
    const view = { scale: ZOOM, aspect: 1, x: width.value / 2 - at[0] * ZOOM, y: height.value / 2 - at[1] * ZOOM };
    paintPicture(
      canvas.value,
      { width: width.value, height: height.value, view },
      onShow.picture && { picture: onShow.picture },
      facts,
      viewing,
    );
  },
  { flush: 'post', immediate: true },
);

function onDown(event: PointerEvent): void {
  pick();
  const at = quad.value?.[props.index];
  if (!at) return;
  drag.value = { centre: at, quad: quad.value, x: event.clientX, y: event.clientY };
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
function pick(): void {
  workspace.corner = props.index;
  workspace.part = props.index;
}
function onMove(event: PointerEvent): void {
  const d = drag.value;
  if (d)
    moveQuad(
      head.frame,
      movePart(d.quad, props.index, [(event.clientX - d.x) / ZOOM, (event.clientY - d.y) / ZOOM]),
      'drag',
    );
}
function onUp(): void {
  drag.value = null;
  doc.settle();
}
function onKey(event: KeyboardEvent): void {
  const nudge = nudgeOf(event);
  const at = quad.value?.[props.index];
  if (!nudge || !at) return;
  event.preventDefault();
  event.stopPropagation();
  moveQuad(head.frame, movePart(quad.value, props.index, nudge), 'edit');
}
</script>

<template>
  <div
    class="glass"
    :class="{ chosen: workspace.corner === index }"
    tabindex="0"
    role="button"
    :aria-label="`${CORNER_NAMES[index]} corner, closely`"
    :data-glass="index"
    @pointerdown="onDown"
    @pointermove="onMove"
    @pointerup="onUp"
    @keydown="onKey"
    @focus="pick"
    @dblclick="quad && (workspace.viewRequest = { kind: 'close', x: quad[index]![0], y: quad[index]![1] })"
  >
    <canvas ref="canvas" />
    <svg v-if="edges" class="lines" :width="width" :height="height">
      <g v-for="(e, i) in edges" :key="i">
        <line class="under" :x1="e[0][0]" :y1="e[0][1]" :x2="e[1][0]" :y2="e[1][1]" />
        <line class="over" :x1="e[0][0]" :y1="e[0][1]" :x2="e[1][0]" :y2="e[1][1]" />
      </g>
      <circle class="dot" :cx="edges[0]![0][0]" :cy="edges[0]![0][1]" r="2" />
      <g transform="translate(13 13)">
        <rect x="-11" y="-11" width="22" height="22" class="plate" />
        <path :d="CORNER_SHAPES[index]" class="shape" />
      </g>
    </svg>
  </div>
</template>

<style scoped>
.glass {
  position: relative;
  height: 96px;
  background: var(--surround);
  border: 1px solid var(--line);
  cursor: move;
  touch-action: none;
  overflow: hidden;
}
.chosen {
  border-color: var(--accent);
  box-shadow: 0 0 0 1px var(--accent);
}
canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
.lines {
  position: absolute;
  inset: 0;
  pointer-events: none;
}
.under {
  stroke: var(--mark-under);
  stroke-width: 1.4;
}
.over {
  stroke: var(--mark-surface);
  stroke-width: 1.4;
  stroke-dasharray: 5 5;
}
.dot {
  fill: none;
  stroke: var(--mark);
  stroke-width: 1;
  mix-blend-mode: difference;
}
.plate {
  fill: var(--label-back-soft);
}
.shape {
  fill: none;
  stroke: var(--mark);
  stroke-width: 1.6;
  transform: scale(0.8);
}
</style>
