<script setup lang="ts">
import KeyedField from './KeyedField.vue';
import type { KeyedNumber } from './keyed-edits.ts';
import { useLook } from './use-look.ts';

/** Where the content's black and white go, and its light over time. */
const { look, change, whyOf } = useLook();
/** Values many compositors start from (common practice, no source). */
const USUAL = { black: 0.07, white: 0.85 };
function set(name: 'black' | 'white' | 'gamma' | 'saturation' | 'hue', value: KeyedNumber): void {
  change((l) => (l.levels = { ...l.levels, [name]: value }), `levels/${name}`);
}
</script>

<template>
  <section class="section">
    <header><h2>Levels</h2><span class="quiet">where 0 and 1 go, as displayed</span></header>
    <div class="row-line"><KeyedField class="flex-fill" label="Black" :value="look.levels?.black" :usual="0" :min="-1" :max="2" :step="0.01" v-bind="whyOf('levels/black')" @commit="set('black', $event)" /><button class="use-button" type="button" title="Usual near an indoor screen (common practice)" @click="set('black', USUAL.black)">use {{ USUAL.black }}</button></div>
    <div class="row-line"><KeyedField class="flex-fill" label="White" :value="look.levels?.white" :usual="1" :min="-1" :max="2" :step="0.01" v-bind="whyOf('levels/white')" @commit="set('white', $event)" /><button class="use-button" type="button" title="Usual near an indoor screen (common practice)" @click="set('white', USUAL.white)">use {{ USUAL.white }}</button></div>
    <KeyedField label="Gamma" :value="look.levels?.gamma" :usual="1" :min="0.1" :max="10" :step="0.05" @commit="set('gamma', $event)" />
    <KeyedField label="Saturation" unit="%" :times="100" :value="look.levels?.saturation" :usual="1" :min="0" :max="400" :step="5" @commit="set('saturation', $event)" />
    <KeyedField label="Hue" unit="°" :value="look.levels?.hue" :usual="0" :min="-360" :max="360" :step="1" @commit="set('hue', $event)" />
    <KeyedField label="Exposure" unit="stops" :value="look.exposure" :usual="0" :min="-20" :max="20" :step="0.1" v-bind="whyOf('exposure')" @commit="(v) => change((l) => (l.exposure = v), 'exposure')" />
    <KeyedField label="Gain" unit="×" :value="look.gain" :usual="1" :min="0" :max="1000" :step="0.05" @commit="(v) => change((l) => (l.gain = v))" />
  </section>
</template>
