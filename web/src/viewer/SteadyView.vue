<script setup lang="ts">
import { computed, ref, useTemplateRef, watch } from 'vue';
import { applyToPoint, compose, invert, type Point } from '../../../core/base/geometry/homography.ts';
import { steadiedSurface, steadyOf } from '../../../core/motion/steady/steadied-luma.ts';
import { seatWorker } from '../preview/seat-worker-client.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { useCornerPoints } from '../stores/corner-points.ts';
import { useNotices } from '../stores/notices.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { useTrack } from '../stores/track.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import { latestOnly } from './latest-only.ts';
import { toPage } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** The picture with the surface's motion taken out of it, through the same view: a slip moves, all else stands. The surface, and its points where they are worked on, lie over it. */
const viewport = useViewport();
const shot = useShot();
const doc = useDocument();
const track = useTrack();
const placed = usePlacedCorners();
const found = useCornerPoints();
const workspace = useWorkspace();
const head = usePlayhead();
const notices = useNotices();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const painted = ref(-1);
const corners = computed(() => doc.document && steadiedSurface(doc.document));
const maps = computed(() =>
  corners.value && shot.frames > 0 ? steadyOf(doc.document?.steady, corners.value, track.heldMaps, shot.frames) : null,
);

const paint = latestOnly(
  () => notices.guard(draw),
  () => head.markPainted(),
);
async function draw(): Promise<void> {
  const at = head.frame;
  const { plate } = shot;
  const map = maps.value?.get(at);
  const back = map && invert(map);
  const { view } = viewport;
  const columns = Math.round(viewport.width);
  const rows = Math.round(viewport.height);
  if (!plate?.facts || !back || columns < 2 || rows < 2) return;
  const toSteadied = [
    1 / (view.scale * view.aspect),
    0,
    -view.x / (view.scale * view.aspect),
    0,
    1 / view.scale,
    -view.y / view.scale,
    0,
    0,
    1,
  ];
  const bitmap = await seatWorker().flatten({
    source: { id: plate.id, view: plate.view },
    frame: at,
    kind: head.playing ? 'jpg' : 'png',
    width: plate.facts.width,
    map: compose(back, toSteadied),
    columns,
    rows,
  });
  if (canvas.value) {
    canvas.value.width = columns;
    canvas.value.height = rows;
    canvas.value.getContext('2d')!.drawImage(bitmap, 0, 0);
  }
  bitmap.close();
  painted.value = at;
}
watch(
  [
    () => head.frame,
    () => head.playing,
    maps,
    () => viewport.view,
    () => viewport.width,
    () => viewport.height,
    canvas,
  ],
  () => void paint(),
  { immediate: true },
);
/** Places of the plate's frame on show as they lie here. */
const led = computed(() => {
  const map = painted.value === head.frame ? maps.value?.get(head.frame) : null;
  return map ? (p: Point) => toPage(viewport.view, applyToPoint(map, p)) : null;
});
const outline = computed(() => {
  const quad = placed.cornersAt(head.frame);
  return led.value && quad && `M${quad.map((c) => led.value!(c).join(' ')).join('L')}Z`;
});
const marks = computed(() =>
  led.value && workspace.followPage === 'points'
    ? found.points.flatMap(({ name }) => {
        const at = found.fitAt(name, head.frame)?.fit?.at;
        return at ? [{ name, at: led.value!(at) }] : [];
      })
    : [],
);
const said = computed(() => {
  const steady = doc.document?.steady;
  const removed = steady ? steady.remove : ['position', 'rotation', 'scale', 'perspective'];
  return removed.length === 0
    ? 'nothing is taken out'
    : `${removed.join(', ')} taken out${steady?.smooth ? `, slow motion left (σ ${steady.smooth} frames)` : ''}`;
});
</script>

<template>
  <div class="steady" data-steadied :data-steadied-frame="painted">
    <canvas ref="canvas" />
    <svg v-if="workspace.showOutlines">
      <template v-if="outline">
        <path class="under" :d="outline" />
        <path class="over" :d="outline" data-steadied-outline />
      </template>
      <g
        v-for="mark in marks"
        :key="mark.name"
        :transform="`translate(${mark.at[0]} ${mark.at[1]})`"
        :data-steadied-point="mark.name"
      >
        <path class="under" d="M-9 0H-3M3 0H9M0 -9V-3M0 3V9" />
        <path class="mark" d="M-9 0H-3M3 0H9M0 -9V-3M0 3V9" />
      </g>
    </svg>
    <p class="said">
      {{ maps && maps.size > 0 ? `steadied: ${said}` : 'nothing is followed yet, so nothing can be steadied' }}
      <kbd>G</kbd>
    </p>
  </div>
</template>

<style scoped>
.steady {
  position: absolute;
  inset: 0;
  background: var(--surround);
  pointer-events: none;
}
.under {
  fill: none;
  stroke: var(--mark-under);
  stroke-width: 2.6;
}
.over {
  fill: none;
  stroke: var(--mark-surface);
  stroke-width: 1.2;
}
.mark {
  fill: none;
  stroke: var(--mark);
  stroke-width: 1.4;
}
svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
.said {
  position: absolute;
  left: 12px;
  top: 10px;
  margin: 0;
  padding: 2px 9px;
  border-radius: 3px;
  background: var(--label-back);
  color: var(--mark);
  font-size: 13px;
}
</style>
