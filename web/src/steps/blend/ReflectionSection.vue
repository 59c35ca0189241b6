<script setup lang="ts">
import { computed } from 'vue';
import { clamp } from '../../../../core/base/geometry/clamp.ts';
import type { Quad } from '../../../../core/base/geometry/quad.ts';
import { codeToLight, lightToCode } from '../../../../core/base/image/transfer.ts';
import type { LightColour } from '../../../../core/base/schemas/types.ts';
import { FAINT } from '../../../../core/picture/blend/drawn-reflection.ts';
import AppSelect from '../../components/AppSelect.vue';
import KeyedField from './KeyedField.vue';
import ReasonMark from './ReasonMark.vue';
import { slantedShape } from './slanted-shape.ts';
import { useLook } from './use-look.ts';
import { useDocument } from '../../stores/document.ts';
import { useWorkspace } from '../../stores/workspace.ts';

/** What the screen mirrors: taken from the plate, or drawn. */
const doc = useDocument();
const { look, change, whyOf } = useLook();
const workspace = useWorkspace();
const keyed = computed(() => Array.isArray(look.value.keys) && look.value.keys.some((key) => !key.off));
const from = computed(() =>
  look.value.reflections && !look.value.reflections.off ? look.value.reflections.from : 'none',
);
const why = computed(() => whyOf('reflections'));
const colour = computed(
  () =>
    `#${(look.value.reflections?.colour ?? FAINT)
      .map((v) =>
        Math.round(255 * clamp(lightToCode(v), 0, 1))
          .toString(16)
          .padStart(2, '0'),
      )
      .join('')}`,
);

function setFrom(value: 'none' | 'dark' | 'key' | 'drawn'): void {
  const corners = doc.document!.corners as Quad | null;
  change((l) => {
    if (value === 'none') delete l.reflections;
    else if (value === 'drawn')
      l.reflections = { from: 'drawn', shape: corners ? slantedShape(corners) : { points: [] }, colour: [...FAINT] };
    else l.reflections = { from: value };
  }, 'reflections');
  workspace.picked = value === 'drawn' ? { list: 'reflection', index: 0 } : null;
}
function setColour(hex: string): void {
  change(
    (l) =>
      (l.reflections!.colour = [1, 3, 5].map((at) =>
        Number(codeToLight(parseInt(hex.slice(at, at + 2), 16) / 255).toFixed(5)),
      ) as LightColour),
  );
}
</script>

<template>
  <section class="section">
    <header>
      <h2>Reflections</h2>
      <ReasonMark v-if="why.why" title="Reflections" :why="why.why" :stale="why.stale" />
    </header>
    <div class="row-line">
      <label class="pick"
        ><span>From</span
        ><AppSelect
          label="Reflections from"
          :value="from"
          :options="[
            { value: 'none', text: 'none' },
            { value: 'dark', text: 'the dark screen', disabled: keyed },
            { value: 'key', text: 'the keyed screen', disabled: !keyed },
            { value: 'drawn', text: 'a soft shape' },
          ]"
          @choose="setFrom"
      /></label>
    </div>
    <template v-if="look.reflections && from !== 'none'">
      <KeyedField
        label="Strength"
        unit="×"
        :value="look.reflections.gain"
        :usual="1"
        :min="0"
        :max="100"
        :step="0.1"
        @commit="(v) => change((l) => (l.reflections!.gain = v))"
      />
      <KeyedField
        label="Blur"
        unit="px"
        :value="look.reflections.blur"
        :usual="0"
        :min="0"
        :max="200"
        :step="0.5"
        @commit="(v) => change((l) => (l.reflections!.blur = v))"
      />
      <template v-if="from === 'drawn'">
        <div class="row-line">
          <label class="pick"
            ><span>Rides on</span
            ><AppSelect
              label="Rides on"
              :value="look.reflections.rides ?? 'surface'"
              :options="[
                { value: 'surface', text: 'the surface' },
                { value: 'mirror', text: 'the mirror’s motion' },
              ]"
              @choose="(on) => change((l) => (l.reflections!.rides = on))"
          /></label>
        </div>
        <div class="row-line">
          <label class="pick"
            ><span title="Measure a square of the room (M) to pick it there">Colour</span
            ><BFormInput
              type="color"
              :model-value="colour"
              aria-label="Colour of the reflection"
              @change="setColour(($event.target as HTMLInputElement).value)"
          /></label>
        </div>
        <div class="row-line">
          <button
            class="btn btn-sm btn-outline-secondary flex-fill"
            type="button"
            :aria-pressed="workspace.picked?.list === 'reflection'"
            @click="
              workspace.picked = workspace.picked?.list === 'reflection' ? null : { list: 'reflection', index: 0 }
            "
          >
            <i class="bi bi-bezier2" /> Shape on the picture</button
          ><button class="btn btn-sm btn-outline-secondary" type="button" @click="workspace.tool = 'draw-reflection'">
            Draw anew
          </button>
        </div>
      </template>
    </template>
  </section>
</template>
