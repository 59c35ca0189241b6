<script setup lang="ts">
import { computed, ref } from 'vue';
import { applyToPoint, invert } from '../../../../core/base/geometry/homography.ts';
import type { Quad } from '../../../../core/base/geometry/quad.ts';
import { quadOfSides, sideOf, SIDE_NAMES, type SideLine } from '../../../../core/surface/seat/sides.ts';
import IconButton from '../../components/IconButton.vue';
import { useDocument } from '../../stores/document.ts';
import { useNotices } from '../../stores/notices.ts';
import { usePlacedCorners } from '../../stores/placed-corners.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useSeat } from '../../stores/seat.ts';
import { useTrack } from '../../stores/track.ts';

/** Puts the corners onto the borders near them, and says how sure each side is. */
const doc = useDocument();
const track = useTrack();
const placed = usePlacedCorners();
const seat = useSeat();
const head = usePlayhead();
const notices = useNotices();
const busy = ref(false);
const border = computed(() => doc.document!.border ?? 'inner');
const found = computed(() => seat.snapped);

async function snap(): Promise<void> {
  busy.value = true;
  await notices.guard(async () => {
    const frame = head.frame;
    const reply = await seat.snap(frame, border.value);
    if (reply) take(reply.corners, frame);
  });
  busy.value = false;
}
/** Corners as a frame shows them, carried to the reference. */
function take(corners: Quad, frame: number): void {
  const map = track.homographyAt(frame);
  const back = map && invert(map);
  const now = placed.cornersAt(frame);
  if (!back || !now) return;
  doc.edit((draft) => {
    draft.corners = draft.corners!.map(([x, y], c) => {
      const [u, v] = applyToPoint(back, corners[c]!);
      const [p, q] = applyToPoint(back, now[c]!);
      return [x + u - p, y + v - q];
    }) as typeof draft.corners;
  });
}
/** Another of the borders that were found along a side. */
function choose(side: number, by: number): void {
  const snapped = found.value;
  if (!snapped) return;
  const sides = snapped.reply.sides.map((s, k) =>
    k === side ? { ...s, chosen: Math.max(0, Math.min(s.borders.length - 1, (s.chosen ?? 0) + by)) } : s,
  );
  const lines = sides.map((s, k): SideLine => {
    const own = sideOf(snapped.reply.corners, k);
    const one = s.chosen === null ? null : s.borders[s.chosen]!;
    return one ? { ...own, from: one.from, to: one.to } : own;
  });
  const quad = quadOfSides(lines);
  if (!quad) return;
  seat.snapped = {
    frame: snapped.frame,
    reply: {
      ...snapped.reply,
      sides: sides as typeof snapped.reply.sides,
      corners: quad.map(([x, y]) => [x, y]) as typeof snapped.reply.corners,
    },
  };
  if (head.frame === snapped.frame) take(quad, snapped.frame);
}
function setBorder(wanted: 'inner' | 'outer'): void {
  doc.edit((draft) => {
    draft.border = wanted;
  });
}
</script>

<template>
  <section class="section">
    <header><h2>Snap to the borders</h2></header>
    <div class="choice mb-2" role="group" aria-label="Which border">
      <button type="button" :aria-pressed="border === 'inner'" @click="setBorder('inner')">edge of the glass</button>
      <button type="button" :aria-pressed="border === 'outer'" @click="setBorder('outer')">edge of the device</button>
    </div>
    <BButton variant="primary" class="w-100" :disabled="busy || !placed.cornersAt(head.frame)" data-snap @click="snap"
      ><i class="bi bi-magnet" /> {{ busy ? 'Looking…' : 'Snap' }}</BButton
    >
    <table v-if="found" class="found" data-snapped>
      <tbody>
        <tr v-for="(side, k) in found.reply.sides" :key="k">
          <th scope="row">{{ SIDE_NAMES[k] }}</th>
          <td v-if="side.chosen !== null" class="sure">± {{ side.borders[side.chosen]!.bound.toFixed(2) }} px</td>
          <td v-else class="blind">no border seen</td>
          <td class="others">
            <template v-if="side.borders.length > 1 && side.chosen !== null">
              <IconButton
                icon="box-arrow-in-down"
                :label="`${SIDE_NAMES[k]}: border further in`"
                :disabled="side.chosen === 0"
                title="The border further in"
                @click="choose(k, -1)"
              />
              <span class="quiet">{{ side.chosen + 1 }} of {{ side.borders.length }}</span>
              <IconButton
                icon="box-arrow-up"
                :label="`${SIDE_NAMES[k]}: border further out`"
                :disabled="side.chosen === side.borders.length - 1"
                title="The border further out"
                @click="choose(k, 1)"
              />
            </template>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else class="quiet mt-2 mb-0">
      Finds straight borders within 14 px of each side, also past fingers, reflections and rounded corners.
    </p>
  </section>
</template>

<style scoped>
.found {
  width: 100%;
  margin-top: 8px;
  font-size: 13px;
}
.found th {
  font-weight: 400;
  width: 62px;
}
.found td {
  height: 26px;
}
.sure {
  font-weight: 640;
  white-space: nowrap;
}
.blind {
  color: var(--alarm);
}
.others {
  text-align: right;
  white-space: nowrap;
}
</style>
