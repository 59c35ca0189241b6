<script setup lang="ts">
import { computed } from 'vue';
import { FAINT } from '../../../../core/blend/drawn-reflection.ts';
import { applyToPoint } from '../../../../core/geometry/homography.ts';
import { homographyBetweenQuads } from '../../../../core/geometry/estimate-homography.ts';
import { UNIT_SQUARE, type Quad } from '../../../../core/geometry/quad.ts';
import { grownOutline } from '../../../../core/geometry/grow-outline.ts';
import type { Look } from '../../../../core/schemas/types.ts';
import NumberField from '../../components/NumberField.vue';
import KeyedField from './KeyedField.vue';
import ReasonMark from './ReasonMark.vue';
import { useLook } from './use-look.ts';

/** How content and plate become one, what the screen mirrors, and the light it gives. */
const MODES: readonly NonNullable<Look['blend']>[] = ['over', 'screen', 'add', 'lighten', 'multiply', 'soft-light'];
const { shot, look, change, whyOf } = useLook();
const keyed = computed(() => Array.isArray(look.value.keys) && look.value.keys.some((key) => !key.off));
const from = computed(() => (look.value.reflections && !look.value.reflections.off ? look.value.reflections.from : 'none'));

/** A soft slanted shape over a third of the surface, as a start for a drawn one. */
function drawnShape(quad: Quad): NonNullable<NonNullable<Look['reflections']>['shape']> {
  const h = homographyBetweenQuads(UNIT_SQUARE, quad)!, wide = Math.hypot(quad[1][0] - quad[0][0], quad[1][1] - quad[0][1]);
  return { points: ([[0.52, 0], [0.9, 0], [0.62, 1], [0.24, 1]] as const).map((p) => applyToPoint(h, p)).map(([x, y]): [number, number] => [x, y]), soft: [0.04 * wide, 0.04 * wide] };
}
function setFrom(value: string): void {
  const corners = shot.document!.corners as Quad | null;
  change((l) => {
    if (value === 'none') delete l.reflections;
    else if (value === 'drawn') l.reflections = { from: 'drawn', shape: corners ? drawnShape(corners) : { points: [] }, colour: [...FAINT] };
    else l.reflections = { from: value as 'dark' | 'key' };
  }, 'reflections');
}
/** Cast light starts as a soft band about the device. */
function setCast(strength: number): void {
  const corners = shot.document!.corners as Quad, wide = Math.hypot(corners[1][0] - corners[0][0], corners[1][1] - corners[0][1]);
  change((l) => {
    const area = l.cast?.areas[0];
    if (area) area.strength = strength;
    else l.cast = { areas: [{ name: 'around', strength, shape: { points: grownOutline(corners, 0.05 * wide).map(([x, y]): [number, number] => [x, y]), soft: [0, 0.4 * wide] } }] };
  });
}
const texture = computed(() => look.value.texture ?? {});
function setTexture(recipe: (texture: NonNullable<Look['texture']>) => void): void {
  change((l) => {
    l.texture = { ...l.texture };
    recipe(l.texture);
  });
}
</script>

<template>
  <section class="section">
    <header><h2>Blend</h2></header>
    <div class="row-line"><label class="pick"><span>Way</span><select :value="look.blend ?? 'over'" aria-label="Way to blend" @change="change((l) => (l.blend = ($event.target as HTMLSelectElement).value as Look['blend']))"><option v-for="mode in MODES" :key="mode" :value="mode">{{ mode }}</option></select></label>
      <label v-if="look.blend && look.blend !== 'over'" class="pick"><span>in</span><select :value="look.blendIn ?? 'light'" aria-label="Blend in" @change="change((l) => (l.blendIn = ($event.target as HTMLSelectElement).value as Look['blendIn']))"><option value="light">light</option><option value="display">display values</option></select></label></div>
    <KeyedField label="Opacity" unit="%" :times="100" :value="look.opacity" :usual="1" :min="0" :max="100" :step="5" @commit="(v) => change((l) => (l.opacity = v))" />
  </section>
  <section class="section">
    <header><h2>Reflections</h2><ReasonMark v-if="whyOf('reflections').why" title="Reflections" :why="whyOf('reflections').why!" :stale="whyOf('reflections').stale" /></header>
    <div class="row-line"><label class="pick"><span>From</span><select :value="from" aria-label="Reflections from" @change="setFrom(($event.target as HTMLSelectElement).value)"><option value="none">none</option><option value="dark" :disabled="keyed">the dark screen</option><option value="key" :disabled="!keyed">the keyed screen</option><option value="drawn">a soft shape</option></select></label></div>
    <template v-if="look.reflections && from !== 'none'">
      <KeyedField label="Strength" unit="×" :value="look.reflections.gain" :usual="1" :min="0" :max="100" :step="0.1" @commit="(v) => change((l) => (l.reflections!.gain = v))" />
      <KeyedField label="Blur" unit="px" :value="look.reflections.blur" :usual="0" :min="0" :max="200" :step="0.5" @commit="(v) => change((l) => (l.reflections!.blur = v))" />
      <div v-if="from === 'drawn'" class="row-line"><label class="pick"><span>Rides on</span><select :value="look.reflections.rides ?? 'surface'" aria-label="Rides on" @change="change((l) => (l.reflections!.rides = ($event.target as HTMLSelectElement).value as 'surface' | 'mirror'))"><option value="surface">the surface</option><option value="mirror">the mirror's motion</option></select></label></div>
    </template>
  </section>
  <section class="section">
    <header><h2>Light of the screen</h2></header>
    <KeyedField label="Glow" unit="%" :times="100" :value="texture.glow?.amount" :usual="0" :min="0" :max="100" :step="0.5" @commit="(v) => setTexture((t) => (t.glow = { ...t.glow, amount: v }))" />
    <NumberField label="Cast around" unit="×" :value="typeof look.cast?.areas[0]?.strength === 'number' ? look.cast.areas[0].strength : 0" :min="0" :max="100" :step="0.05" @commit="setCast" />
    <NumberField label="Flicker" unit="%" :value="100 * (texture.flicker?.amount ?? 0)" :min="0" :max="100" :step="0.5" @commit="(v) => setTexture((t) => (t.flicker = { rate: t.flicker?.rate ?? 7, amount: v / 100 }))" />
    <NumberField v-if="texture.flicker" label="Flicker rate" unit="/s" :value="texture.flicker.rate" :min="0" :max="1000" :step="0.5" @commit="(v) => setTexture((t) => (t.flicker!.rate = v))" />
    <NumberField label="Panel, columns" unit="px" :value="texture.grid?.columns ?? 0" :min="0" :max="20000" :step="10" @commit="(v) => setTexture((t) => (v >= 16 ? (t.grid = { ...t.grid, columns: v }) : delete t.grid))" />
    <NumberField label="Falloff to the side" unit="cosⁿ" :value="texture.falloff?.power ?? 0" :min="0" :max="8" :step="0.25" @commit="(v) => setTexture((t) => (t.falloff = { power: v }))" />
  </section>
</template>

<style scoped>
.pick { display: flex; align-items: center; gap: 8px; justify-content: space-between; flex: 1; }
.pick select { border: 1px solid var(--line); background: var(--white); color: var(--ink); border-radius: 3px; padding: 2px 6px; font-size: 13px; }
</style>
