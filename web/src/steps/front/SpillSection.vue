<script setup lang="ts">
import { computed } from 'vue';
import type { SpillArea, SpillSettings } from '../../../../core/base/schemas/types.ts';
import { SPILL_DEFAULTS } from '../../../../core/picture/matte/despill.ts';
import { hueOf } from '../../../../core/picture/matte/hue-curves.ts';
import AppCheck from '../../components/AppCheck.vue';
import ChoiceRow from '../../components/ChoiceRow.vue';
import IconButton from '../../components/IconButton.vue';
import NumberField from '../../components/NumberField.vue';
import { mark } from '../../components/choice.ts';
import ReasonMark from '../blend/ReasonMark.vue';
import { useLook } from '../blend/use-look.ts';
import { areasOf } from '../follow/outlines-of.ts';
import { removeOutline } from '../follow/remove-outline.ts';
import { useDocument } from '../../stores/document.ts';
import { useWorkspace } from '../../stores/workspace.ts';

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
const doc = useDocument();
const { change: changeLook, whyOf } = useLook();
const workspace = useWorkspace();
const spill = computed<SpillSettings | null>(() => {
  const told = doc.document!.look.spill;
  return told && told !== 'measure' ? told : null;
});
const on = computed(() => spill.value !== null && !spill.value.off);
const key = computed(() => (Array.isArray(doc.document!.look.keys) ? doc.document!.look.keys[0] : undefined));
function change(recipe: (spill: SpillSettings) => void): void {
  changeLook((look) => {
    const now: SpillSettings = look.spill && look.spill !== 'measure' ? look.spill : {};
    recipe(now);
    look.spill = now;
  }, 'spill');
}
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
const hues = computed(() => spill.value?.hues ?? []);
/** A point more, at the screen's own hue first: what is left of it on hands is turned or dulled there. */
function addHue(): void {
  const colour = key.value?.colour ?? [0, 1, 0];
  const own = Math.round(hueOf(colour[0], colour[1], colour[2]));
  const at =
    [0, 60, -60, 120, -120, 180]
      .map((by) => (own + by + 360) % 360)
      .find((hue) => !hues.value.some((point) => Math.abs(point.hue - hue) < 1)) ?? 0;
  change((s) => (s.hues = [...(s.hues ?? []), { hue: at }].sort((a, b) => a.hue - b.hue)));
}
function changeHue(index: number, recipe: (point: NonNullable<SpillSettings['hues']>[number]) => void): void {
  change((s) => recipe(s.hues![index]!));
}
function removeHue(index: number): void {
  change((s) => {
    s.hues = s.hues!.filter((_, i) => i !== index);
    if (s.hues.length === 0) delete s.hues;
  });
}
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
          {{ one.shape.name ?? `Area ${i + 1}`
          }}<span class="quiet"> · {{ Math.round(100 * (one.amount ?? 1)) }} %</span>
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
      <div class="row-line mt-2">
        <span class="quiet">By hue, in the window</span
        ><button class="use-button" type="button" data-add-hue @click="addHue">add a hue</button>
      </div>
      <table v-if="hues.length > 0" class="hues">
        <thead>
          <tr>
            <th>hue °</th>
            <th>turned °</th>
            <th>saturation %</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="(point, i) in hues" :key="i" :data-hue="i">
            <td>
              <span class="chip" :style="{ background: `hsl(${point.hue} 70% 50%)` }" /><NumberField
                :label="`Hue ${i + 1}`"
                unit="°"
                hide-label
                :digits="0"
                :min="0"
                :max="360"
                :value="point.hue"
                @commit="(hue) => changeHue(i, (p) => (p.hue = hue))"
              />
            </td>
            <td>
              <NumberField
                :label="`Turn of hue ${i + 1}`"
                unit="°"
                hide-label
                :digits="0"
                :min="-180"
                :max="180"
                :value="point.shift ?? 0"
                @commit="(shift) => changeHue(i, (p) => (p.shift = shift))"
              />
            </td>
            <td>
              <NumberField
                :label="`Saturation of hue ${i + 1}`"
                unit="%"
                hide-label
                :digits="0"
                :min="0"
                :max="400"
                :value="100 * (point.saturation ?? 1)"
                @commit="(v) => changeHue(i, (p) => (p.saturation = v / 100))"
              />
            </td>
            <td>
              <IconButton icon="trash" :label="`Remove hue ${i + 1}`" @click="removeHue(i)" />
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
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
.hues {
  width: 100%;
  font-size: 13px;
}
.hues th {
  font-weight: 400;
  color: var(--ink-soft);
}
.hues {
  --field-width: 34px;
  --unit-width: 14px;
}
.chip {
  display: inline-block;
  width: 10px;
  height: 10px;
  margin-right: 4px;
  border: 1px solid var(--ink);
  border-radius: 50%;
}
</style>
