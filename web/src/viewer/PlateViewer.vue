<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import { computed, useTemplateRef } from 'vue';
import { isDrawing, useWorkspace } from '../stores/workspace.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useViewing } from '../stores/viewing.ts';
import BrushStroke from './BrushStroke.vue';
import DrawOutline from './DrawOutline.vue';
import HatchPatterns from './HatchPatterns.vue';
import MeasureBox from './MeasureBox.vue';
import { allOverlays, type Overlay } from './overlay-registry.ts';
import PlaceCorners from './PlaceCorners.vue';
import PointerGlass from './PointerGlass.vue';
import SteadyView from './SteadyView.vue';
import { TOOL_HINTS } from './tool-hints.ts';
import { useFramePicture } from './use-frame-picture.ts';
import { usePainting } from './use-painting.ts';
import { useView } from './use-view.ts';
import { provideViewport } from './viewport.ts';
import WipeBorder from './WipeBorder.vue';

/** The plate or the finished picture, with what the step lays over it and what the tool in hand needs. */
const workspace = useWorkspace();
const head = usePlayhead();
const viewing = useViewing();
const box = useTemplateRef<HTMLDivElement>('box');
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const { viewport, facts, onWheel, onDown, onMove, onUp } = useView(box);
provideViewport(viewport);
const onShow = useFramePicture(viewport);
const { shows } = onShow;
usePainting(box, canvas, viewport, onShow);

const overlays = allOverlays();
const laid = (layer: Overlay['layer']) =>
  computed(() => overlays.filter((one) => one.step === workspace.step && one.layer === layer && one.shown()));
const beneath = laid('beneath');
const drawing = laid('drawing');
const over = laid('over');
const showsSteady = computed(() => workspace.steadied && !(workspace.flat && workspace.step === 'seat'));

const glass = computed(
  () =>
    workspace.dragPoint ??
    (workspace.pointer && (workspace.tool === 'place-corners' || isDrawing(workspace.tool)) ? workspace.pointer : null),
);
useEventListener(window, 'keydown', (event) => {
  if (event.key === 'Escape' && ['measure', 'pick-colour', 'put-point'].includes(workspace.tool)) {
    workspace.tool = 'look';
    workspace.measured = null;
  }
});
</script>

<template>
  <div
    ref="box"
    class="viewer"
    :class="{ drawing: workspace.tool !== 'look' }"
    :data-altered-view="viewing.altered"
    role="img"
    :data-shows="shows"
    :data-frame="head.frame"
    :aria-label="`Frame ${head.frame} of the plate`"
    @wheel.prevent="onWheel"
    @pointerdown="onDown"
    @pointermove="onMove"
    @pointerup="onUp"
    @pointerleave="workspace.pointer = null"
  >
    <canvas ref="canvas" />
    <template v-if="facts && viewport.width > 0">
      <component :is="one.component" v-for="one in beneath" :key="overlays.indexOf(one)" v-bind="one.props?.()" />
      <svg v-show="!workspace.steadied" class="overlay" :width="viewport.width" :height="viewport.height">
        <HatchPatterns />
        <component :is="one.component" v-for="one in drawing" :key="overlays.indexOf(one)" v-bind="one.props?.()" />
        <PlaceCorners v-if="workspace.tool === 'place-corners'" />
        <MeasureBox v-if="workspace.tool === 'measure' || workspace.tool === 'pick-colour'" />
        <WipeBorder v-if="viewing.wipe" />
        <BrushStroke v-if="workspace.tool === 'brush-fix'" />
        <DrawOutline v-if="isDrawing(workspace.tool)" />
      </svg>
      <SteadyView v-if="showsSteady" />
      <component :is="one.component" v-for="one in over" :key="overlays.indexOf(one)" v-bind="one.props?.()" />
      <PointerGlass v-if="glass" :at="glass" />
      <p v-if="workspace.tool !== 'look'" class="hint">{{ TOOL_HINTS[workspace.tool] }}</p>
      <button
        v-if="viewing.altered"
        class="altered"
        type="button"
        title="Show it as it is"
        data-altered
        @pointerdown.stop
        @click="viewing.reset()"
      >
        <i class="bi bi-eye" /> view only: {{ viewing.words }}
      </button>
    </template>
    <slot v-else />
  </div>
</template>

<style scoped>
.viewer {
  position: relative;
  width: 100%;
  height: 100%;
  background: var(--surround);
  overflow: hidden;
  touch-action: none;
  cursor: grab;
}
.viewer:active {
  cursor: grabbing;
}
.viewer.drawing {
  cursor: crosshair;
}
canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
.hint {
  position: absolute;
  left: 50%;
  top: 12px;
  transform: translateX(-50%);
  margin: 0;
  padding: 5px 12px;
  border-radius: 3px;
  background: var(--label-back);
  color: var(--mark);
  font-size: 13px;
  pointer-events: none;
  width: max-content;
  max-width: calc(100% - 40px);
}
.altered {
  position: absolute;
  left: 12px;
  bottom: 12px;
  border: 2px solid var(--accent);
  border-radius: 3px;
  background: var(--label-back);
  color: var(--mark);
  font-size: 13px;
  padding: 3px 10px;
}
.overlay {
  position: absolute;
  inset: 0;
  pointer-events: none;
}
</style>
