<script setup lang="ts">
import { computed, useTemplateRef, watch } from 'vue';
import { type Quad, CORNER_NAMES } from '../../../core/base/geometry/quad.ts';
import { stripShifts } from '../../../core/surface/seat/edge-slices.ts';
import { SIDE_NAMES } from '../../../core/surface/seat/sides.ts';
import { frameAt, frameLeft, frameMiddle } from '../ledger/ledger-scale.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useSeat } from '../stores/seat.ts';
import { useDocument } from '../stores/document.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import SliceFixes from './SliceFixes.vue';
import { drawStrip, STRIP_HEIGHT, type StripPicture } from './draw-slices.ts';

/** The four sides (or corners) of the surface over the whole shot, under the picture and in line with the ledger. A straight line is a good seat. */
const doc = useDocument();
const placed = usePlacedCorners();
const seat = useSeat();
const head = usePlayhead();
const workspace = useWorkspace();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const scale = computed(() => workspace.ledgerScale);
const width = computed(() => (scale.value ? scale.value.left + scale.value.width + 16 : 0));
const first = computed(() => (workspace.slices === 'corners' ? 4 : 0));
const names = computed(() => (workspace.slices === 'corners' ? CORNER_NAMES : SIDE_NAMES));
const cursor = computed(() => (scale.value ? frameMiddle(scale.value, head.frame) : 0));

/** By how much a frame's corners lie off where they were when it was looked at, strip by strip. */
function seatShifts(frame: number): number[] {
  const measured = seat.measuredCorners;
  const on = placed.seated?.onReference(frame);
  const base = placed.seatedBase;
  const corners = doc.document?.corners;
  if (!measured || !on || !base || !corners) return new Array<number>(8).fill(0);
  // An outset is meant; what counts is where the corners themselves are.
  const moves = on.flatMap(([x, y], c) => [
    x - base[c]![0] + corners[c]![0] - measured[c]![0],
    y - base[c]![1] + corners[c]![1] - measured[c]![1],
  ]);
  return stripShifts(measured, moves);
}
const strips = computed((): StripPicture[] => {
  const quad: Quad | null = seat.measuredCorners;
  if (!quad) return [];
  const known = new Map<number, { seat: number[]; fit: number[] | null; bound: number }>();
  const at = (frame: number) => {
    let one = known.get(frame);
    if (!one) {
      const seen = seat.frames.get(frame);
      const now = seatShifts(frame);
      known.set(
        frame,
        (one = {
          seat: now,
          fit: seen?.moves && seen.holds ? stripShifts(quad, seen.moves).map((m, k) => m - now[k]!) : null,
          bound: seen?.bounds ? Math.max(...seen.bounds) : 0,
        }),
      );
    }
    return one;
  };
  return [0, 1, 2, 3]
    .map((i) => i + first.value)
    .map((k): StripPicture => ({
      columnAt: (frame) => {
        const seen = seat.frames.get(frame);
        return seen?.holds ? seen.strips[k]! : null;
      },
      seatAt: (frame) => at(frame).seat[k]!,
      fitAt: (frame) => {
        const { fit, bound } = at(frame);
        return fit && { at: fit[k]!, bound };
      },
    }));
});
/** The usual distance of the border from the seat, strip by strip. */
const usual = computed(() =>
  strips.value.map((strip) => {
    const off = [...seat.frames.keys()].flatMap((f) => {
      const fit = strip.fitAt(f);
      return fit ? [Math.abs(fit.at)] : [];
    });
    return off.length > 0 ? Math.max(...off) : null;
  }),
);

let due = 0;
watch(
  [strips, scale, width, () => workspace.sliceReach, () => workspace.sliceFits, () => workspace.dim, canvas],
  () => {
    cancelAnimationFrame(due);
    due = requestAnimationFrame(draw);
  },
  { immediate: true },
);
function draw(): void {
  const element = canvas.value;
  const at = scale.value;
  if (!element || !at || width.value < 40) return;
  const density = window.devicePixelRatio || 1;
  const height = 4 * STRIP_HEIGHT + 3;
  if (element.width !== Math.round(width.value * density) || element.height !== Math.round(height * density)) {
    element.width = Math.round(width.value * density);
    element.height = Math.round(height * density);
  }
  const context = element.getContext('2d')!;
  const style = getComputedStyle(element);
  const colour = (name: string) => style.getPropertyValue(`--${name}`).trim();
  context.setTransform(density, 0, 0, density, 0, 0);
  context.clearRect(0, 0, width.value, height);
  strips.value.forEach((strip, i) =>
    drawStrip(
      context,
      i * (STRIP_HEIGHT + 1),
      at,
      strip,
      workspace.sliceReach,
      workspace.sliceFits,
      doc.document?.tolerance ?? 0.25,
      { accent: colour('accent'), alarm: colour('alarm'), line: colour('line') },
    ),
  );
  element.dataset.drawn = String(seat.frames.size);
}
let scrubbing = false;
function goTo(event: PointerEvent): void {
  const rect = canvas.value!.getBoundingClientRect();
  head.playing = false;
  if (scale.value) head.goTo(frameAt(scale.value, event.clientX - rect.left));
}
function onDown(event: PointerEvent): void {
  if (event.button !== 0) return;
  scrubbing = true;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  goTo(event);
}
</script>

<template>
  <div v-if="workspace.slices !== 'off'" class="slices" data-slices :data-slices-frames="seat.frames.size">
    <SliceFixes v-if="scale && seat.frames.size > 0" :scale="scale" />
    <div v-if="seat.frames.size > 0" class="strips">
      <div class="names">
        <div v-for="(name, i) in names" :key="name" class="name" :style="{ height: `${STRIP_HEIGHT + 1}px` }">
          <span>{{ name }}</span
          ><span class="quiet">{{
            usual[i] === null || usual[i] === undefined ? '' : `≤ ${usual[i]!.toFixed(2)}`
          }}</span>
        </div>
      </div>
      <canvas
        ref="canvas"
        class="sheet"
        :style="{ width: `${width}px`, height: `${4 * STRIP_HEIGHT + 3}px` }"
        role="img"
        :aria-label="`Edge slices of the four ${workspace.slices}`"
        @pointerdown="onDown"
        @pointermove="scrubbing && goTo($event)"
        @pointerup="scrubbing = false"
      />
      <div v-if="scale && cursor >= frameLeft(scale, scale.from)" class="cursor" :style="{ left: `${cursor}px` }" />
    </div>
    <p v-else class="quiet none">
      {{
        seat.running
          ? `Looking at the borders: ${seat.running.done} of ${seat.running.total}`
          : 'Press “Look at the borders” on the right: each side of the surface is then shown here over the whole shot. A straight line is a good seat.'
      }}
    </p>
  </div>
</template>

<style scoped>
.slices {
  position: relative;
  border-top: 1px solid var(--line);
  background: var(--paper);
  min-height: 30px;
  overflow: hidden;
}
.strips {
  position: relative;
}
.sheet {
  display: block;
  cursor: ew-resize;
  touch-action: none;
}
.names {
  position: absolute;
  left: 0;
  top: 0;
  width: 82px;
  pointer-events: none;
}
.name {
  display: flex;
  flex-direction: column;
  justify-content: center;
  align-items: flex-end;
  padding-right: 7px;
  font-size: 13px;
  line-height: 14px;
  color: var(--ink);
}
.cursor {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 1.6px;
  margin-left: -0.8px;
  background: var(--accent);
  pointer-events: none;
}
.none {
  margin: 0;
  padding: 6px 16px;
}
</style>
