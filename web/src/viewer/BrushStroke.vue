<script setup lang="ts">
import { onKeyStroke } from '@vueuse/core';
import { computed, ref } from 'vue';
import { strokeOutline } from '../../../core/picture/clean/stroke-outline.ts';
import { addFix } from '../steps/front/add-fix.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { toPage, toPlate } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** Painting over something with a round brush: what it covered becomes an outline when it is lifted. */
const viewport = useViewport();
const workspace = useWorkspace();
const head = usePlayhead();
/** Plate pixels. */
const path = ref<[number, number][]>([]);
const hover = ref<[number, number] | null>(null);
const half = computed(() => (workspace.brush / 2) * viewport.view.scale);
const line = computed(() => {
  const page = path.value.map((p) => toPage(viewport.view, p));
  return (page.length === 1 ? [...page, ...page] : page).join(' ');
});

function pageAt(event: PointerEvent): [number, number] {
  const rect = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  return [event.clientX - rect.left, event.clientY - rect.top];
}
function onDown(event: PointerEvent): void {
  if (event.button !== 0) return;
  event.stopPropagation();
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  path.value = [toPlate(viewport.view, ...pageAt(event))];
}
function onMove(event: PointerEvent): void {
  hover.value = pageAt(event);
  if (path.value.length > 0) path.value.push(toPlate(viewport.view, ...hover.value));
}
function onUp(): void {
  const outline = strokeOutline(path.value, workspace.brush / 2).map(([x, y]): [number, number] => [x, y]);
  path.value = [];
  if (outline.length >= 3) addFix(outline, head.frame);
}
onKeyStroke('Escape', () => (workspace.tool = 'look'));
</script>

<template>
  <g>
    <rect
      class="catcher"
      :width="viewport.width"
      :height="viewport.height"
      data-brush
      @pointerdown="onDown"
      @pointermove="onMove"
      @pointerup="onUp"
      @pointerleave="hover = null"
    />
    <polyline v-if="path.length > 0" class="stroke" :points="line" :stroke-width="2 * half" />
    <template v-if="hover"
      ><circle class="under" :cx="hover[0]" :cy="hover[1]" :r="half" /><circle
        class="over"
        :cx="hover[0]"
        :cy="hover[1]"
        :r="half"
    /></template>
  </g>
</template>

<style scoped>
.catcher {
  fill: transparent;
  pointer-events: all;
  cursor: none;
}
.stroke {
  fill: none;
  stroke: var(--mark-faint);
  stroke-linecap: round;
  stroke-linejoin: round;
  pointer-events: none;
}
.under,
.over {
  fill: none;
  pointer-events: none;
  stroke-width: 1.6;
}
.under {
  stroke: var(--mark-under);
}
.over {
  stroke: var(--mark);
  stroke-dasharray: 5 4;
}
</style>
