<script setup lang="ts">
import { computed } from 'vue';
import type { SpillArea } from '../../../../core/base/schemas/types.ts';
import AppCheck from '../../components/AppCheck.vue';
import IconButton from '../../components/IconButton.vue';
import NumberField from '../../components/NumberField.vue';
import { mark } from '../../components/choice.ts';
import { useDocument } from '../../stores/document.ts';
import { useWorkspace } from '../../stores/workspace.ts';
import { areasOf } from '../follow/outlines-of.ts';
import { removeOutline } from '../follow/remove-outline.ts';

/** Areas in which spill has an amount and a colour of its own. */
const doc = useDocument();
const workspace = useWorkspace();
const areas = computed(() => areasOf(doc.document!));
const picked = computed(() => (workspace.picked?.list === 'areas' ? workspace.picked.index : null));
const area = computed(() => (picked.value === null ? null : (areas.value[picked.value] ?? null)));
function changeArea(recipe: (area: SpillArea) => void): void {
  const at = picked.value;
  if (at !== null)
    doc.edit((draft) => {
      const there = areasOf(draft)[at];
      if (there) recipe(there);
    });
}
const softOf = (side: 0 | 1) => area.value?.shape.soft?.[side] ?? 0;
function setSoft(side: 0 | 1, to: number): void {
  changeArea(({ shape }) => {
    const pair: [number, number] = [...(shape.soft ?? [0, 0])];
    pair[side] = to;
    shape.soft = pair;
  });
}
</script>

<template>
  <p class="quiet mt-2 mb-1">Areas of their own amount and colour</p>
  <button
    class="btn btn-sm btn-outline-secondary w-100"
    type="button"
    :aria-pressed="workspace.tool === 'draw-area'"
    data-draw-area
    @click="workspace.tool = workspace.tool === 'draw-area' ? 'look' : 'draw-area'"
  >
    <i class="bi bi-bezier2" /> Draw an area
  </button>
  <div v-for="(one, i) in areas" :key="i" class="item" :class="{ picked: picked === i }" :data-spill-area="i">
    <button
      class="entry"
      type="button"
      :aria-pressed="picked === i"
      @click="workspace.picked = { list: 'areas', index: i }"
    >
      {{ one.shape.name ?? `Area ${i + 1}` }}<span class="quiet"> · {{ Math.round(100 * (one.amount ?? 1)) }} %</span>
    </button>
    <IconButton icon="trash" :label="`Remove area ${i + 1}`" @click="removeOutline('areas', i)" />
  </div>
  <template v-if="area">
    <NumberField
      label="Amount there"
      unit="%"
      :value="100 * (area.amount ?? 1)"
      :min="0"
      :max="100"
      :step="5"
      @commit="(v) => changeArea((a) => (a.amount = v / 100))"
    />
    <AppCheck :model-value="area.lit ?? false" @update:model-value="(lit) => changeArea((a) => mark(a, 'lit', lit))"
      >All of the screen’s colour there is its light</AppCheck
    >
    <NumberField
      label="Saturation there"
      unit="%"
      :value="100 * (area.saturation ?? 1)"
      :min="0"
      :max="400"
      :step="5"
      @commit="(v) => changeArea((a) => (a.saturation = v / 100))"
    />
    <NumberField
      label="Hue there"
      unit="°"
      :value="area.hue ?? 0"
      :min="-180"
      :max="180"
      :step="1"
      @commit="(v) => changeArea((a) => (a.hue = v))"
    />
    <div class="pair">
      <NumberField
        label="Soft in"
        unit="px"
        :value="softOf(0)"
        :min="0"
        :max="1000"
        :step="1"
        @commit="setSoft(0, $event)"
      /><NumberField
        label="out"
        unit="px"
        :value="softOf(1)"
        :min="0"
        :max="1000"
        :step="1"
        @commit="setSoft(1, $event)"
      />
    </div>
  </template>
</template>

<style scoped>
.item {
  display: flex;
  align-items: center;
  border: 1px solid transparent;
  border-radius: 4px;
}
.picked {
  background: var(--white);
  border-color: var(--line);
}
.entry {
  flex: 1;
  border: 0;
  background: none;
  color: var(--ink);
  text-align: left;
  padding: 4px 6px;
}
.pair {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 12px;
  --field-width: 40px;
}
</style>
