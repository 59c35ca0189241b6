<script setup lang="ts">
import { computed } from 'vue';
import { isKeyed, numbersAt, type Keyed } from '../../../../core/content/keyed.ts';
import type { Look } from '../../../../core/schemas/types.ts';
import NumberField from '../../components/NumberField.vue';
import { usePlayhead } from '../../stores/playhead.ts';
import KeyedField from './KeyedField.vue';
import { useLook } from './use-look.ts';

/** How sharp the content is, and how it ends. */
const SIDES = ['top', 'right', 'bottom', 'left'] as const;
type Four = [number, number, number, number];
const { shot, look, change, whyOf } = useLook();
const playhead = usePlayhead();
const fourAt = (value: Look['feather']) => (value === undefined ? [0, 0, 0, 0] : numbersAt(value as Keyed<Four>, playhead.frame)) as Four;
const feather = computed(() => fourAt(look.value.feather));
const crop = computed(() => fourAt(look.value.crop));
function setSide(name: 'feather' | 'crop', side: number, value: number): void {
  const now = [...(name === 'feather' ? feather.value : crop.value)] as Four, told = look.value[name];
  now[side] = value;
  change((l) => (l[name] = told !== undefined && isKeyed(told as Keyed<Four>) ? ([...(told as { frame: number; value: Four }[]).filter((k) => k.frame !== playhead.frame), { frame: playhead.frame, value: now }].sort((a, b) => a.frame - b.frame) as Look['feather']) : now));
}
</script>

<template>
  <section class="section">
    <header><h2>Sharpness and edge</h2></header>
    <div class="row-line"><KeyedField class="flex-fill" label="Soften" unit="px" :value="look.soften" :usual="0" :min="0" :max="100" :step="0.1" v-bind="whyOf('soften')" @commit="(v) => change((l) => (l.soften = v), 'soften')" /><button class="use-button" type="button" title="Usual for a device in focus, HD (common practice)" @click="change((l) => (l.soften = 1.2), 'soften')">use 1.2</button></div>
    <KeyedField label="Out of focus, disc" unit="px" :value="look.disc" :usual="0" :min="0" :max="100" :step="0.5" v-bind="whyOf('disc')" @commit="(v) => change((l) => (l.disc = v), 'disc')" />
    <p class="quiet mt-2 mb-1">Feather, inward</p>
    <div class="sides"><NumberField v-for="(side, i) in SIDES" :key="side" :label="side" unit="px" :value="feather[i]!" :min="0" :max="1000" :step="0.5" @commit="setSide('feather', i, $event)" /></div>
    <p class="quiet mt-2 mb-1">Crop, inward</p>
    <div class="sides"><NumberField v-for="(side, i) in SIDES" :key="side" :label="`Crop ${side}`" unit="px" :value="crop[i]!" :min="-1000" :max="1000" :step="0.5" @commit="setSide('crop', i, $event)" /></div>
    <KeyedField label="Corner radius" unit="px" :value="look.radius ?? shot.document!.cornerRadius" :usual="0" :min="0" :max="10000" :step="0.5" @commit="(v) => change((l) => (l.radius = v))" />
    <div class="row-line"><label class="check"><input type="checkbox" :checked="look.oldScreen === 'edges'" @change="change((l) => (l.oldScreen = ($event.target as HTMLInputElement).checked ? 'edges' : 'keep'), 'oldScreen')" /> Take the old screen off the edges</label></div>
  </section>
</template>

<style scoped>
.sides { display: grid; grid-template-columns: 1fr 1fr; gap: 4px 14px; --field-width: 40px; }
.check { display: flex; gap: 8px; align-items: center; }
</style>
