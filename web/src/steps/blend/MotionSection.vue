<script setup lang="ts">
import KeyedField from './KeyedField.vue';
import type { KeyedNumber } from './keyed-edits.ts';
import { useLook } from './use-look.ts';

const { look, change, whyOf } = useLook();
function set(name: 'shutter' | 'phase', value: KeyedNumber): void {
  change((l) => (l.motionBlur = { ...l.motionBlur, [name]: value }), `motionBlur/${name}`);
}
</script>

<template>
  <section class="section">
    <header>
      <h2>Motion blur</h2>
      <span class="quiet">from the track</span>
    </header>
    <KeyedField
      label="Shutter"
      unit="°"
      :value="look.motionBlur?.shutter"
      :usual="0"
      :min="0"
      :max="720"
      :step="15"
      v-bind="whyOf('motionBlur/shutter')"
      :use="180"
      use-title="Half the frame\'s time: usual for film (common practice)"
      @commit="set('shutter', $event)"
    />
    <KeyedField
      label="Phase"
      unit="°"
      :value="look.motionBlur?.phase"
      :usual="0"
      :min="-360"
      :max="360"
      :step="15"
      @commit="set('phase', $event)"
    />
  </section>
</template>
