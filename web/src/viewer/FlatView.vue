<script setup lang="ts">
import { computed, ref, useTemplateRef, watch } from 'vue';
import { homographyBetweenQuads } from '../../../core/base/geometry/estimate-homography.ts';
import { compose } from '../../../core/base/geometry/homography.ts';
import { distance, UNIT_SQUARE } from '../../../core/base/geometry/quad.ts';
import { seatWorker } from '../preview/seat-worker-client.ts';
import { useNotices } from '../stores/notices.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import { latestOnly } from './latest-only.ts';
import { useViewport } from './viewport.ts';

/** The surface laid flat and held still: what moves here slips on the plate. */
const viewport = useViewport();
const shot = useShot();
const placed = usePlacedCorners();
const head = usePlayhead();
const notices = useNotices();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
/** So much of its surroundings is shown, of the surface's size. */
const MARGIN = 0.07;
const painted = ref(-1);
const size = computed(() => {
  const quad = placed.seatedBase;
  if (!quad) return null;
  const across = (distance(quad[0], quad[1]) + distance(quad[3], quad[2])) / 2;
  const down = (distance(quad[0], quad[3]) + distance(quad[1], quad[2])) / 2;
  return { width: Math.max(8, across), height: Math.max(8, down) };
});
/** Page pixels for one of the reference. */
const scale = computed(() =>
  size.value
    ? Math.min(
        (viewport.width - 40) / (size.value.width * (1 + 2 * MARGIN)),
        (viewport.height - 40) / (size.value.height * (1 + 2 * MARGIN)),
      )
    : 1,
);
const shown = computed(
  () =>
    size.value && {
      width: Math.round(size.value.width * (1 + 2 * MARGIN) * scale.value),
      height: Math.round(size.value.height * (1 + 2 * MARGIN) * scale.value),
    },
);
const frame = computed(
  () =>
    shown.value && {
      x: shown.value.width * (MARGIN / (1 + 2 * MARGIN)),
      y: shown.value.height * (MARGIN / (1 + 2 * MARGIN)),
      width: shown.value.width / (1 + 2 * MARGIN),
      height: shown.value.height / (1 + 2 * MARGIN),
    },
);

const paint = latestOnly(
  () => notices.guard(draw),
  () => head.markPainted(),
);
async function draw(): Promise<void> {
  const at = head.frame;
  const { plate } = shot;
  const quad = placed.cornersAt(at);
  const box = shown.value;
  if (!plate?.facts || !quad || !box) {
    canvas.value?.getContext('2d')?.clearRect(0, 0, canvas.value.width, canvas.value.height);
    painted.value = -1;
    return;
  }
  const step = 1 + 2 * MARGIN;
  const toUnit = [step / box.width, 0, -MARGIN, 0, step / box.height, -MARGIN, 0, 0, 1];
  const bitmap = await seatWorker().flatten({
    source: { id: plate.id, view: plate.view },
    frame: at,
    kind: head.playing ? 'jpg' : 'png',
    width: plate.facts.width,
    map: compose(homographyBetweenQuads(UNIT_SQUARE, quad)!, toUnit),
    columns: box.width,
    rows: box.height,
  });
  if (canvas.value) {
    canvas.value.width = box.width;
    canvas.value.height = box.height;
    canvas.value.getContext('2d')!.drawImage(bitmap, 0, 0);
  }
  bitmap.close();
  painted.value = at;
}
watch([() => head.frame, () => head.playing, () => placed.cornersAt(head.frame), shown, canvas], () => void paint(), {
  immediate: true,
});
</script>

<template>
  <div class="flat" data-flat :data-flat-frame="painted" @pointerdown.stop>
    <div v-if="shown && frame" class="sheet" :style="{ width: `${shown.width}px`, height: `${shown.height}px` }">
      <canvas ref="canvas" />
      <svg :width="shown.width" :height="shown.height">
        <rect class="under" v-bind="frame" />
        <rect class="over" v-bind="frame" />
      </svg>
    </div>
    <p class="said">laid flat · {{ Math.round(100 * scale) }} % of the reference</p>
  </div>
</template>

<style scoped>
.flat {
  position: absolute;
  inset: 0;
  background: var(--surround);
  display: grid;
  place-items: center;
  cursor: default;
}
.sheet {
  position: relative;
}
canvas,
svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
.under,
.over {
  fill: none;
  stroke-width: 1;
}
.under {
  stroke: var(--mark-under);
}
.over {
  stroke: var(--mark-surface);
  stroke-dasharray: 9 6;
}
.said {
  position: absolute;
  left: 12px;
  bottom: 10px;
  margin: 0;
  padding: 2px 9px;
  border-radius: 3px;
  background: var(--label-back);
  color: var(--mark);
  font-size: 13px;
}
</style>
