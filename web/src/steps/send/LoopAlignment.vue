<script setup lang="ts">
import { computed } from 'vue';
import type { ShotLoop } from '../../../../core/base/schemas/types.ts';
import { USUAL_FADE } from '../../../../core/picture/loop/shot-loop.ts';
import AppSelect from '../../components/AppSelect.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import NumberField from '../../components/NumberField.vue';
import { useDocument } from '../../stores/document.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useShot } from '../../stores/shot.ts';
import { useWorkspace, type Tool } from '../../stores/workspace.ts';
import { changeLoop } from './loop-edits.ts';

/** How the pictures that are joined are laid on each other: by what both show, by hand, or as they are. */
const shot = useShot();
const doc = useDocument();
const head = usePlayhead();
const workspace = useWorkspace();
const loop = computed<ShotLoop>(() => doc.document!.loop ?? {});
const change = (recipe: (loop: ShotLoop) => void) => doc.edit((draft) => changeLoop(draft, recipe));
const MOTIONS = ['translation', 'similarity', 'affine', 'perspective'] as const;
const ALIGNS = ['solve', 'by hand', 'none'] as const;
const align = computed(() => (loop.value.byHand ? 'by hand' : (loop.value.align ?? 'solve')));
const take = (tool: Tool) => (workspace.tool = workspace.tool === tool ? 'look' : tool);
function setAlign(way: (typeof ALIGNS)[number]): void {
  change((l) => {
    delete l.align;
    delete l.byHand;
    if (way === 'none') l.align = 'none';
    if (way === 'by hand') l.byHand = { move: [0, 0], turn: 0, scale: 1 };
  });
}
const byHand = (recipe: (hand: NonNullable<ShotLoop['byHand']>) => void) => change((l) => recipe(l.byHand!));
</script>

<template>
  <div class="row-line mt-1">
    <span>Align</span><ChoiceRow label="Align" :options="ALIGNS" :value="align" @choose="setAlign" />
  </div>
  <template v-if="align === 'solve'">
    <label class="row-line"
      ><span>By</span
      ><AppSelect
        label="Motion of the alignment"
        :value="loop.motion ?? 'perspective'"
        :options="MOTIONS"
        @choose="(motion) => change((l) => (l.motion = motion))"
    /></label>
    <div class="row-line">
      <span class="quiet">{{ loop.region ? 'on the region that was drawn' : 'on all of the picture' }}</span>
      <span
        ><button
          class="use-button"
          type="button"
          :aria-pressed="workspace.tool === 'draw-join-region'"
          @click="take('draw-join-region')"
        >
          draw a region</button
        ><button
          v-if="loop.region"
          class="use-button"
          type="button"
          @click="
            change((l) => {
              delete l.region;
            })
          "
        >
          all of it
        </button></span
      >
    </div>
  </template>
  <div v-else-if="loop.byHand" class="pair">
    <p class="quiet m-0 both">
      {{
        loop.second
          ? 'The other take lies half through over this one.'
          : 'On the last frames the beginning lies half through over the end.'
      }}
      <button
        v-if="!loop.second"
        class="use-button"
        type="button"
        data-go-join
        @click="head.goTo(shot.range[1] - Math.floor((loop.fade ?? USUAL_FADE) / 2))"
      >
        go there
      </button>
    </p>
    <NumberField
      label="Right"
      unit="px"
      :value="loop.byHand.move[0]"
      :min="-10000"
      :max="10000"
      :step="0.1"
      :digits="2"
      @commit="(v) => byHand((h) => (h.move = [v, h.move[1]]))"
    />
    <NumberField
      label="Down"
      unit="px"
      :value="loop.byHand.move[1]"
      :min="-10000"
      :max="10000"
      :step="0.1"
      :digits="2"
      @commit="(v) => byHand((h) => (h.move = [h.move[0], v]))"
    />
    <NumberField
      label="Turned"
      unit="°"
      :value="loop.byHand.turn"
      :min="-360"
      :max="360"
      :step="0.05"
      :digits="3"
      @commit="(v) => byHand((h) => (h.turn = v))"
    />
    <NumberField
      label="Scaled"
      unit="%"
      :value="100 * loop.byHand.scale"
      :min="10"
      :max="1000"
      :step="0.1"
      :digits="2"
      @commit="(v) => byHand((h) => (h.scale = v / 100))"
    />
  </div>
</template>

<style scoped>
select {
  max-width: 170px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 10px;
  --field-width: 46px;
}
.both {
  grid-column: 1 / -1;
}
</style>
