<script setup lang="ts">
import { computed, defineAsyncComponent, ref } from 'vue';
import type { Quad } from '../../../../../core/base/geometry/quad.ts';
import type { SceneFile } from '../../../../../core/base/schemas/types.ts';
import { groundPlane } from '../../../../../core/motion/scene/ground-plane.ts';
import { planeAtDistance, planeTurned } from '../../../../../core/motion/scene/move-plane.ts';
import type { ScenePlane } from '../../../../../core/motion/scene/scene-plane.ts';
import NumberField from '../../../components/NumberField.vue';
import { useDocument } from '../../../stores/document.ts';
import { useScene } from '../../../stores/scene.ts';
import { useShot } from '../../../stores/shot.ts';
import { useWorkspace } from '../../../stores/workspace.ts';
import { changeScene } from './scene-edits.ts';

/** The plane of the corners in the solved room: moved by hand, looked at from elsewhere, and let move the surface. */
defineProps<{ file: SceneFile }>();
const OrbitView = defineAsyncComponent(() => import('./OrbitView.vue'));
const shot = useShot();
const doc = useDocument();
const scene = useScene();
const workspace = useWorkspace();
const settings = computed(() => doc.document!.scene ?? {});
function put(plane: ScenePlane | null): void {
  if (plane)
    doc.edit((draft) =>
      changeScene(draft, (s) => {
        s.normal = [...plane.normal];
      }),
    );
}
const corners = computed(() => doc.document!.corners as Quad | null);
const turn = (right: number, down: number) =>
  scene.plane && corners.value && scene.scene && put(planeTurned(scene.scene, scene.plane, corners.value, right, down));
/** Sides that are turned, and how: degrees to the right, and down. */
const SIDES = [
  ['Right side', 1, 0],
  ['Lower side', 0, 1],
] as const;
const away = (times: number) => scene.plane && put(planeAtDistance(scene.plane, times));
const ground = computed(() => scene.scene && groundPlane(scene.scene));
const orbit = ref(false);
const use = () =>
  doc.edit((draft) => {
    draft.spans = [{ from: 0, to: Math.max(0, shot.frames - 1), source: 'scene' }];
  });
const unuse = () =>
  doc.edit((draft) => {
    delete draft.spans;
  });
</script>

<template>
  <section class="section">
    <header>
      <h2>Plane</h2>
      <span v-if="settings.normal" class="d-flex gap-2"
        ><span class="quiet">moved by hand</span
        ><button
          class="use-button"
          type="button"
          @click="
            doc.edit((draft) =>
              changeScene(draft, (s) => {
                delete s.normal;
              }),
            )
          "
        >
          as found
        </button></span
      >
    </header>
    <BButton
      v-if="file.motion === 'walks'"
      variant="outline-secondary"
      class="w-100 mb-2"
      :aria-pressed="workspace.tool === 'draw-plane'"
      title="Around still points that lie in the screen’s plane: a wall it hangs flat on, its rim"
      data-draw-plane
      @click="workspace.tool = workspace.tool === 'draw-plane' ? 'look' : 'draw-plane'"
      ><i class="bi bi-bounding-box" /> Through the points of a region</BButton
    >
    <p v-if="!scene.plane" class="quiet mb-0">Not placed yet.</p>
    <template v-else>
      <p v-for="note in scene.reply?.plane?.notes ?? []" :key="note" class="notice">{{ note }}</p>
      <template v-if="file.motion === 'walks'">
        <div class="row-line">
          <span>Farther, nearer</span
          ><span class="d-flex gap-1"
            ><button class="use-button" type="button" aria-label="Nearer by 1 %" @click="away(0.99)">−1 %</button
            ><button class="use-button" type="button" aria-label="Farther by 1 %" @click="away(1.01)">
              +1 %
            </button></span
          >
        </div>
        <div v-for="[side, right, down] in SIDES" :key="side" class="row-line">
          <span>{{ side }}</span
          ><span class="d-flex gap-1"
            ><button
              class="use-button"
              type="button"
              :aria-label="`${side} nearer by 1 degree`"
              @click="turn(-right, -down)"
            >
              nearer 1°</button
            ><button
              class="use-button"
              type="button"
              :aria-label="`${side} farther by 1 degree`"
              @click="turn(right, down)"
            >
              farther 1°
            </button></span
          >
        </div>
        <p class="quiet mb-1">
          Or drag a corner on any other frame to where it is seen: the plane takes the depth that puts it there.
        </p>
      </template>
      <p v-else class="quiet mb-1">The camera does not leave its place, so that depth does not matter.</p>
      <template v-if="file.motion === 'walks'">
        <NumberField
          label="Exported width, 0: any"
          :value="settings.unit ?? 0"
          :min="0"
          :max="1000000"
          :digits="4"
          @commit="
            (v) =>
              doc.edit((draft) =>
                changeScene(draft, (s) => {
                  if (v > 0) s.unit = v;
                  else delete s.unit;
                }),
              )
          "
        />
        <div class="row-line mb-2">
          <span>Ground</span
          ><span class="quiet" data-ground>{{
            ground ? `through ${ground.points} points; y = 0 when exported` : 'none is seen'
          }}</span>
        </div>
      </template>
      <BButton variant="outline-secondary" class="w-100" :aria-pressed="orbit" data-orbit @click="orbit = !orbit"
        ><i class="bi bi-globe2" /> {{ orbit ? 'Fold the room' : 'See the room from elsewhere' }}</BButton
      >
      <OrbitView v-if="orbit" @place="put" />
      <BButton v-if="!scene.used" variant="primary" class="w-100 mt-2" data-use-scene @click="use"
        ><i class="bi bi-check-lg" /> Let the plane move the surface</BButton
      >
      <div v-else class="row-line mt-2">
        <span data-scene-used>It moves the surface</span
        ><button class="use-button" type="button" @click="unuse">by the region again</button>
      </div>
    </template>
  </section>
</template>
