<script setup lang="ts">
import { computed } from 'vue';
import IconButton from '../../components/IconButton.vue';
import { keyFrames } from './edit-outline.ts';
import { outlinesOf, type OutlineKind } from './outlines-of.ts';
import { removeOutline } from './remove-outline.ts';
import { useOutline } from './use-outline.ts';
import { useDocument } from '../../stores/document.ts';
import { useWorkspace } from '../../stores/workspace.ts';

/** The regions and keep-outs of the shot: pick, fix to the picture, remove. */
const props = defineProps<{ only?: 'keepOut' }>();
const doc = useDocument();
const workspace = useWorkspace();
const entries = computed(() =>
  (props.only ? [props.only] : (['regions', 'keepOut'] as const)).flatMap((list) =>
    doc.document![list].map((outline, index) => ({
      list,
      index,
      points: outline.points.length,
      keys: keyFrames(outline, doc.document!.referenceFrame).length,
      title: list === 'regions' ? `Region ${index + 1}` : `Keep out ${index + 1}`,
      fixed: 'fixed' in outline && outline.fixed === true,
      picked: workspace.picked?.list === list && workspace.picked.index === index,
      off: outline.off === true,
    })),
  ),
);
function pick(list: OutlineKind, index: number): void {
  workspace.picked = { list, index };
}
function setFixed(index: number, fixed: boolean): void {
  doc.edit((draft) => {
    draft.keepOut[index]!.fixed = fixed;
  });
}
function setOff(list: OutlineKind, index: number, off: boolean): void {
  doc.edit((draft) => useOutline(outlinesOf(draft, list)[index]!, !off));
}
</script>

<template>
  <ul class="outlines">
    <li
      v-for="e in entries"
      :key="`${e.list}${e.index}`"
      :class="{ picked: e.picked, off: e.off }"
      :data-entry="`${e.list}-${e.index}`"
    >
      <button class="entry" type="button" :aria-pressed="e.picked" @click="pick(e.list, e.index)">
        <span class="swatch" :class="e.list" /><span
          ><b>{{ e.title }}</b
          ><span class="quiet d-block"
            ><template v-if="e.off">not in use · </template>{{ e.points }} points<template v-if="e.keys > 0">
              · {{ e.keys }} keys</template
            ><template v-if="e.list === 'keepOut'">
              · {{ e.fixed ? 'stays in the picture' : 'rides with the surface' }}</template
            ></span
          ></span
        >
      </button>
      <IconButton
        v-if="e.list === 'keepOut'"
        :icon="e.fixed ? 'pin-angle-fill' : 'pin-angle'"
        :label="e.fixed ? `Let ${e.title} ride` : `Fix ${e.title} in the picture`"
        :title="e.fixed ? 'Let it ride with the surface' : 'Fix it in the picture'"
        @click="setFixed(e.index, !e.fixed)"
      />
      <IconButton
        :icon="e.off ? 'eye-slash' : 'eye'"
        :label="`Use ${e.title}`"
        :aria-pressed="!e.off"
        :title="e.off ? 'Not in use. Press to use it in the next run.' : 'In use. Press to leave it drawn, but unused.'"
        @click="setOff(e.list, e.index, !e.off)"
      />
      <IconButton icon="trash" :label="`Remove ${e.title}`" title="Remove" @click="removeOutline(e.list, e.index)" />
    </li>
  </ul>
</template>

<style scoped>
.outlines {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 3px;
}
li {
  display: flex;
  align-items: center;
  border: 1px solid transparent;
  border-radius: 4px;
}
.picked {
  background: var(--white);
  border-color: var(--line);
}
.off .entry {
  opacity: 0.55;
}
.entry {
  flex: 1;
  display: flex;
  align-items: center;
  gap: 10px;
  border: 0;
  background: none;
  color: var(--ink);
  text-align: left;
  padding: 5px 6px;
}
.swatch {
  width: 34px;
  height: 24px;
  border: 1.5px solid var(--ink);
  background: repeating-linear-gradient(45deg, var(--ink-soft) 0 1.4px, var(--white) 1.4px 6px);
  flex: none;
}
.swatch.keepOut {
  border-style: dashed;
  background: repeating-linear-gradient(-45deg, var(--ink-soft) 0 3px, var(--paper-sunk) 3px 6px);
}
</style>
