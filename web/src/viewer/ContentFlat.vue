<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { shownAt } from '../../../core/picture/content/content-time.ts';
import { contentToSurface, croppedSize, wholeCrop, type Place } from '../../../core/picture/content/content-fit.ts';
import { surfaceRatio } from '../../../core/picture/pin/surface-ratio.ts';
import { compose, scaling, translation } from '../../../core/base/geometry/homography.ts';
import { frameUrl } from '../api/urls.ts';
import { drawBoard } from '../preview/board-picture.ts';
import { useNotices } from '../stores/notices.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import PlaceHandles from './PlaceHandles.vue';
import { useViewport } from './viewport.ts';

/** The screen laid flat with the content on it, to be placed there; what is beyond the screen is seen faintly. */
const viewport = useViewport();
const shot = useShot();
const doc = useDocument();
const head = usePlayhead();
const notices = useNotices();
/** Page pixels left around the screen, so that content beyond it can be taken hold of. */
const MARGIN = 110;
const ratio = computed(() => (doc.document ? surfaceRatio(doc.document) : 1));
const sheet = computed(() => {
  const high = Math.min(viewport.height - 2 * MARGIN, (viewport.width - 2 * MARGIN) / ratio.value);
  const wide = high * ratio.value;
  return {
    x: (viewport.width - wide) / 2,
    y: (viewport.height - high) / 2,
    width: Math.max(20, wide),
    height: Math.max(20, high),
  };
});
const toPage = computed(() =>
  compose(translation(sheet.value.x, sheet.value.y), scaling(sheet.value.width, sheet.value.height)),
);
const place = computed<Place>(() => (doc.document?.look.place as Place | undefined) ?? {});
const source = computed(() => {
  const { content, plate } = shot;
  const { document } = doc;
  const size = document?.look.board ?? content?.facts;
  if (!document || !size || !plate?.facts) return null;
  const at =
    content?.facts && !document.look.board
      ? shownAt(
          document.look.time ?? {},
          head.frame,
          plate.facts.rate,
          content.kind === 'clip' ? content.facts.rate : plate.facts.rate,
          content.facts.frames,
        )
      : null;
  return {
    width: size.width,
    height: size.height,
    url: content && at ? frameUrl(content, at.first, content.kind === 'still' ? 'png' : 'jpg') : null,
  };
});
const drawnBoard = ref<string | null>(null);
watch(
  [() => doc.document?.look.board, () => head.frame],
  async ([board, frame]) => {
    await notices.guard(async () => {
      if (!board) return;
      const { bitmap } = await drawBoard(shot, board, frame, Math.min(1, 900 / Math.max(board.width, board.height)));
      const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
      canvas.getContext('2d')!.drawImage(bitmap, 0, 0);
      bitmap.close();
      const url = URL.createObjectURL(await canvas.convertToBlob());
      if (drawnBoard.value) URL.revokeObjectURL(drawnBoard.value);
      drawnBoard.value = url;
    });
  },
  { immediate: true },
);
onBeforeUnmount(() => drawnBoard.value && URL.revokeObjectURL(drawnBoard.value));
/** CSS matrices of a homography: columns, with z left alone (CSS Transforms Level 2, §12.2). */
const style = computed(() => {
  const from = source.value;
  const document = doc.document;
  if (!from || !document) return null;
  const [left, top, right, bottom] = wholeCrop(from, place.value.crop);
  const h = compose(
    toPage.value,
    contentToSurface(document.look.fit ?? 'stretch', place.value, ratio.value, croppedSize(from, place.value.crop)),
    translation(-left, -top),
  ) as number[];
  const [a, b, c, d, e, f, g, i, w] = h.map((v) => v / h[8]!);
  return {
    width: `${from.width}px`,
    height: `${from.height}px`,
    transform: `matrix3d(${[a, d, 0, g, b, e, 0, i, 0, 0, 1, 0, c, f, 0, w].join(',')})`,
    clipPath: `inset(${top}px ${from.width - right}px ${from.height - bottom}px ${left}px)`,
  };
});
const inside = computed(() => `inset(${sheet.value.y}px ${sheet.value.x}px ${sheet.value.y}px ${sheet.value.x}px)`);
const url = computed(() => (doc.document?.look.board ? drawnBoard.value : source.value?.url));
</script>

<template>
  <div class="flat" data-content-flat @pointerdown.stop>
    <div
      class="screen"
      :style="{ left: `${sheet.x}px`, top: `${sheet.y}px`, width: `${sheet.width}px`, height: `${sheet.height}px` }"
    />
    <template v-if="style && url">
      <div class="all faint"><img :src="url" :style="style" alt="" draggable="false" /></div>
      <div class="all" :style="{ clipPath: inside }"><img :src="url" :style="style" alt="" draggable="false" /></div>
    </template>
    <svg :width="viewport.width" :height="viewport.height">
      <rect class="edge" v-bind="sheet" />
      <PlaceHandles :map="toPage" />
    </svg>
    <p class="said">
      the screen laid flat, {{ ratio.toFixed(3) }} : 1 · content {{ source?.width }}×{{ source?.height }}
    </p>
  </div>
</template>

<style scoped>
.flat {
  position: absolute;
  inset: 0;
  background: var(--surround);
  overflow: hidden;
  cursor: default;
}
.screen {
  position: absolute;
  background: var(--mark-black);
}
.all {
  position: absolute;
  inset: 0;
  pointer-events: none;
}
.faint {
  opacity: 0.28;
}
img {
  position: absolute;
  left: 0;
  top: 0;
  max-width: none;
  transform-origin: 0 0;
}
svg {
  position: absolute;
  inset: 0;
}
.edge {
  fill: none;
  stroke: var(--mark-under);
  stroke-width: 1;
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
  pointer-events: none;
}
</style>
