<script setup lang="ts">
import { computed } from 'vue';
import KeyedField from './KeyedField.vue';
import ReasonMark from './ReasonMark.vue';
import { useLook } from './use-look.ts';

/** The plate's noise on the content. */
const { look, change, whyOf } = useLook();
const grain = computed(() => look.value.grain ?? null);
const middle = computed(() =>
  grain.value?.levels[Math.floor(grain.value.levels.length / 2)]!.sigma.map((s) => (255 * s).toFixed(1)).join(' / '),
);
/** A faint noise of a camera in good light, where none was measured (common practice, no source). */
const START = {
  levels: [
    { level: 0, sigma: [0.004, 0.004, 0.005] },
    { level: 1, sigma: [0.008, 0.008, 0.009] },
  ],
};
</script>

<template>
  <section class="section">
    <header>
      <h2>Grain</h2>
      <ReasonMark v-if="whyOf('grain').why" title="Grain" :why="whyOf('grain').why!" :stale="whyOf('grain').stale" />
    </header>
    <template v-if="grain && !grain.off">
      <p class="quiet mb-1">
        σ {{ middle }} of 255 codes at mid level, red, green, blue{{
          grain.size && grain.size[0] > 0 ? `, smoothed by ${grain.size[0].toFixed(2)} px` : ''
        }}
      </p>
      <KeyedField
        label="Amount"
        unit="%"
        :times="100"
        :value="grain.amount"
        :usual="1"
        :min="0"
        :max="2000"
        :step="5"
        @commit="(v) => change((l) => (l.grain!.amount = v))"
      />
      <button type="button" class="use-button" @click="change((l) => (l.grain!.off = true))">off</button>
    </template>
    <button
      v-else
      type="button"
      class="use-button"
      @click="
        change((l) => (l.grain = l.grain ? { ...l.grain, off: false } : (START as never)), ...(grain ? [] : ['grain']))
      "
    >
      {{ grain ? 'on again' : 'add grain' }}
    </button>
  </section>
</template>
