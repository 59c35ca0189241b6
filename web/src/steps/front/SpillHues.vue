<script setup lang="ts">
import { computed } from 'vue';
import type { SpillSettings } from '../../../../core/base/schemas/types.ts';
import { hueOf } from '../../../../core/picture/matte/hue-curves.ts';
import IconButton from '../../components/IconButton.vue';
import NumberField from '../../components/NumberField.vue';
import { useSpill } from './use-spill.ts';

/** What becomes of each hue where the screen's light was. */
const { spill, key, change } = useSpill();
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
</script>

<template>
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

<style scoped>
.hues {
  width: 100%;
  font-size: 13px;
}
.hues {
  --field-width: 46px;
  --unit-width: 2px;
}
.hues th {
  font-weight: 400;
  color: var(--ink-soft);
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
