<script setup lang="ts">
import type { Look } from '../../../../core/base/schemas/types.ts';
import AppSelect from '../../components/AppSelect.vue';
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
        ><AppSelect
          label="Way to blend"
          :value="look.blend ?? 'over'"
          :options="MODES"
          @choose="(way) => change((l) => (l.blend = way))"
      /></label>
      <label v-if="look.blend && look.blend !== 'over'" class="pick"
        ><span>in</span
        ><AppSelect
          label="Blend in"
          :value="look.blendIn ?? 'light'"
          :options="[
            { value: 'light', text: 'light' },
            { value: 'display', text: 'display values' },
          ]"
          @choose="(values) => change((l) => (l.blendIn = values))"
      /></label>
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
