<script setup lang="ts">
import { computed } from 'vue';
import type { BoardLayer } from '../../../../core/base/schemas/types.ts';
import { FONT_FAMILIES, FONT_WEIGHTS } from '../../../../core/picture/board/fonts.ts';
import { TEXT_DEFAULTS } from '../../../../core/picture/board/text-layout.ts';
import AppSelect from '../../components/AppSelect.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import NumberField from '../../components/NumberField.vue';
import {
  easeName,
  EASES,
  keyFrames,
  keysOf,
  setEase,
  setValue,
  toggleKey,
  valueAt,
  type MovingName,
} from './board-edits.ts';
import { LAYER_ROWS } from './layer-rows.ts';
import { useBoard } from '../../stores/board.ts';
import { usePlayhead } from '../../stores/playhead.ts';

/** What a layer is on the frame on show. A value with keys is set on this frame alone. */
const props = defineProps<{ layer: BoardLayer }>();
const stage = useBoard();
const head = usePlayhead();
const value = (name: MovingName, i: number) => {
  const v = valueAt(props.layer, name, head.frame);
  return typeof v === 'number' ? v : v[i]!;
};
const keyed = (name: MovingName) => keysOf(props.layer, name).length > 0;
const keyHere = (name: MovingName) => keysOf(props.layer, name).some((key) => key.frame === head.frame);
function change(recipe: (layer: BoardLayer) => void): void {
  stage.change((draft) => {
    const layer = draft.layers.find((l) => l.id === props.layer.id);
    if (layer) recipe(layer);
  });
}
function set(name: MovingName, i: number, to: number): void {
  const now = valueAt(props.layer, name, head.frame);
  change((l) => setValue(l, name, head.frame, typeof now === 'number' ? to : now.map((v, k) => (k === i ? to : v))));
}
const here = computed(() => keyFrames(props.layer).find((k) => k.frame === head.frame) ?? null);
const way = computed(() => {
  const name = here.value?.names[0];
  const key = name && keysOf(props.layer, name).find((k) => k.frame === head.frame);
  return key ? easeName(key.ease as never) : 'linear';
});
const text = (event: Event) => (event.target as HTMLTextAreaElement).value;
</script>

