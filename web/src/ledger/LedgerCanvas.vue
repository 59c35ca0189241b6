<script setup lang="ts">
import { computed, ref, useTemplateRef, watch } from 'vue';
import { useDocument } from '../stores/document.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useRenders } from '../stores/renders.ts';
import { useSaving } from '../stores/saving.ts';
import { useShot } from '../stores/shot.ts';
import { useTrack } from '../stores/track.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { FrameCache } from '../viewer/frame-cache.ts';
import { drawLedger, pictureFrames } from './draw-ledger.ts';
import { LEDGER_HEIGHT, ROWS } from './draw-parts.ts';
import type { LedgerScale } from './ledger-scale.ts';

/** The drawn rows of the ledger: pictures, how hard each frame is, how sure the track is. */
const props = defineProps<{
  scale: LedgerScale;
  /** Of the whole ledger, labels and all; pixels. */
  width: number;
  nameOf: (frame: number) => string;
  /** Names are timecodes, which need more room. */
  useTimecode: boolean;
  checking: boolean;
  following: boolean;
  /** The largest bound of a frame's corners, px; null where none is known. */
  bounds: ReadonlyMap<number, number | null>;
  /** The figure at the top of the row of errors, and of that of blur; px. */
  errorTop: number;
  blurTop: number;
}>();
const shot = useShot();
const doc = useDocument();
const saving = useSaving();
const track = useTrack();
const head = usePlayhead();
const workspace = useWorkspace();
const renders = useRenders();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const thumbs = new FrameCache(24 << 20, 2 * ROWS.pictures.height);
const arrived = ref(0);
const reference = computed(() =>
  doc.document && (doc.document.regions.length > 0 || doc.document.corners) ? doc.document.referenceFrame : null,
);

let due = 0;
watch(
  [
    () => ({ ...props }),
    arrived,
    () => head.frame,
    () => track.byFrame,
    () => renders.frames,
    () => shot.check,
    () => shot.range,
    reference,
    () => doc.document?.protect,
    () => saving.runKey,
    () => shot.plate?.view,
    () => workspace.dim,
    canvas,
  ],
  () => {
    cancelAnimationFrame(due);
    due = requestAnimationFrame(draw);
  },
  { immediate: true },
);

function draw(): void {
  const element = canvas.value;
  const plate = shot.plate;
  if (!element || !plate?.facts || props.width < 20) return;
  const density = window.devicePixelRatio || 1;
  if (element.width !== Math.round(props.width * density)) {
    element.width = Math.round(props.width * density);
    element.height = Math.round(LEDGER_HEIGHT * density);
  }
  const context = element.getContext('2d')!;
  context.setTransform(density, 0, 0, density, 0, 0);
  context.clearRect(0, 0, props.width, LEDGER_HEIGHT);
  const style = getComputedStyle(element);
  const colour = (name: string) => style.getPropertyValue(`--${name}`).trim();
  const ratio = plate.facts.width / plate.facts.height;
  for (const frame of pictureFrames(props.scale, ratio)) {
    if (!thumbs.peek(plate, frame, 'jpg') && thumbs.busy < 4)
      void thumbs.get(plate, frame, 'jpg').then(
        () => arrived.value++,
        () => {},
      );
  }
  drawLedger(context, {
    scale: props.scale,
    font: `13px ${style.fontFamily}`,
    nameOf: props.nameOf,
    labelRoom: props.useTimecode ? 92 : 46,
    pictureRatio: ratio,
    range: shot.range,
    cursor: head.frame,
    reference: reference.value,
    pictureAt: (frame) => thumbs.peek(plate, frame, 'jpg'),
    colours: {
      ink: colour('ink'),
      soft: colour('ink-soft'),
      line: colour('line'),
      paper: colour('paper'),
      accent: colour('accent'),
      alarm: colour('alarm'),
      onAccent: colour('on-accent'),
      sunk: colour('paper-sunk'),
    },
    body: props.checking
      ? { kind: 'check', rows: shot.check?.rows ?? [], blurTop: props.blurTop }
      : {
          kind: 'track',
          rows: track.byFrame,
          runKey: saving.runKey,
          errorTop: props.errorTop,
          boundAt: (frame) => props.bounds.get(frame) ?? null,
          protect: doc.document?.protect ?? [],
          referenceFrame: doc.document?.referenceFrame ?? 0,
          following: props.following,
          rendered: renders.frames,
          check: shot.check?.rows ?? [],
        },
  });
}
</script>

<template>
  <canvas ref="canvas" :style="{ height: `${LEDGER_HEIGHT}px` }" />
</template>

<style scoped>
canvas {
  position: absolute;
  left: 0;
  top: 0;
  width: 100%;
  font-family: var(--bs-body-font-family);
}
</style>
