<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { CORNER_NAMES } from '../../../core/base/geometry/quad.ts';
import type { Point } from '../../../core/base/geometry/homography.ts';
import { STOPS_UNDER } from '../../../core/motion/points/point-plan.ts';
import { putPoint } from '../steps/follow/points/point-edits.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { useCornerPoints } from '../stores/corner-points.ts';
import { useNotices } from '../stores/notices.ts';
import { usePictureOnShow } from '../stores/picture-on-show.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { useViewing } from '../stores/viewing.ts';
import { CORNER_SHAPES } from './corner-shapes.ts';
import { paintPicture } from './paint-picture.ts';

/** One point at six times its size, the picture around it held still: stepping shows a slip as motion, dragging corrects it there. */
const props = defineProps<{ name: string }>();
const ZOOM = 6;
const shot = useShot();
const doc = useDocument();
const found = useCornerPoints();
const head = usePlayhead();
const workspace = useWorkspace();
const onShow = usePictureOnShow();
const notices = useNotices();
const viewing = useViewing();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const { width, height } = useElementSize(canvas);
const place = computed(() => found.placeAt(props.name, head.frame));
const here = computed(() => found.fitAt(props.name, head.frame));
const picked = computed(() => workspace.pickedPoints.includes(props.name));
const shape = computed(() => CORNER_SHAPES[CORNER_NAMES.indexOf(props.name as never)] ?? 'M-6 0H6M0 -6V6');
/** While dragging the point stands still and the picture goes with the hand. */
const drag = ref<{ at: Point; x: number; y: number } | null>(null);
const said = computed(() => {
  const fit = here.value?.fit;
  if (!here.value) return 'not followed';
  if (!fit) return 'lost';
  return fit.how === 'matched'
    ? fit.score.toFixed(2)
    : fit.how === 'hand'
      ? 'by hand'
      : fit.how === 'reckoned'
        ? 'reckoned'
        : 'reference';
});
const alarm = computed(
  () =>
    here.value !== null &&
    (!here.value.fit || (here.value.fit.how === 'matched' && here.value.fit.score < STOPS_UNDER)),
);

watch(
  [() => onShow.picture, place, width, height, () => viewing.exposure, () => viewing.gamma, () => viewing.channel],
  () => {
    const facts = shot.plate?.facts;
    const at = place.value?.at;
    if (!canvas.value || !facts || !at || width.value < 4) return;
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
  if (event.button !== 0 || !place.value) return;
  if (!picked.value) workspace.pickedPoints = [props.name];
  drag.value = { at: place.value.at, x: event.clientX, y: event.clientY };
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
function onMove(event: PointerEvent): void {
  const d = drag.value;
  // The picture is what moves: the point goes the other way.
  if (d)
    doc.drag((draft) =>
      putPoint(draft, props.name, head.frame, [
        d.at[0] - (event.clientX - d.x) / ZOOM,
        d.at[1] - (event.clientY - d.y) / ZOOM,
      ]),
    );
}
function onUp(): void {
  const moved =
    drag.value !== null &&
    place.value !== null &&
    (drag.value.at[0] !== place.value.at[0] || drag.value.at[1] !== place.value.at[1]);
  drag.value = null;
  doc.settle();
  if (moved && workspace.runsOn) void notices.guard(() => found.runOn(props.name, head.frame));
}
/** Left and right go through the frames: the picture is what is watched here. */
function onKey(event: KeyboardEvent): void {
  const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (step === undefined || event.ctrlKey || event.metaKey) return;
  event.preventDefault();
  event.stopPropagation();
  head.playing = false;
  head.step(step * (event.shiftKey ? 10 : 1));
}
</script>

<template>
  <div
    class="glass"
    :class="{ picked, alarm }"
    tabindex="0"
    role="button"
    :aria-label="`${name}, closely: ${said}; left and right step through the frames`"
    :data-magnifier="name"
    @pointerdown="onDown"
    @pointermove="onMove"
    @pointerup="onUp"
    @keydown="onKey"
    @focus="picked || (workspace.pickedPoints = [name])"
    @dblclick="place && (workspace.viewRequest = { kind: 'close', x: place.at[0], y: place.at[1] })"
  >
    <canvas ref="canvas" />
    <svg :width="width" :height="height">
      <g :transform="`translate(${width / 2} ${height / 2})`">
        <path class="under" d="M-13 0H-4M4 0H13M0 -13V-4M0 4V13" />
        <path class="over" d="M-13 0H-4M4 0H13M0 -13V-4M0 4V13" />
      </g>
    </svg>
    <p class="said">
      <svg width="14" height="14" viewBox="-10 -10 20 20"><path :d="shape" class="shape" /></svg> {{ name }}
      <span>{{ said }}</span>
    </p>
  </div>
</template>

<style scoped>
.glass {
  position: relative;
  background: var(--surround);
  cursor: move;
  touch-action: none;
  overflow: hidden;
  outline-offset: -2px;
}
.glass.picked {
  box-shadow: inset 0 0 0 2px var(--accent);
}
canvas,
.glass > svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
}
.under {
  stroke: var(--mark-under);
  stroke-width: 2.6;
  fill: none;
}
.over {
  stroke: var(--mark-surface);
  stroke-width: 1.1;
  fill: none;
}
.said {
  position: absolute;
  left: 2px;
  right: 2px;
  bottom: 2px;
  margin: 0;
  padding: 1px 6px;
  display: flex;
  gap: 5px;
  align-items: center;
  background: var(--label-back);
  color: var(--mark);
  font-size: 13px;
  white-space: nowrap;
  overflow: hidden;
  pointer-events: none;
}
.said span {
  margin-left: auto;
}
.alarm .said {
  background: var(--alarm);
}
.shape {
  fill: none;
  stroke: var(--mark);
  stroke-width: 2;
}
</style>
