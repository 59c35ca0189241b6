<script setup lang="ts">
import { computed } from 'vue';
import type { Quad } from '../../../../core/base/geometry/quad.ts';
import IconButton from '../../components/IconButton.vue';
import NumberField from '../../components/NumberField.vue';
import KeyedField from './KeyedField.vue';
import { bandAround } from './slanted-shape.ts';
import { useLook } from './use-look.ts';
import { removeOutline } from '../follow/remove-outline.ts';
import { useDocument } from '../../stores/document.ts';
import { useWorkspace } from '../../stores/workspace.ts';

/** The content's light on hands, table and frame: soft areas in which it falls. */
const doc = useDocument();
const { look, change } = useLook();
const workspace = useWorkspace();
const areas = computed(() => look.value.cast?.areas ?? []);
const picked = computed(() => (workspace.picked?.list === 'cast' ? workspace.picked.index : null));

/** As strong as a screen in an indoor scene: common practice, no source. */
const START = 0.3;
function addAround(): void {
  change((l) => {
    l.cast ??= { areas: [] };
    l.cast.areas.push({ name: 'around', strength: START, shape: bandAround(doc.document!.corners as Quad) });
  });
  workspace.picked = { list: 'cast', index: areas.value.length - 1 };
}
function setSoft(index: number, side: 0 | 1, value: number): void {
  change((l) => {
    const { shape } = l.cast!.areas[index]!;
    const soft: [number, number] = [...(shape.soft ?? [0, 0])];
    soft[side] = value;
    shape.soft = soft;
  });
}
</script>

<template>
  <section class="section">
    <header>
      <h2>Light on the room</h2>
      <span class="quiet">of the content, near by</span>
    </header>
    <div v-for="(area, i) in areas" :key="i" class="area" :data-cast="i">
      <div class="row-line">
        <button
          class="entry"
          type="button"
          :aria-pressed="picked === i"
          title="Shows its outline on the picture"
          @click="workspace.picked = picked === i ? null : { list: 'cast', index: i }"
        >
          <i class="bi bi-bezier2" /> {{ area.name ?? `Area ${i + 1}` }}</button
        ><IconButton icon="trash" :label="`Remove lit area ${i + 1}`" @click="removeOutline('cast', i)" />
      </div>
      <KeyedField
        :label="areas.length > 1 ? `Strength ${i + 1}` : 'Strength'"
        unit="×"
        :value="area.strength"
        :usual="0"
        :min="0"
        :max="100"
        :step="0.05"
        @commit="(v) => change((l) => (l.cast!.areas[i]!.strength = v))"
      />
      <div v-if="picked === i" class="pair">
        <span class="quiet">soft, px</span
        ><NumberField
          label="Soft inward"
          unit="px"
          hide-label
          :digits="0"
          :min="0"
          :max="1000"
          :value="area.shape.soft?.[0] ?? 0"
          @commit="(px) => setSoft(i, 0, px)"
        /><span class="quiet">in</span
        ><NumberField
          label="Soft outward"
          unit="px"
          hide-label
          :digits="0"
          :min="0"
          :max="1000"
          :value="area.shape.soft?.[1] ?? 0"
          @commit="(px) => setSoft(i, 1, px)"
        /><span class="quiet">out</span>
      </div>
    </div>
    <div class="row-line">
      <button class="use-button" type="button" @click="addAround">add a band around it</button
      ><button
        class="use-button"
        type="button"
        :aria-pressed="workspace.tool === 'draw-cast'"
        data-draw-cast
        @click="workspace.tool = workspace.tool === 'draw-cast' ? 'look' : 'draw-cast'"
      >
        draw an area
      </button>
    </div>
  </section>
</template>

<style scoped>
.area {
  border-bottom: 1px solid var(--line);
  margin-bottom: 6px;
  padding-bottom: 4px;
}
.entry {
  flex: 1;
  text-align: left;
  border: 0;
  background: none;
  color: var(--ink);
  padding: 2px 4px;
  border-radius: 3px;
}
.entry[aria-pressed='true'] {
  background: var(--white);
}
.pair {
  display: flex;
  align-items: center;
  gap: 6px;
}
</style>
