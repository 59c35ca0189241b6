<script setup lang="ts">
import { computed } from 'vue';
import { lookNow, resolveLook } from '../../../core/composite/look.ts';
import type { Look } from '../../../core/schemas/types.ts';
import NumberField from '../components/NumberField.vue';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';

/** Does it belong? Levels, softness, edges, opacity, motion blur. */
const SIDES = ['top', 'right', 'bottom', 'left'] as const;
/** Values many compositors start from (common practice, no source). */
const USUAL = { black: 0.07, white: 0.85, soften: 1.2, shutter: 180 };
const shot = useShot();
const playhead = usePlayhead();
const look = computed(() => lookNow(resolveLook({ ...shot.document!.look, keys: [], spill: { off: true } }), playhead.frame));
function change(recipe: (look: Look) => void): void {
  shot.edit((draft) => recipe(draft.look));
}
function setLevel(name: 'black' | 'white' | 'gamma', value: number): void {
  change((l) => (l.levels = { ...l.levels, [name]: value }));
}
function setFeather(side: number, value: number): void {
  const sides = [...look.value.feather];
  sides[side] = value;
  change((l) => (l.feather = sides as Look['feather']));
}
function setShutter(name: 'shutter' | 'phase', value: number): void {
  change((l) => (l.motionBlur = { ...l.motionBlur, [name]: value }));
}
</script>

<template>
  <section class="section">
    <header><h2>Levels</h2><span class="quiet">where 0 and 1 go, as displayed</span></header>
    <div class="row-line"><NumberField class="flex-fill" label="Black" :value="look.levels.black" :min="-1" :max="2" :step="0.01" @commit="setLevel('black', $event)" /><button class="use-button" type="button" title="Usual near an indoor screen" @click="setLevel('black', USUAL.black)">use {{ USUAL.black }}</button></div>
    <div class="row-line"><NumberField class="flex-fill" label="White" :value="look.levels.white" :min="-1" :max="2" :step="0.01" @commit="setLevel('white', $event)" /><button class="use-button" type="button" title="Usual near an indoor screen" @click="setLevel('white', USUAL.white)">use {{ USUAL.white }}</button></div>
    <NumberField label="Gamma" :value="look.levels.gamma" :min="0.1" :max="10" :step="0.05" @commit="setLevel('gamma', $event)" />
  </section>
  <section class="section">
    <header><h2>Sharpness and edge</h2></header>
    <div class="row-line"><NumberField class="flex-fill" label="Soften" unit="px" :value="look.soften" :min="0" :max="100" :step="0.1" @commit="(v) => change((l) => (l.soften = v))" /><button class="use-button" type="button" title="Usual for a device in focus, HD" @click="change((l) => (l.soften = USUAL.soften))">use {{ USUAL.soften }}</button></div>
    <p class="quiet mt-2 mb-1">Feather, inward</p>
    <div class="sides"><NumberField v-for="(side, i) in SIDES" :key="side" :label="side" unit="px" :value="look.feather[i]!" :min="0" :max="1000" :step="0.5" @commit="setFeather(i, $event)" /></div>
  </section>
  <section class="section">
    <header><h2>Motion blur</h2><span class="quiet">from the track</span></header>
    <div class="row-line"><NumberField class="flex-fill" label="Shutter" unit="°" :value="look.motionBlur.shutter" :min="0" :max="720" :step="15" @commit="setShutter('shutter', $event)" /><button class="use-button" type="button" title="Half the frame's time: usual for film" @click="setShutter('shutter', USUAL.shutter)">use {{ USUAL.shutter }}°</button></div>
    <NumberField label="Phase" unit="°" :value="look.motionBlur.phase" :min="-360" :max="360" :step="15" @commit="setShutter('phase', $event)" />
  </section>
  <section class="section">
    <header><h2>Presence</h2></header>
    <NumberField label="Opacity" unit="%" :value="100 * look.opacity" :min="0" :max="100" :step="5" @commit="(v) => change((l) => (l.opacity = v / 100))" />
  </section>
  <section class="section"><RouterLink class="btn btn-primary w-100" :to="`/shots/${shot.shot!.id}/send`">On to Send <i class="bi bi-arrow-right" /></RouterLink></section>
</template>

<style scoped>
.sides { display: grid; grid-template-columns: 1fr 1fr; gap: 4px 14px; --field-width: 40px; }
</style>
