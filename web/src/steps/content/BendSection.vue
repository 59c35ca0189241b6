<script setup lang="ts">
import { computed } from 'vue';
import NumberField from '../../components/NumberField.vue';
import { useShot } from '../../stores/shot.ts';

/** Curved glass and depth: content that does not lie flat in the surface. */
const shot = useShot();
const look = computed(() => shot.document!.look);
const bow = computed(() => (typeof look.value.mesh?.bow === 'number' ? look.value.mesh.bow : 0));
const depth = computed(() => (typeof look.value.depth === 'number' ? look.value.depth : 0));
function setBow(value: number): void {
  shot.edit((draft) => {
    if (value === 0 && !draft.look.mesh?.keys) delete draft.look.mesh;
    else draft.look.mesh = { columns: 4, rows: 4, ...draft.look.mesh, bow: value };
  });
}
function setDepth(value: number): void {
  shot.edit((draft) => {
    if (value === 0) delete draft.look.depth;
    else draft.look.depth = value;
  });
}
</script>

<template>
  <section class="section">
    <header><h2>Not flat</h2></header>
    <NumberField label="Bow of the glass" unit="%" :value="100 * bow" :min="-20" :max="20" :step="0.1" :digits="2" @commit="setBow($event / 100)" />
    <NumberField label="Behind the surface" unit="%" :value="100 * depth" :min="-200" :max="500" :step="1" :digits="1" @commit="setDepth($event / 100)" />
    <p class="quiet mt-1 mb-0">The sides bulge by shares of the screen’s size, corners stay. Depth is in widths of the screen; less than 0 floats in front.</p>
  </section>
</template>
