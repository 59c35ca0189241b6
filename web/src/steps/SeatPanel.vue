<script setup lang="ts">
import { computed } from 'vue';
import { CORNER_NAMES, quadFault, type Quad } from '../../../core/geometry/quad.ts';
import NumberField from '../components/NumberField.vue';
import { useBench } from '../stores/bench.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import CornerMagnifier from '../viewer/CornerMagnifier.vue';
import { CORNER_SHAPES } from '../viewer/corner-shapes.ts';
import { moveCorner } from './move-corner.ts';

/** Where exactly are the edges? Four corners, seen closely, moved by hand, key or number. */
const shot = useShot();
const head = usePlayhead();
const bench = useBench();
const document = computed(() => shot.document!);
const corners = computed(() => shot.cornersAt(head.frame));
const first = computed(() => shot.firstNumber);
/** In the magnifiers' places: as the corners lie on an upright screen. */
const PLACES = [0, 1, 3, 2];
/** A region of four points drawn around the screen is nearly the seat already. */
const fromRegion = computed(() => {
  const outline = document.value.regions.find((r) => r.points.length === 4);
  return outline && quadFault(outline.points as unknown as Quad) === null ? outline.points : null;
});

function setNumber(index: number, axis: 0 | 1, value: number): void {
  const corner = corners.value![index]!;
  moveCorner(shot, head.frame, index, axis === 0 ? [value, corner[1]] : [corner[0], value], 'edit');
}
function useRegion(): void {
  shot.edit((draft) => {
    draft.corners = structuredClone(fromRegion.value!.map(([x, y]) => [x, y])) as typeof draft.corners;
  });
}
</script>

<template>
  <section class="section">
    <header><h2>Corners</h2><span class="quiet">frame {{ head.frame + first }}</span></header>
    <template v-if="!document.corners">
      <p class="quiet">Click the four corners of the screen in the order of the content: top-left, top-right, bottom-right, bottom-left. They may lie outside the picture.</p>
      <BButton variant="primary" class="w-100" :disabled="!shot.plate" @click="bench.tool = 'place-corners'">Place the corners</BButton>
      <button v-if="fromRegion" class="use-button mt-2" type="button" @click="useRegion">start from the four points of the region</button>
    </template>
    <template v-else-if="corners">
      <div class="glasses">
        <CornerMagnifier v-for="i in PLACES" :key="i" :index="i" />
      </div>
      <table class="numbers">
        <tbody>
          <tr v-for="(name, i) in CORNER_NAMES" :key="name" :class="{ chosen: bench.corner === i }">
            <th scope="row"><svg width="20" height="20" viewBox="-11 -11 22 22"><path :d="CORNER_SHAPES[i]" /></svg>{{ name }}</th>
            <td><NumberField :label="`${name} x`" hide-label :value="corners[i]![0]" unit="x" :digits="2" @commit="setNumber(i, 0, $event)" /></td>
            <td><NumberField :label="`${name} y`" hide-label :value="corners[i]![1]" unit="y" :digits="2" @commit="setNumber(i, 1, $event)" /></td>
          </tr>
        </tbody>
      </table>
      <p class="quiet mt-2 mb-0">Drag a corner, or press <kbd>C</kbd> and nudge it with the arrow keys: 1 px, <kbd>Shift</kbd> 10, <kbd>Alt</kbd> 0.1.</p>
    </template>
    <p v-else class="notice mb-0">The track does not reach this frame. Follow it first, or go to the reference, frame {{ document.referenceFrame + first }}.</p>
  </section>
  <section v-if="document.corners" class="section">
    <header><h2>Checks</h2></header>
    <BFormCheckbox switch :model-value="document.testCard" @update:model-value="shot.edit((d) => { d.testCard = $event === true; })">Test card on the surface</BFormCheckbox>
    <BFormCheckbox v-model="bench.showGrid" switch>Grid in perspective</BFormCheckbox>
    <BFormCheckbox v-model="bench.showOutlines" switch>Outline and corner marks</BFormCheckbox>
  </section>
  <section v-if="document.corners" class="section d-flex gap-2">
    <BButton variant="outline-secondary" @click="bench.tool = 'place-corners'">Place again</BButton>
    <RouterLink class="btn btn-primary flex-fill" :to="`/shots/${shot.shot!.id}/content`">On to Content <i class="bi bi-arrow-right" /></RouterLink>
  </section>
</template>

<style scoped>
.glasses { display: grid; grid-template-columns: 1fr 1fr; gap: 6px; margin-bottom: 10px; }
.numbers { width: 100%; --field-width: 54px; --unit-width: 14px; }
.numbers th { font-weight: 400; font-size: 13px; display: flex; align-items: center; gap: 5px; height: 32px; white-space: nowrap; }
.numbers path { fill: none; stroke: var(--ink); stroke-width: 1.8; }
.chosen th { font-weight: 660; }
.chosen path { stroke: var(--accent); stroke-width: 2.6; }
</style>
