<script setup lang="ts">
import { computed, onBeforeUnmount } from 'vue';
import AppCheck from '../../components/AppCheck.vue';
import AppSelect from '../../components/AppSelect.vue';
import NumberField from '../../components/NumberField.vue';
import { newMesh, patchesTo, toggleMeshKey } from './mesh-edits.ts';
import { useDocument } from '../../stores/document.ts';
import { usePlayhead } from '../../stores/playhead.ts';
import { useWorkspace } from '../../stores/workspace.ts';

/** Curved glass and depth: content that does not lie flat in the surface. */
const PATCHES: readonly number[] = [2, 4, 8, 16];
const doc = useDocument();
const workspace = useWorkspace();
const head = usePlayhead();
onBeforeUnmount(() => (workspace.meshOpen = false));
const look = computed(() => doc.document!.look);
const mesh = computed(() => look.value.mesh);
const bow = computed(() => (typeof mesh.value?.bow === 'number' ? mesh.value.bow : 0));
const depth = computed(() => (typeof look.value.depth === 'number' ? look.value.depth : 0));
const keyHere = computed(() => mesh.value?.keys?.some((key) => key.frame === head.frame) ?? false);
function setBow(value: number): void {
  doc.edit((draft) => {
    if (value === 0 && !draft.look.mesh?.keys) delete draft.look.mesh;
    else draft.look.mesh = { ...newMesh(), ...draft.look.mesh, bow: value };
  });
}
function setPatches(name: 'columns' | 'rows', n: number): void {
  doc.edit((draft) => {
    const now = draft.look.mesh ?? newMesh();
    draft.look.mesh = patchesTo(now, name === 'columns' ? n : now.columns, name === 'rows' ? n : now.rows);
  });
}
function openMesh(): void {
  workspace.meshOpen = !workspace.meshOpen;
  if (workspace.meshOpen && !mesh.value) doc.edit((draft) => (draft.look.mesh = newMesh()));
}
function flatten(): void {
  workspace.meshOpen = false;
  doc.edit((draft) => {
    delete draft.look.mesh;
  });
}
function setDepth(value: number): void {
  doc.edit((draft) => {
    if (value === 0) delete draft.look.depth;
    else draft.look.depth = value;
  });
}
</script>

<template>
  <section class="section">
    <header>
      <h2>Not flat</h2>
      <button v-if="mesh" class="use-button" type="button" @click="flatten">flat again</button>
    </header>
    <NumberField
      label="Bow of the glass"
      unit="%"
      :value="100 * bow"
      :min="-20"
      :max="20"
      :step="0.1"
      :digits="2"
      @commit="setBow($event / 100)"
    />
    <div class="row-line">
      <button
        class="btn btn-sm flex-fill"
        :class="workspace.meshOpen ? 'btn-primary' : 'btn-outline-secondary'"
        type="button"
        :aria-pressed="workspace.meshOpen"
        data-open-mesh
        @click="openMesh"
      >
        <i class="bi bi-grid-3x3" /> Bend it by points
      </button>
      <button
        v-if="workspace.meshOpen"
        class="btn btn-sm btn-outline-secondary"
        type="button"
        :aria-pressed="keyHere"
        title="Key the mesh on this frame, or take its key away"
        @click="
          doc.edit((d) => {
            if (d.look.mesh) toggleMeshKey(d.look.mesh, head.frame);
          })
        "
      >
        {{ keyHere ? 'Keyed here' : 'Key here' }}
      </button>
    </div>
    <template v-if="workspace.meshOpen && mesh">
      <div class="pair">
        <label
          >Patches across
          <AppSelect
            label="Patches across"
            :value="mesh.columns"
            :options="PATCHES"
            @choose="setPatches('columns', $event)"
        /></label>
        <label
          >down
          <AppSelect label="Patches down" :value="mesh.rows" :options="PATCHES" @choose="setPatches('rows', $event)"
        /></label>
      </div>
      <AppCheck v-model="workspace.meshSymmetric">The opposite side goes along</AppCheck>
      <p class="quiet mt-1 mb-1">Drag a point; with Ctrl its whole row, with Shift its column.</p>
    </template>
    <NumberField
      label="Behind the surface"
      unit="%"
      :value="100 * depth"
      :min="-200"
      :max="500"
      :step="1"
      :digits="1"
      @commit="setDepth($event / 100)"
    />
    <p class="quiet mt-1 mb-0">
      The bow bulges the sides by shares of the screen’s size, corners stay. Depth is in widths of the screen; less than
      0 floats in front.
    </p>
  </section>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
  margin-top: 6px;
}
.pair label {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 6px;
}
.pair select {
  width: 66px;
}
</style>
