<script setup lang="ts">
import { computed } from 'vue';
import type { Quad } from '../../../../core/base/geometry/quad.ts';
import {
  impliedProportions,
  KNOWN_PROPORTIONS,
  nearestProportions,
} from '../../../../core/motion/pose/implied-proportions.ts';
import { SIDE_NAMES } from '../../../../core/surface/seat/sides.ts';
import AppSelect from '../../components/AppSelect.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import NumberField from '../../components/NumberField.vue';
import { useDocument } from '../../stores/document.ts';
import { usePlacedCorners } from '../../stores/placed-corners.ts';
import { useSeat } from '../../stores/seat.ts';
import { useShot } from '../../stores/shot.ts';
import { useTrack } from '../../stores/track.ts';
import { useWorkspace } from '../../stores/workspace.ts';

/** How far the content reaches over the sides, its corners, and whether the quad can be that device. */
const shot = useShot();
const doc = useDocument();
const track = useTrack();
const placed = usePlacedCorners();
const seat = useSeat();
const workspace = useWorkspace();
const document = computed(() => doc.document!);
const outset = computed(
  () => document.value.outset ?? { unit: 'px' as const, sides: [0, 0, 0, 0] as [number, number, number, number] },
);
const UNITS = ['px', '%'] as const;
const grid = computed<[number, number]>(() => [document.value.grid?.[0] ?? 8, document.value.grid?.[1] ?? 8]);

function setSide(k: number, value: number): void {
  doc.edit((draft) => {
    const sides = [...outset.value.sides] as [number, number, number, number];
    sides[k] = value;
    put(draft, outset.value.unit, sides);
  });
}
function setUnit(unit: 'px' | '%'): void {
  doc.edit((draft) => put(draft, unit, [...outset.value.sides]));
}
function put(draft: typeof document.value, unit: 'px' | '%', sides: [number, number, number, number]): void {
  if (sides.every((s) => s === 0) && unit === 'px') delete draft.outset;
  else draft.outset = { unit, sides };
}
function setRadius(value: number): void {
  doc.edit((draft) => {
    if (value > 0) draft.cornerRadius = value;
    else delete draft.cornerRadius;
  });
}
function setGrid(axis: 0 | 1, value: number): void {
  doc.edit((draft) => {
    const next: [number, number] = [grid.value[0], grid.value[1]];
    next[axis] = Math.round(value);
    draft.grid = next;
  });
}

/** At most so many frames are asked for the proportions. */
const ASKED = 60;
const implied = computed(() => {
  const facts = shot.plate?.facts;
  if (!facts) return null;
  const every = Math.max(1, Math.ceil(track.heldMaps.size / ASKED));
  const frames = [...track.heldMaps.keys()].filter((_, i) => i % every === 0);
  return impliedProportions(
    frames.flatMap((f) => quadOn(f)),
    facts.width,
    facts.height,
  );
});
const quadOn = (frame: number): Quad[] => {
  const quad = placed.cornersAt(frame);
  return quad ? [quad] : [];
};
const chosen = computed(() => document.value.proportions ?? null);
const against = computed(() => {
  if (!implied.value) return null;
  if (!chosen.value) return nearestProportions(implied.value.ratio);
  const ratio = chosen.value[0] / chosen.value[1];
  return { name: `${chosen.value[0]}:${chosen.value[1]}`, ratio, mismatch: implied.value.ratio / ratio - 1 };
});
function setProportions(value: string): void {
  doc.edit((draft) => {
    if (value === '') delete draft.proportions;
    else draft.proportions = value.split(':').map(Number) as [number, number];
  });
}
const CHOICES = KNOWN_PROPORTIONS.flatMap(({ name }) => [name, name.split(':').reverse().join(':')]);
</script>

<template>
  <section class="section">
    <header><h2>Reaching over the sides</h2></header>
    <ChoiceRow class="mb-2" label="Unit" :options="UNITS" :value="outset.unit" @choose="setUnit" />
    <div class="four">
      <NumberField
        v-for="(name, k) in SIDE_NAMES"
        :key="name"
        :label="`over ${name}`"
        :value="outset.sides[k]!"
        :unit="outset.unit"
        :digits="2"
        :min="-500"
        :max="500"
        @commit="setSide(k, $event)"
      />
    </div>
    <div class="row-line mt-2">
      <NumberField
        label="corner radius"
        :value="document.cornerRadius ?? 0"
        unit="px"
        :digits="1"
        :min="0"
        :max="2000"
        @commit="setRadius"
      />
    </div>
    <button
      v-if="seat.snapped && Math.abs(seat.snapped.reply.radius - (document.cornerRadius ?? 0)) > 0.2"
      class="use-button mt-1"
      type="button"
      @click="setRadius(Number(seat.snapped!.reply.radius.toFixed(1)))"
    >
      use {{ seat.snapped.reply.radius.toFixed(1) }} px, measured at the corners
    </button>
  </section>
  <section class="section">
    <header><h2>Grid and proportions</h2></header>
    <BFormCheckbox v-model="workspace.showGrid" switch>Grid in perspective</BFormCheckbox>
    <div class="four mt-1">
      <NumberField
        label="across"
        :value="grid[0]"
        unit=""
        :digits="0"
        :min="1"
        :max="64"
        @commit="setGrid(0, $event)"
      />
      <NumberField label="down" :value="grid[1]" unit="" :digits="0" :min="1" :max="64" @commit="setGrid(1, $event)" />
    </div>
    <div v-if="implied && against" class="mt-2">
      <div class="row-line">
        <span class="quiet">device</span
        ><AppSelect
          label="device"
          class="w-auto"
          :value="chosen ? `${chosen[0]}:${chosen[1]}` : ''"
          :options="[{ value: '', text: 'not known' }, ...CHOICES]"
          @choose="setProportions"
        />
      </div>
      <p class="mb-0 mt-1" :class="{ off: chosen && Math.abs(against.mismatch) > 0.02 }" data-proportions>
        <span class="quiet">the corners imply</span> <b>{{ implied.ratio.toFixed(3) }}</b>
        <span class="quiet">to 1:</span>
        <b>{{ against.mismatch >= 0 ? '+' : '−' }}{{ Math.abs(100 * against.mismatch).toFixed(1) }} %</b>
        <span class="quiet">off {{ against.name }}</span>
      </p>
      <p class="quiet mb-0">
        by one camera on {{ track.heldMaps.size }} frames, focal length {{ Math.round(implied.focal) }} px
      </p>
    </div>
  </section>
</template>

<style scoped>
.four {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px 12px;
  --field-width: 52px;
}
.off b {
  color: var(--alarm);
}
</style>
