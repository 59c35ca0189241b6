<script setup lang="ts">
import { clamp } from '../../../core/base/geometry/clamp.ts';
import { computed, useTemplateRef, watch } from 'vue';
import { usePictureOnShow } from '../stores/picture-on-show.ts';
import { useShot } from '../stores/shot.ts';
import { useViewing } from '../stores/viewing.ts';
import { paintPicture } from './paint-picture.ts';
import { toPage } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** A magnifier beside the pointer while points are set or dragged: pixels as squares, the place in the middle marked. */
const props = defineProps<{ at: { x: number; y: number } }>();
const viewport = useViewport();
const SIDE = 148;
const AWAY = 26;
const LEAST_ZOOM = 6;
const shot = useShot();
const onShow = usePictureOnShow();
const viewing = useViewing();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const zoom = computed(() => clamp(4 * viewport.view.scale, LEAST_ZOOM, 32));
const page = computed(() => {
  const [x, y] = toPage(viewport.view, [props.at.x, props.at.y]);
  // On the side where there is room, so that it never lies under the hand.
  return {
    left: x + AWAY + SIDE > viewport.width ? x - AWAY - SIDE : x + AWAY,
    top: y - AWAY - SIDE < 0 ? y + AWAY : y - AWAY - SIDE,
  };
});
watch(
  [() => props.at, zoom, () => onShow.picture, () => viewing.exposure, () => viewing.gamma, () => viewing.channel],
  () => {
    const facts = shot.plate?.facts;
    if (!canvas.value || !facts) return;
    const inner = {
      scale: zoom.value,
      aspect: 1,
      x: SIDE / 2 - props.at.x * zoom.value,
      y: SIDE / 2 - props.at.y * zoom.value,
    };
    const size = { width: SIDE, height: SIDE, view: inner };
    paintPicture(canvas.value, size, onShow.picture && { picture: onShow.picture }, facts, viewing);
  },
  { flush: 'post', immediate: true },
);
</script>

<template>
  <div class="pointer-glass" :style="{ left: `${page.left}px`, top: `${page.top}px` }" data-pointer-glass>
    <canvas ref="canvas" />
    <svg :width="SIDE" :height="SIDE">
      <path class="under" :d="`M${SIDE / 2} 0V${SIDE}M0 ${SIDE / 2}H${SIDE}`" />
      <path class="over" :d="`M${SIDE / 2} 0V${SIDE}M0 ${SIDE / 2}H${SIDE}`" />
    </svg>
    <span>{{ at.x.toFixed(2) }}, {{ at.y.toFixed(2) }}</span>
  </div>
</template>

<style scoped>
.pointer-glass {
  position: absolute;
  width: 150px;
  height: 150px;
  border: 1px solid var(--mark);
  box-shadow:
    0 0 0 1px var(--mark-under),
    0 4px 14px var(--shadow);
  background: var(--surround);
  pointer-events: none;
  z-index: 2;
}
canvas,
svg {
  position: absolute;
  inset: 0;
  width: 148px;
  height: 148px;
}
.under {
  stroke: var(--label-back-soft);
  stroke-width: 3;
}
.over {
  stroke: var(--mark);
  stroke-width: 1;
  stroke-dasharray: 3 3;
}
span {
  position: absolute;
  right: 0;
  bottom: 0;
  background: var(--label-back);
  color: var(--mark);
  font-size: 13px;
  padding: 0 5px;
}
</style>
