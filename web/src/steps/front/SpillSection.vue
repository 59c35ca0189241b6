<script setup lang="ts">
import { computed } from 'vue';
import type { SpillSettings } from '../../../../core/base/schemas/types.ts';
import { SPILL_DEFAULTS } from '../../../../core/picture/matte/despill.ts';
import AppCheck from '../../components/AppCheck.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import NumberField from '../../components/NumberField.vue';
import { mark } from '../../components/choice.ts';
import SpillAreas from './SpillAreas.vue';
import SpillHues from './SpillHues.vue';
import { useSpill } from './use-spill.ts';
import ReasonMark from '../blend/ReasonMark.vue';

/** Light of the old screen on what stands near it, taken off; light of the new one put there. */
const LIMITS = ['mean', 'larger', 'weighted'] as const;
const REPLACES = ['average', 'nearest', 'none'] as const;
const LIMIT_SAYS = {
  mean: 'The screen’s channel is held to the mean of the other two.',
  larger: 'It is held to the larger of the other two: milder.',
  weighted: 'It is held to a mix of the two.',
} as const;
const REPLACE_SAYS = {
  average: 'The content’s mean light falls there instead.',
  nearest: 'The light of the nearest content falls there instead.',
  none: 'Nothing takes its place: darker.',
} as const;
const { spill, key, change, whyOf } = useSpill();
const on = computed(() => spill.value !== null && !spill.value.off);
const value = <K extends 'limit' | 'allowance' | 'amount' | 'replace' | 'window' | 'falloff'>(name: K) =>
  (spill.value?.[name] ?? SPILL_DEFAULTS[name]) as NonNullable<SpillSettings[K]>;
</script>

<template>
  <section class="section">
    <header>
      <h2>
        Spill<ReasonMark
          v-if="on && whyOf('spill').why"
          title="Spill"
          :why="whyOf('spill').why!"
          :stale="whyOf('spill').stale"
        />
      </h2>
      <span class="quiet">the screen’s light on hands and frame</span>
    </header>
    <AppCheck
      :model-value="on"
      :disabled="!key && !spill?.colour"
      @update:model-value="(now) => change((s) => mark(s, 'off', !now))"
      >Replace it by the content’s light</AppCheck
    >
    <p v-if="!key && !spill?.colour" class="quiet mb-0">It needs a key, which tells the colour.</p>
    <template v-if="on">
      <ChoiceRow
        label="Limit"
        :options="LIMITS"
        :value="value('limit')"
        @choose="(v) => change((s) => (s.limit = v))"
      />
      <p class="quiet mt-1 mb-1">{{ LIMIT_SAYS[value('limit')] }}</p>
      <NumberField
        v-if="value('limit') === 'weighted'"
        label="Share of the larger"
        unit="%"
        :value="100 * (spill?.weight ?? 0.5)"
        :min="0"
        :max="100"
        :step="5"
        @commit="(v) => change((s) => (s.weight = v / 100))"
      />
      <NumberField
        label="Allowance"
        unit="×"
        :value="value('allowance')"
        :min="0"
        :max="5"
        :step="0.01"
        @commit="(v) => change((s) => (s.allowance = v))"
      />
      <NumberField
        label="Most that light makes"
        unit="×"
        :value="spill?.most ?? SPILL_DEFAULTS.most"
        :min="1"
        :max="100"
        :step="0.05"
        @commit="(v) => change((s) => (s.most = v))"
      />
      <NumberField
        label="Amount"
        unit="%"
        :value="100 * value('amount')"
        :min="0"
        :max="100"
        :step="5"
        @commit="(v) => change((s) => (s.amount = v / 100))"
      />
      <ChoiceRow
        class="mt-2"
        label="In its place"
        :options="REPLACES"
        :value="value('replace')"
        @choose="(v) => change((s) => (s.replace = v))"
      />
      <p class="quiet mt-1 mb-1">{{ REPLACE_SAYS[value('replace')] }}</p>
      <NumberField
        label="Works past the outline"
        unit="%"
        :value="100 * value('window')"
        :min="0"
        :max="1000"
        :step="1"
        @commit="(v) => change((s) => (s.window = v / 100))"
      />
      <NumberField
        label="Fades over"
        unit="%"
        :value="100 * value('falloff')"
        :min="0"
        :max="1000"
        :step="5"
        @commit="(v) => change((s) => (s.falloff = v / 100))"
      />
      <SpillAreas />
      <SpillHues />
    </template>
  </section>
</template>
