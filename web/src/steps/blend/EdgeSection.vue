<script setup lang="ts">
import type { Look } from '../../../../core/base/schemas/types.ts';
import { isKeyed, numbersAt, type Keyed } from '../../../../core/base/time/keyframes.ts';
import AppCheck from '../../components/AppCheck.vue';
import NumberField from '../../components/NumberField.vue';
import KeyedField from './KeyedField.vue';
import { useLook } from './use-look.ts';
import { useDocument } from '../../stores/document.ts';
import { usePlayhead } from '../../stores/playhead.ts';

/** How sharp the content is, and how it ends. */
const SIDES = ['top', 'right', 'bottom', 'left'] as const;
type Four = [number, number, number, number];
const doc = useDocument();
const { look, change, whyOf } = useLook();
const playhead = usePlayhead();
const fourAt = (value: Look['feather']) =>
  value === undefined ? [0, 0, 0, 0] : numbersAt(value as Keyed<Four>, playhead.frame);
const EDGES = [
  { name: 'feather', title: 'Feather', least: 0 },
  { name: 'crop', title: 'Crop', least: -1000 },
] as const;
const fourOf = (name: 'feather' | 'crop') => fourAt(look.value[name]);
/** Sides set on all frames, or where the sides are keyed on this one. */
function setSides(name: 'feather' | 'crop', sides: readonly number[], value: number): void {
  const now = [...fourOf(name)] as Four;
  const told = look.value[name];
  for (const side of sides) now[side] = value;
  change(
    (l) =>
      (l[name] =
        told !== undefined && isKeyed(told as Keyed<Four>)
          ? ([
              ...(told as { frame: number; value: Four }[]).filter((k) => k.frame !== playhead.frame),
              { frame: playhead.frame, value: now },
            ].sort((a, b) => a.frame - b.frame) as Look['feather'])
          : now),
  );
}
</script>

<template>
  <section class="section">
    <header><h2>Sharpness and edge</h2></header>
    <KeyedField
      label="Soften"
      unit="px"
      :value="look.soften"
      :usual="0"
      :min="0"
      :max="100"
      :step="0.1"
      v-bind="whyOf('soften')"
      :use="1.2"
      use-title="Usual for a device in focus, HD (common practice)"
      @commit="(v) => change((l) => (l.soften = v), 'soften')"
    />
    <KeyedField
      label="Out of focus, disc"
      unit="px"
      :value="look.disc"
      :usual="0"
      :min="0"
      :max="100"
      :step="0.5"
      v-bind="whyOf('disc')"
      @commit="(v) => change((l) => (l.disc = v), 'disc')"
    />
    <table class="sides">
      <thead>
        <tr>
          <th class="quiet">px in</th>
          <th v-for="side in SIDES" :key="side" class="quiet">{{ side }}</th>
          <th class="quiet">all</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ name, title, least } in EDGES" :key="name">
          <td>{{ title }}</td>
          <td v-for="(side, i) in SIDES" :key="side">
            <NumberField
              hide-label
              :label="`${title} ${side}`"
              :value="fourOf(name)[i]!"
              :min="least"
              :max="1000"
              :step="0.5"
              @commit="setSides(name, [i], $event)"
            />
          </td>
          <td>
            <NumberField
              hide-label
              :label="`${title} all`"
              :value="Math.max(...fourOf(name))"
              :min="least"
              :max="1000"
              :step="0.5"
              @commit="setSides(name, [0, 1, 2, 3], $event)"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <KeyedField
      label="Corner radius"
      unit="px"
      :value="look.radius ?? doc.document!.cornerRadius"
      :usual="0"
      :min="0"
      :max="10000"
      :step="0.5"
      @commit="(v) => change((l) => (l.radius = v))"
    />
    <div class="row-line">
      <AppCheck
        :model-value="look.oldScreen === 'edges'"
        @update:model-value="(on) => change((l) => (l.oldScreen = on ? 'edges' : 'keep'), 'oldScreen')"
        >Take the old screen off the edges</AppCheck
      >
    </div>
  </section>
</template>

<style scoped>
.sides {
  width: 100%;
  margin: 6px 0;
  table-layout: fixed;
  --field-width: 34px;
  --unit-width: 0;
}
.sides th {
  font-weight: 400;
  text-align: right;
  padding-right: 8px;
}
.sides th:first-child,
.sides td:first-child {
  width: 62px;
  text-align: left;
}
.sides td :deep(.field) {
  justify-content: flex-end;
}
</style>
