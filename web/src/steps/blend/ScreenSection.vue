<script setup lang="ts">
import { computed } from 'vue';
import type { Look } from '../../../../core/base/schemas/types.ts';
import AppCheck from '../../components/AppCheck.vue';
import NumberField from '../../components/NumberField.vue';
import KeyedField from './KeyedField.vue';
import { useLook } from './use-look.ts';
import { useShot } from '../../stores/shot.ts';

/** What makes a picture a screen's: its light spread by the lens, its flicker, its pixels and lines, its falling off to the side. */
const shot = useShot();
const { look, change } = useLook();
const shotHeight = computed(() => shot.plate?.facts?.height);
const texture = computed(() => look.value.texture ?? {});
function set(recipe: (texture: NonNullable<Look['texture']>) => void): void {
  change((l) => {
    l.texture = { ...l.texture };
    recipe(l.texture);
  });
}
/** Columns or rows of a panel are at least so many; fewer take it away. */
const LEAST = 16;
/** Common practice, no source. */
const USUAL = { glow: 0.02, flicker: 0.02, rate: 7, columns: 1920 } as const;
</script>

<template>
  <section class="section">
    <header><h2>Light and panel of the screen</h2></header>
    <KeyedField
      label="Glow"
      unit="%"
      :times="100"
      :value="texture.glow?.amount"
      :usual="0"
      :min="0"
      :max="100"
      :step="0.5"
      :use="USUAL.glow"
      use-title="A clean lens spreads about as much (common practice)"
      @commit="(v) => set((t) => (t.glow = { ...t.glow, amount: v }))"
    />
    <KeyedField
      v-if="texture.glow"
      label="Glow over"
      unit="px"
      :value="texture.glow.radius"
      :usual="0.04 * (shotHeight ?? 1080)"
      :digits="0"
      :min="1"
      :max="2000"
      :step="5"
      @commit="(v) => set((t) => (t.glow!.radius = v))"
    />
    <div class="fields">
      <NumberField
        label="Flicker"
        unit="%"
        :value="100 * (texture.flicker?.amount ?? 0)"
        :min="0"
        :max="100"
        :step="0.5"
        @commit="
          (v) =>
            set((t) =>
              v > 0 ? (t.flicker = { rate: t.flicker?.rate ?? USUAL.rate, amount: v / 100 }) : delete t.flicker,
            )
        "
      />
      <NumberField
        v-if="texture.flicker"
        label="Flicker rate"
        unit="/s"
        :value="texture.flicker.rate"
        :min="0"
        :max="1000"
        :step="0.5"
        @commit="(v) => set((t) => (t.flicker!.rate = v))"
      />
      <NumberField
        label="Panel, columns"
        :value="texture.grid?.columns ?? 0"
        :min="0"
        :max="20000"
        :step="10"
        @commit="(v) => set((t) => (v >= LEAST ? (t.grid = { ...t.grid, columns: v }) : delete t.grid))"
      />
      <template v-if="texture.grid">
        <NumberField
          label="Gap between pixels"
          unit="%"
          :value="100 * (texture.grid.gap ?? 0.25)"
          :min="0"
          :max="90"
          :step="5"
          @commit="(v) => set((t) => (t.grid = { ...t.grid!, gap: v / 100 }))"
        />
        <NumberField
          label="Of the panel is seen"
          unit="%"
          :value="100 * (texture.grid.amount ?? 1)"
          :min="0"
          :max="100"
          :step="5"
          @commit="(v) => set((t) => (t.grid = { ...t.grid!, amount: v / 100 }))"
        />
        <AppCheck
          :model-value="texture.grid.stripes ?? false"
          @update:model-value="(stripes) => set((t) => (t.grid = { ...t.grid!, stripes }))"
          >Red, green and blue stripes</AppCheck
        >
      </template>
      <NumberField
        label="Scan lines"
        :value="texture.lines?.rows ?? 0"
        :min="0"
        :max="20000"
        :step="10"
        @commit="(v) => set((t) => (v >= LEAST ? (t.lines = { ...t.lines, rows: v }) : delete t.lines))"
      />
      <NumberField
        v-if="texture.lines"
        label="Depth of the lines"
        unit="%"
        :value="100 * (texture.lines.amount ?? 1)"
        :min="0"
        :max="100"
        :step="5"
        @commit="(v) => set((t) => (t.lines = { ...t.lines!, amount: v / 100 }))"
      />
      <NumberField
        label="Falloff to the side"
        unit="cosⁿ"
        :value="texture.falloff?.power ?? 0"
        :min="0"
        :max="8"
        :step="0.25"
        @commit="(v) => set((t) => (v > 0 ? (t.falloff = { power: v }) : delete t.falloff))"
      />
    </div>
  </section>
</template>

<style scoped>
.fields {
  padding-right: 28px;
  --unit-width: 42px;
  --field-width: 52px;
}
</style>