<template>
  <div class="fields" data-layer-fields>
    <BFormInput
      size="sm"
      :model-value="layer.name ?? ''"
      aria-label="Name of the layer"
      placeholder="Name"
      @change="change((l) => (l.name = text($event)))"
      @keydown.stop
    />
    <template v-if="layer.kind === 'text'">
      <textarea
        class="form-control form-control-sm"
        rows="2"
        :value="layer.text ?? ''"
        aria-label="Text"
        @change="change((l) => (l.text = text($event)))"
        @keydown.stop
      />
      <div class="pair">
        <AppSelect
          label="Font"
          :value="layer.font ?? TEXT_DEFAULTS.font"
          :options="FONT_FAMILIES"
          @choose="(font) => change((l) => (l.font = font))"
        />
        <AppSelect
          label="Weight"
          :value="layer.weight ?? TEXT_DEFAULTS.weight"
          :options="FONT_WEIGHTS"
          @choose="(weight) => change((l) => (l.weight = weight))"
        />
      </div>
      <ChoiceRow
        label="Alignment"
        :options="['left', 'middle', 'right']"
        :value="layer.align ?? 'left'"
        @choose="(v) => change((l) => (l.align = v))"
      />
      <div class="pair">
        <NumberField
          label="Size"
          unit="px"
          :value="layer.size ?? TEXT_DEFAULTS.size"
          :min="1"
          :max="10000"
          @commit="(v) => change((l) => (l.size = v))"
        /><NumberField
          label="Lines"
          unit="×"
          :value="layer.leading ?? TEXT_DEFAULTS.leading"
          :min="0.2"
          :max="10"
          :step="0.05"
          @commit="(v) => change((l) => (l.leading = v))"
        />
      </div>
    </template>
    <label v-if="['text', 'solid', 'rounded'].includes(layer.kind)" class="ink"
      ><span>Colour</span
      ><BFormInput
        type="color"
        :model-value="(layer.colour ?? '#ffffff').slice(0, 7)"
        @change="change((l) => (l.colour = text($event)))"
    /></label>
    <div class="pair">
      <NumberField
        :label="layer.kind === 'text' ? 'Wraps' : 'Width'"
        unit="px"
        :value="layer.width ?? 0"
        :min="0"
        :max="100000"
        @commit="
          (v) =>
            change((l) => {
              if (v > 0) l.width = v;
              else delete l.width;
            })
        "
      />
      <NumberField
        v-if="layer.kind !== 'text'"
        label="Height"
        unit="px"
        :value="layer.height ?? 0"
        :min="0"
        :max="100000"
        @commit="
          (v) =>
            change((l) => {
              if (v > 0) l.height = v;
              else delete l.height;
            })
        "
      />
      <NumberField
        v-if="layer.kind === 'rounded'"
        label="Radius"
        unit="px"
        :value="layer.radius ?? 24"
        :min="0"
        :max="100000"
        @commit="(v) => change((l) => (l.radius = v))"
      />
      <NumberField
        label="Behind"
        unit="%"
        :value="100 * (layer.depth ?? 0)"
        :min="-200"
        :max="500"
        :digits="1"
        @commit="
          (v) =>
            change((l) => {
              if (v !== 0) l.depth = v / 100;
              else delete l.depth;
            })
        "
      />
    </div>
    <div v-for="row in LAYER_ROWS" :key="row.name" class="moving" :class="{ many: row.fields.length > 2 }">
      <button
        class="mark"
        type="button"
        :aria-pressed="keyHere(row.name)"
        :aria-label="`${keyHere(row.name) ? 'Take away the key of' : 'Key'} ${row.name} here`"
        :title="
          keyHere(row.name)
            ? 'Take this key away'
            : keyed(row.name)
              ? 'Key it here as well'
              : 'Key it: from here on it changes over time'
        "
        :data-key-of="row.name"
        @click="change((l) => toggleKey(l, row.name, head.frame))"
      >
        <svg width="14" height="14" viewBox="-7 -7 14 14">
          <path d="M-5 0A5 5 0 1 1 5 0Z" :class="{ here: keyHere(row.name) }" />
          <path v-if="keyed(row.name)" d="M-5 3H5" />
        </svg>
      </button>
      <NumberField
        v-for="([label, unit, factor, step], i) in row.fields"
        :key="i"
        :label="label || row.name"
        :hide-label="label === ''"
        :unit="unit"
        :value="factor * value(row.name, i)"
        :step="step"
        :digits="2"
        @commit="set(row.name, i, $event / factor)"
      />
    </div>
    <label v-if="here" class="ink"
      ><span>From this key on</span
      ><AppSelect
        label="From this key on"
        :value="way"
        :options="way === 'own' ? [{ value: 'own', text: 'own', disabled: true }, ...EASES] : EASES"
        @choose="(name) => change((l) => name !== 'own' && setEase(l, head.frame, name))"
    /></label>
  </div>
</template>

<style scoped>
.fields {
  border-top: 1px solid var(--line);
  margin-top: 8px;
  padding-top: 8px;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
  --field-width: 44px;
  --unit-width: 18px;
}
.pair {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 2px 12px;
}
.moving {
  display: grid;
  grid-template-columns: 20px repeat(2, minmax(0, 1fr));
  gap: 2px 10px;
  align-items: center;
}
.moving.many .mark {
  grid-row: span 2;
}
.mark {
  border: 0;
  background: none;
  padding: 2px;
  line-height: 0;
}
.mark path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.4;
}
.mark path.here {
  fill: var(--accent);
  stroke: var(--accent);
}
.ink {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
}
.ink select {
  width: 140px;
}
.form-control-color {
  width: 52px;
  height: 26px;
  padding: 1px;
}
</style>
