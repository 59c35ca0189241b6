<script setup lang="ts">
import { computed } from 'vue';
import { polygonOf } from '../../../../core/base/geometry/outline.ts';
import type { Quad } from '../../../../core/base/geometry/quad.ts';
import type { CleanFixFile } from '../../../../core/base/schemas/types.ts';
import { MOST_COVERED } from '../../../../core/picture/composite/check-look.ts';
import { coveredShare } from '../../../../core/picture/look/clean-fix.ts';
import AppCheck from '../../components/AppCheck.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import NumberField from '../../components/NumberField.vue';
import { useDocument } from '../../stores/document.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useShot } from '../../stores/shot.ts';
import { changeFix, FILL_SAYS, FILLS, fixesOf, fixShapes, inShares, setFill } from './fix-edits.ts';
import { rideOn } from './ride-on.ts';

/** What the picked fix is filled from, how it moves, how soft it is and on which frames it counts. */
const props = defineProps<{ index: number }>();
const shot = useShot();
const doc = useDocument();
const head = usePlayhead();
const fix = computed(() => fixesOf(doc.document!)[props.index]!);
/** Where the picked fix lies on the reference, in shares of the surface. */
const shares = computed(() => {
  const corners = doc.document!.corners as Quad | null;
  return corners ? (inShares(polygonOf(fixShapes(doc.document!)[props.index]! as never), corners) ?? []) : [];
});
const covers = computed(() => (fix.value.shape?.rides === 'plate' ? 0 : coveredShare(shares.value)));
const soft = computed(() => fix.value.soft ?? 1.5);
const opacity = computed(() => (typeof fix.value.shape?.opacity === 'number' ? fix.value.shape.opacity : 1));
const change = (recipe: (fix: CleanFixFile) => void) => doc.edit((draft) => changeFix(draft, props.index, recipe));
function setFrames(side: 0 | 1, frame: number): void {
  change((draft) => {
    const pair: [number, number] = [...(draft.frames ?? [0, shot.frames - 1])];
    pair[side] = frame;
    draft.frames = pair[0] <= pair[1] ? pair : [frame, frame];
  });
}
function tickFrames(on: boolean): void {
  change((draft) => {
    if (on) draft.frames = [head.frame, shot.frames - 1];
    else delete draft.frames;
  });
}
</script>

<template>
  <div class="chosen under-rows">
    <ChoiceRow
      label="Filled from"
      :options="FILLS"
      :value="fix.method"
      @choose="(method) => change((draft) => setFill(draft, method, shares))"
    />
    <p class="quiet mt-1 mb-1">{{ FILL_SAYS[fix.method] }}</p>
    <div class="row-line">
      <span>Moves with</span
      ><ChoiceRow
        label="The fix moves with"
        :options="['surface', 'plate']"
        :value="fix.shape?.rides ?? 'surface'"
        @choose="(value) => rideOn('fixes', index, value, head.frame)"
      />
    </div>
    <p v-if="covers > MOST_COVERED && fix.method !== 'frames'" class="notice" data-too-large>
      It covers {{ Math.round(100 * covers) }} % of the screen: what is left around it does not tell what it should look
      like. Draw it smaller, or fill it from other frames.
    </p>
    <div class="pair">
      <NumberField
        label="Soft"
        unit="px"
        :value="soft"
        :min="0"
        :max="1000"
        :step="0.5"
        :digits="2"
        @commit="(v) => change((draft) => (draft.soft = v))"
      />
      <NumberField
        label="Counts"
        unit="%"
        :value="100 * opacity"
        :min="0"
        :max="100"
        :step="5"
        @commit="
          (v) =>
            change((draft) => {
              if (draft.shape) draft.shape.opacity = v / 100;
            })
        "
      />
    </div>
    <AppCheck :model-value="fix.frames !== undefined" @update:model-value="tickFrames">On some frames only</AppCheck>
    <div v-if="fix.frames" class="pair">
      <NumberField
        label="From"
        unit=""
        :value="fix.frames[0]"
        :min="0"
        :max="shot.frames - 1"
        :step="1"
        :digits="0"
        @commit="setFrames(0, $event)"
      />
      <NumberField
        label="to"
        unit=""
        :value="fix.frames[1]"
        :min="0"
        :max="shot.frames - 1"
        :step="1"
        :digits="0"
        @commit="setFrames(1, $event)"
      />
    </div>
  </div>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
  --field-width: 40px;
}
</style>
