<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core';
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue';
import { CORNER_NAMES } from '../../../../core/base/geometry/quad.ts';
import { seatWorker } from '../../preview/seat-worker-client.ts';
import { useWorkspace } from '../../stores/workspace.ts';
import { useNotices } from '../../stores/notices.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { seatedMapAt } from '../../stores/seat.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import { usePlacedCorners } from '../../stores/placed-corners.ts';
import { CORNER_SHAPES } from '../../viewer/corner-shapes.ts';

/** Each corner on the reference beside the same corner now, the same way up and at the same size. */
const SIZE = 96;
const HALF = 12;
const shot = useShot();
const doc = useDocument();
const placed = usePlacedCorners();
const head = usePlayhead();
const workspace = useWorkspace();
const notices = useNotices();
const difference = ref(false);
const matchLight = ref(true);
const gains = ref<number[]>([]);
const left = useTemplateRef<HTMLCanvasElement[]>('left');
const right = useTemplateRef<HTMLCanvasElement[]>('right');
const PLACES = [0, 1, 3, 2];
const known = computed(() => placed.cornersAt(head.frame) !== null);

const draw = useDebounceFn(() => notices.guard(paint), 60);
async function paint(): Promise<void> {
  const { plate } = shot;
  const base = placed.seatedBase;
  const map = seatedMapAt(head.frame);
  const document = doc.document;
  const frame = head.frame;
  if (!plate?.facts || !base || !map || !document) return;
  const seen = (at: number) => ({
    source: { id: plate.id, view: plate.view },
    frame: at,
    kind: 'png' as const,
    width: plate.facts!.width,
  });
  const crops = await seatWorker().crops({
    reference: seen(document.referenceFrame),
    now: seen(frame),
    map: [...map],
    corners: base.map(([x, y]) => [x, y] as const),
    half: HALF,
    size: SIZE,
    difference: difference.value,
    matchLight: matchLight.value,
  });
  if (frame !== head.frame) return;
  PLACES.forEach((corner, i) => {
    left.value?.[i]?.getContext('2d')!.putImageData(crops[corner]!.reference, 0, 0);
    right.value?.[i]?.getContext('2d')!.putImageData(crops[corner]!.now, 0, 0);
  });
  gains.value = crops.map((c) => c.gain);
}
watch(
  [() => head.frame, () => placed.cornersAt(head.frame), () => doc.document?.referenceFrame, difference, matchLight],
  () => !head.playing && void draw(),
);
watch(
  () => head.playing,
  (on) => !on && void draw(),
);
onMounted(() => void draw());
</script>

<template>
  <section class="section">
    <header>
      <h2>Reference and now</h2>
      <span class="quiet">4 : 1</span>
    </header>
    <p v-if="!known" class="notice mb-0">The track does not reach this frame.</p>
    <div v-else class="pairs" data-compare>
      <div
        v-for="corner in PLACES"
        :key="corner"
        class="pair"
        :class="{ chosen: workspace.corner === corner }"
        :title="CORNER_NAMES[corner]"
        @click="
          workspace.corner = corner;
          workspace.part = corner;
        "
      >
        <div class="crop">
          <canvas :ref="'left'" :width="SIZE" :height="SIZE" /><svg viewBox="-48 -48 96 96">
            <path class="under" d="M-48 0H48M0 -48V48" />
          </svg>
        </div>
        <div class="crop">
          <canvas :ref="'right'" :width="SIZE" :height="SIZE" /><svg viewBox="-48 -48 96 96">
            <path class="under" d="M-48 0H48M0 -48V48" />
          </svg>
        </div>
        <span class="name"
          ><svg width="14" height="14" viewBox="-11 -11 22 22"><path :d="CORNER_SHAPES[corner]" /></svg
          ><span v-if="gains[corner] !== undefined && matchLight" class="quiet"
            >light<br />×{{ gains[corner]!.toFixed(2) }}</span
          ></span
        >
      </div>
    </div>
    <BFormCheckbox v-model="difference" switch class="mt-2">Difference in place of now (twice)</BFormCheckbox>
    <BFormCheckbox v-model="matchLight" switch>Brought to the reference's light</BFormCheckbox>
  </section>
</template>

<style scoped>
.pairs {
  display: grid;
  gap: 6px;
}
.pair {
  display: grid;
  grid-template-columns: 96px 96px 1fr;
  gap: 3px;
  align-items: center;
  border: 1px solid transparent;
  cursor: pointer;
}
.pair.chosen {
  border-color: var(--accent);
}
.crop {
  position: relative;
  width: 96px;
  height: 96px;
  background: var(--surround);
}
.crop canvas,
.crop svg {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
.under {
  stroke: var(--mark);
  stroke-width: 0.8;
  fill: none;
  mix-blend-mode: difference;
  stroke-dasharray: 3 5;
}
.name {
  display: grid;
  justify-items: center;
  gap: 2px;
  font-size: 13px;
  text-align: center;
}
.name path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
</style>
