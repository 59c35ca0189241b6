<script setup lang="ts">
import { computed } from 'vue';
import type { DifferenceMatte } from '../../../../core/base/schemas/types.ts';
import { DIFFERENCE_DEFAULTS } from '../../../../core/picture/matte/difference-matte.ts';
import AppCheck from '../../components/AppCheck.vue';
import NumberField from '../../components/NumberField.vue';
import { mark } from '../../components/choice.ts';
import { useDocument } from '../../stores/document.ts';

/** For a dark screen, or any without a colour of its own: what differs from the surface as the whole shot shows it stands in front. */
const doc = useDocument();
const difference = computed<DifferenceMatte | null>(() => doc.document!.look.difference ?? null);
const on = computed(() => difference.value !== null && !difference.value.off);
function change(recipe: (difference: DifferenceMatte) => void): void {
  doc.edit((draft) => recipe((draft.look.difference ??= {})));
}
</script>

<template>
  <section class="section">
    <header>
      <h2>Difference</h2>
      <span class="quiet">for a dark screen</span>
    </header>
    <AppCheck :model-value="on" data-difference @update:model-value="(now) => change((d) => mark(d, 'off', !now))"
      >What differs from the clean screen is in front</AppCheck
    >
    <template v-if="on">
      <p class="quiet mt-1 mb-1">
        The clean screen is the median of twelve frames over the shot, laid flat. Differences are measured in times its
        own unrest.
      </p>
      <NumberField
        label="Floor: clear up to"
        unit="×"
        :value="difference!.floor ?? DIFFERENCE_DEFAULTS.floor"
        :min="0"
        :max="(difference!.ceiling ?? DIFFERENCE_DEFAULTS.ceiling) - 0.5"
        :step="0.5"
        :digits="1"
        @commit="(v) => change((d) => (d.floor = v))"
      />
      <NumberField
        label="Ceiling: solid from"
        unit="×"
        :value="difference!.ceiling ?? DIFFERENCE_DEFAULTS.ceiling"
        :min="(difference!.floor ?? DIFFERENCE_DEFAULTS.floor) + 0.5"
        :max="1000"
        :step="0.5"
        :digits="1"
        @commit="(v) => change((d) => (d.ceiling = v))"
      />
      <NumberField
        label="Grow what is in front"
        unit="px"
        :value="difference!.grow ?? 0"
        :min="-50"
        :max="50"
        :step="0.1"
        :digits="2"
        @commit="(v) => change((d) => (d.grow = v))"
      />
      <NumberField
        label="Blur"
        unit="px"
        :value="difference!.blur ?? 0"
        :min="0"
        :max="50"
        :step="0.1"
        :digits="2"
        @commit="(v) => change((d) => (d.blur = v))"
      />
    </template>
  </section>
</template>
