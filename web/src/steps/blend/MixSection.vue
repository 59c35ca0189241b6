<script setup lang="ts">
import type { Look } from '../../../../core/base/schemas/types.ts';
import KeyedField from './KeyedField.vue';
import { useLook } from './use-look.ts';

/** How content and plate become one. */
const MODES: readonly NonNullable<Look['blend']>[] = ['over', 'screen', 'add', 'lighten', 'multiply', 'soft-light'];
const { look, change } = useLook();
</script>

<template>
  <section class="section">
    <header><h2>Mix with the plate</h2></header>
    <div class="row-line">
      <label class="pick"
        ><span>Way</span
        ><select
          :value="look.blend ?? 'over'"
          aria-label="Way to blend"
          @change="change((l) => (l.blend = ($event.target as HTMLSelectElement).value as Look['blend']))"
        >
          <option v-for="mode in MODES" :key="mode" :value="mode">{{ mode }}</option>
        </select></label
      >
      <label v-if="look.blend && look.blend !== 'over'" class="pick"
        ><span>in</span
        ><select
          :value="look.blendIn ?? 'light'"
          aria-label="Blend in"
          @change="change((l) => (l.blendIn = ($event.target as HTMLSelectElement).value as Look['blendIn']))"
        >
          <option value="light">light</option>
          <option value="display">display values</option>
        </select></label
      >
    </div>
    <KeyedField
      label="Opacity"
      unit="%"
      :times="100"
      :value="look.opacity"
      :usual="1"
      :min="0"
      :max="100"
      :step="5"
      @commit="(v) => change((l) => (l.opacity = v))"
    />
  </section>
</template>
