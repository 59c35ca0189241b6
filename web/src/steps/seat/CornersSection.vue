<script setup lang="ts">
import { computed } from 'vue';
import { CORNER_NAMES } from '../../../../core/base/geometry/quad.ts';
import { MIRROR, QUARTER_TURN } from '../../../../core/surface/seat/turn-quad.ts';
import NumberField from '../../components/NumberField.vue';
import { useWorkspace } from '../../stores/workspace.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';
import { usePlacedCorners } from '../../stores/placed-corners.ts';
import CornerMagnifier from '../../viewer/CornerMagnifier.vue';
import { CORNER_SHAPES } from '../../viewer/corner-shapes.ts';
import { movePart } from './move-part.ts';
import { moveQuad, turnContent } from './seat-edits.ts';

/** Four corners, seen closely, moved by hand, key or number; the content turned on them. */
const shot = useShot();
const doc = useDocument();
const placed = usePlacedCorners();
const head = usePlayhead();
const workspace = useWorkspace();
const document = computed(() => doc.document!);
const corners = computed(() => placed.cornersAt(head.frame));
/** In the magnifiers' places: as the corners lie on an upright screen. */
const PLACES = [0, 1, 3, 2];

function setNumber(index: number, axis: 0 | 1, value: number): void {
  const corner = corners.value![index]!;
  moveQuad(
    head.frame,
    movePart(corners.value!, index, axis === 0 ? [value - corner[0], 0] : [0, value - corner[1]]),
    'edit',
  );
}
</script>

<template>
  <section class="section">
    <header>
      <h2>Corners</h2>
      <span class="quiet"
        >frame {{ head.frame + shot.firstNumber
        }}{{ head.frame === document.referenceFrame ? ', the reference' : '' }}</span
      >
    </header>
    <template v-if="corners">
      <div class="glasses"><CornerMagnifier v-for="i in PLACES" :key="i" :index="i" /></div>
      <div class="choice mb-2" role="group" aria-label="What moving does">
        <button
          type="button"
          :aria-pressed="workspace.seatMode === 'everywhere'"
          title="The corners themselves, on all frames (X)"
          @click="workspace.seatMode = 'everywhere'"
        >
          on all frames
        </button>
        <button
          type="button"
          :aria-pressed="workspace.seatMode === 'here'"
          title="A fix keyed on this frame (X)"
          @click="workspace.seatMode = 'here'"
        >
          a fix here
        </button>
      </div>
      <table class="numbers">
        <tbody>
          <tr v-for="(name, i) in CORNER_NAMES" :key="name" :class="{ chosen: workspace.part === i }">
            <th scope="row">
              <svg width="20" height="20" viewBox="-11 -11 22 22"><path :d="CORNER_SHAPES[i]" /></svg>{{ name }}
            </th>
            <td>
              <NumberField
                :label="`${name} x`"
                hide-label
                :value="corners[i]![0]"
                unit="x"
                :digits="2"
                @commit="setNumber(i, 0, $event)"
              />
            </td>
            <td>
              <NumberField
                :label="`${name} y`"
                hide-label
                :value="corners[i]![1]"
                unit="y"
                :digits="2"
                @commit="setNumber(i, 1, $event)"
              />
            </td>
          </tr>
        </tbody>
      </table>
      <div class="turns">
        <button
          class="use-button"
          type="button"
          title="The content's upper edge goes to the next side"
          @click="doc.edit((d) => turnContent(d, QUARTER_TURN))"
        >
          <i class="bi bi-arrow-counterclockwise" /> quarter turn
        </button>
        <button
          class="use-button"
          type="button"
          title="A screen seen in a mirror"
          @click="doc.edit((d) => turnContent(d, MIRROR))"
        >
          <i class="bi bi-symmetry-vertical" /> mirror
        </button>
        <button class="use-button" type="button" @click="workspace.tool = 'place-corners'">place again</button>
      </div>
      <p class="quiet mt-2 mb-0">
        Drag a corner, a side, the cross or the handle over the tab (turns; <kbd>Shift</kbd> scales). <kbd>C</kbd>
        <kbd>S</kbd> <kbd>A</kbd> pick, arrows nudge: 1 px, <kbd>Shift</kbd> 10, <kbd>Alt</kbd> 0.1.
      </p>
    </template>
    <p v-else class="notice mb-0">
      The track does not reach this frame. Follow it first, or go to the reference, frame
      {{ document.referenceFrame + shot.firstNumber }}.
    </p>
  </section>
</template>

<style scoped>
.glasses {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
  margin-bottom: 8px;
}
.numbers {
  width: 100%;
  --field-width: 54px;
  --unit-width: 14px;
}
.numbers th {
  font-weight: 400;
  font-size: 13px;
  display: flex;
  align-items: center;
  gap: 5px;
  height: 30px;
  white-space: nowrap;
}
.numbers path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.8;
}
.chosen th {
  font-weight: 660;
}
.chosen path {
  stroke: var(--accent);
  stroke-width: 2.6;
}
.turns {
  display: flex;
  gap: 5px;
  flex-wrap: wrap;
  margin-top: 6px;
}
</style>
