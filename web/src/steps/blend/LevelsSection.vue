<script setup lang="ts">
import { computed } from 'vue';
import {
  DISPLAY_KELVIN,
  kelvinOf,
  LEAST_KELVIN,
  MOST_KELVIN,
  whiteTint,
} from '../../../../core/picture/blend/white-point.ts';
import NumberField from '../../components/NumberField.vue';
import KeyedField from './KeyedField.vue';
import type { KeyedNumber } from './keyed-edits.ts';
import ReasonMark from './ReasonMark.vue';
import { useLook } from './use-look.ts';

/** Where the content's black and white go, and its light over time. */
const { look, change, whyOf } = useLook();
/** Values many compositors start from (common practice, no source). */
const USUAL = { black: 0.07, white: 0.85 };
function set(name: 'black' | 'white' | 'gamma' | 'saturation' | 'hue', value: KeyedNumber): void {
  change((l) => (l.levels = { ...l.levels, [name]: value }), `levels/${name}`);
}
const kelvin = computed(() => (look.value.levels?.tint ? kelvinOf(look.value.levels.tint) : DISPLAY_KELVIN));
const tintReason = computed(() => {
  const { why, stale } = whyOf('levels/tint');
  return why && { why, stale };
});
/** White as daylight of some kelvins would be in this picture; null leaves it as the content has it. */
function setTint(tint: [number, number, number] | null): void {
  change((l) => {
    const { tint: _, ...rest } = l.levels ?? {};
    l.levels = tint ? { ...rest, tint: tint.map((v) => Number(v.toFixed(5))) as [number, number, number] } : rest;
  }, 'levels/tint');
}
</script>

<template>
  <section class="section">
    <header>
      <h2>Levels</h2>
      <span class="quiet">where 0 and 1 go, as displayed</span>
    </header>
    <KeyedField
      label="Black"
      :value="look.levels?.black"
      :usual="0"
      :min="-1"
      :max="2"
      :step="0.01"
      v-bind="whyOf('levels/black')"
      :use="USUAL.black"
      use-title="Usual near an indoor screen (common practice)"
      @commit="set('black', $event)"
    />
    <KeyedField
      label="White"
      :value="look.levels?.white"
      :usual="1"
      :min="-1"
      :max="2"
      :step="0.01"
      v-bind="whyOf('levels/white')"
      :use="USUAL.white"
      use-title="Usual near an indoor screen (common practice)"
      @commit="set('white', $event)"
    />
    <KeyedField
      label="Gamma"
      :value="look.levels?.gamma"
      :usual="1"
      :min="0.1"
      :max="10"
      :step="0.05"
      @commit="set('gamma', $event)"
    />
    <KeyedField
      label="Saturation"
      unit="%"
      :times="100"
      :value="look.levels?.saturation"
      :usual="1"
      :min="0"
      :max="400"
      :step="5"
      @commit="set('saturation', $event)"
    />
    <KeyedField
      label="Hue"
      unit="°"
      :value="look.levels?.hue"
      :usual="0"
      :min="-360"
      :max="360"
      :step="1"
      @commit="set('hue', $event)"
    />
    <div class="row-line white">
      <span class="name"
        >Colour of white<ReasonMark v-if="whyOf('levels/tint').why" title="Colour of white" v-bind="tintReason!"
      /></span>
      <button
        v-if="kelvin !== DISPLAY_KELVIN"
        class="use-button"
        type="button"
        title="As the screen gives it, D65"
        @click="setTint(null)"
      >
        use {{ DISPLAY_KELVIN }}
      </button>
      <NumberField
        hide-label
        label="Colour of white"
        unit="K"
        :value="kelvin"
        :min="LEAST_KELVIN"
        :max="MOST_KELVIN"
        :step="100"
        @commit="setTint(whiteTint($event))"
      />
    </div>
    <KeyedField
      label="Exposure"
      unit="stops"
      :value="look.exposure"
      :usual="0"
      :min="-20"
      :max="20"
      :step="0.1"
      v-bind="whyOf('exposure')"
      @commit="(v) => change((l) => (l.exposure = v), 'exposure')"
    />
    <KeyedField
      label="Gain"
      unit="×"
      :value="look.gain"
      :usual="1"
      :min="0"
      :max="1000"
      :step="0.05"
      @commit="(v) => change((l) => (l.gain = v))"
    />
  </section>
</template>

<style scoped>
.white {
  gap: 6px;
  padding-right: 28px;
  --unit-width: 42px;
  --field-width: 52px;
}
.name {
  flex: 1;
}
</style>
