<script setup lang="ts">
import { computed } from 'vue';
import { quadFault, type Quad } from '../../../../core/base/geometry/quad.ts';
import { useWorkspace } from '../../stores/workspace.ts';
import { useShot } from '../../stores/shot.ts';
import { useDocument } from '../../stores/document.ts';

/** Nothing is seated yet: place four corners, or begin with the region's. */
const shot = useShot();
const doc = useDocument();
const workspace = useWorkspace();
/** A region of four points drawn around the screen is nearly the seat already. */
const fromRegion = computed(() => {
  const outline = doc.document!.regions.find((r) => r.points.length === 4);
  return outline && quadFault(outline.points as unknown as Quad) === null ? outline.points : null;
});
function useRegion(): void {
  doc.edit((draft) => {
    draft.corners = structuredClone(fromRegion.value!.map(([x, y]) => [x, y])) as typeof draft.corners;
  });
}
</script>

<template>
  <section class="section">
    <header><h2>Corners</h2></header>
    <p class="quiet">
      Click the four corners of the screen in the order of the content: top-left, top-right, bottom-right, bottom-left.
      Roughly is enough: they are put onto the borders afterwards. They may lie outside the picture.
    </p>
    <BButton variant="primary" class="w-100" :disabled="!shot.plate" @click="workspace.tool = 'place-corners'"
      >Place the corners</BButton
    >
    <button v-if="fromRegion" class="use-button mt-2" type="button" @click="useRegion">
      start from the four points of the region
    </button>
  </section>
</template>
