<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, useTemplateRef, watch } from 'vue';
import type { ScenePlane } from '../../../../../core/motion/scene/scene-plane.ts';
import ChoiceRow from '../../../components/ChoiceRow.vue';
import { usePlayhead } from '../../../stores/playhead.ts';
import { useScene } from '../../../stores/scene.ts';
import { useDocument } from '../../../stores/document.ts';
import { RoomDrawing, type HandleKind } from './room-drawing.ts';

/** The solved room from elsewhere: points, the camera's way, and the plane with handles. */
const emit = defineEmits<{ place: [plane: ScenePlane] }>();
const doc = useDocument();
const scene = useScene();
const head = usePlayhead();
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const handle = ref<HandleKind>('move');
const failed = ref(false);
let drawing: RoomDrawing | null = null;
onMounted(() => {
  try {
    drawing = new RoomDrawing(canvas.value!, (plane) => emit('place', plane));
    show();
  } catch {
    failed.value = true;
  }
});
onBeforeUnmount(() => drawing?.close());
function show(): void {
  if (scene.scene && scene.file)
    drawing?.show(scene.scene, scene.plane, doc.document?.corners ?? null, head.frame, handle.value);
}
watch([() => scene.scene, () => scene.plane, () => head.frame, () => doc.document?.corners, handle], show);
const HANDLES = ['move', 'turn'] as const;
</script>

<template>
  <div class="orbit">
    <p v-if="failed" class="notice mb-0">
      This browser draws nothing in space here (WebGL is off). The plane can be moved by its corners in the picture.
    </p>
    <template v-else>
      <canvas
        ref="canvas"
        data-room
        tabindex="0"
        aria-label="The room from elsewhere: drag to look around, wheel to go nearer"
      />
      <div class="row-line">
        <span class="quiet">Drag: look around</span
        ><ChoiceRow label="Handles of the plane" :options="HANDLES" :value="handle" @choose="(h) => (handle = h)" />
      </div>
    </template>
  </div>
</template>

<style scoped>
.orbit {
  margin-top: 8px;
}
canvas {
  display: block;
  width: 100%;
  height: 220px;
  border: 1px solid var(--line);
  border-radius: 3px;
  background: var(--surround);
  touch-action: none;
}
</style>
