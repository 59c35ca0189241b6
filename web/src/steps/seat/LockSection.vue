<script setup lang="ts">
import { computed, ref } from 'vue';
import type { Homography } from '../../../../core/base/geometry/homography.ts';
import { CORNER_NAMES, type Quad } from '../../../../core/base/geometry/quad.ts';
import { mean } from '../../../../core/base/image/statistics.ts';
import { SeatedCorners } from '../../../../core/surface/seat/seated-corners.ts';
import AppRange from '../../components/AppRange.vue';
import { useDocument } from '../../stores/document.ts';
import { usePlacedCorners } from '../../stores/placed-corners.ts';
import { useSeat } from '../../stores/seat.ts';
import { useTrack } from '../../stores/track.ts';

/** Corners on every frame where the borders are, and their paths without noise. */
const doc = useDocument();
const track = useTrack();
const placed = usePlacedCorners();
const seat = useSeat();
const document = computed(() => doc.document!);
const stated = computed(() => {
  const all = track.rows.flatMap((row) =>
    row.homography && row.frame !== document.value.referenceFrame ? (track.boundsAt(row.frame) ?? []) : [],
  );
  return all.length > 0 ? mean(all) : null;
});
const locked = computed(() => {
  const all = [...seat.frames.values()].flatMap((f) =>
    f.holds && f.bounds && f.frame !== document.value.referenceFrame ? f.bounds : [],
  );
  return all.length > 0 ? mean(all) : null;
});
const amount = ref<number | null>(null);
const shownAmount = computed(() => amount.value ?? document.value.smooth ?? 0);
/** How far smoothing moves each corner, px of the frame: mean and most. */
const effect = computed(() => {
  const d = document.value;
  const smooth = shownAmount.value;
  if (!(smooth > 0) || !d.corners) return null;
  const seating = {
    corners: d.corners as Quad,
    referenceFrame: d.referenceFrame,
    outset: d.outset,
    corrections: d.corrections,
    lock: d.lock === true ? placed.lock : null,
  };
  const maps: ReadonlyMap<number, Homography> = track.heldMaps;
  const bounds = (frame: number) => track.boundsAt(frame);
  const plain = new SeatedCorners(seating).all(maps, bounds);
  const smoothed = new SeatedCorners({ ...seating, smooth }).all(maps, bounds);
  return CORNER_NAMES.map((name, c) => {
    const off = [...plain].flatMap(([frame, quad]) => {
      const other = smoothed.get(frame);
      return other ? [Math.hypot(other[c]![0] - quad[c]![0], other[c]![1] - quad[c]![1])] : [];
    });
    return { name, mean: off.length > 0 ? mean(off) : 0, most: Math.max(0, ...off) };
  });
});
function setLock(on: boolean): void {
  doc.edit((draft) => {
    if (on) draft.lock = true;
    else delete draft.lock;
  });
}
function setSmooth(): void {
  const value = amount.value;
  amount.value = null;
  if (value === null) return;
  doc.edit((draft) => {
    if (value > 0) draft.smooth = value;
    else delete draft.smooth;
  });
}
</script>

<template>
  <section class="section">
    <header><h2>Edge lock</h2></header>
    <BFormCheckbox
      switch
      :model-value="document.lock === true"
      :disabled="!seat.measured"
      data-lock
      @update:model-value="setLock($event === true)"
      >Corners where the borders are, on every frame</BFormCheckbox
    >
    <p v-if="!seat.measured" class="quiet mb-0 mt-1">Look at the borders first.</p>
    <template v-else-if="locked !== null">
      <p class="mb-0 mt-1">
        <span class="quiet">bound of a corner</span> <b v-if="stated !== null">± {{ stated.toFixed(2) }}</b>
        <i v-if="stated !== null" class="bi bi-arrow-right" /> <b>± {{ locked.toFixed(2) }} px</b>
      </p>
      <p v-if="!seat.measured.worth" class="notice calm mt-2 mb-0">
        The borders know the corners no better than the track does; locking has nothing to add here.
      </p>
    </template>
    <p v-else class="notice mt-2 mb-0">
      No straight border is seen on the reference, so that there is nothing to lock to.
    </p>
  </section>
  <section class="section">
    <header>
      <h2>Smoothing</h2>
      <span class="quiet">without lag</span>
    </header>
    <label class="smooth"
      ><AppRange
        label="Smoothing, amount"
        :min="0"
        :max="1"
        :step="0.05"
        :model-value="shownAmount"
        @update:model-value="amount = $event"
        @change="setSmooth"
      /><span>{{ shownAmount === 0 ? 'off' : shownAmount.toFixed(2) }}</span></label
    >
    <table v-if="effect" class="effect" data-smooth-effect>
      <tbody>
        <tr v-for="e in effect" :key="e.name">
          <th scope="row">{{ e.name }}</th>
          <td>{{ e.mean.toFixed(3) }} px</td>
          <td class="quiet">at most {{ e.most.toFixed(2) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else class="quiet mb-0">
      Takes away what is within the stated bounds and keeps real jerks. At 0 nothing is changed.
    </p>
  </section>
</template>

<style scoped>
.smooth {
  display: grid;
  grid-template-columns: 1fr 40px;
  gap: 8px;
  align-items: center;
  font-size: 13px;
}
.smooth span {
  text-align: right;
}
.effect {
  width: 100%;
  font-size: 13px;
  margin-top: 6px;
}
.effect th {
  font-weight: 400;
}
.effect td {
  text-align: right;
}
</style>
