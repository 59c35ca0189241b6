<script setup lang="ts">
import { computed } from 'vue';
import AppSelect from '../../../components/AppSelect.vue';
import ChoiceRow from '../../../components/ChoiceRow.vue';
import NumberField from '../../../components/NumberField.vue';
import OutlineList from '../OutlineList.vue';
import ScenePlaneSection from './ScenePlaneSection.vue';
import SceneResult from './SceneResult.vue';
import { frameMilliseconds } from './row-time.ts';
import { changeScene } from './scene-edits.ts';
import { useDocument } from '../../../stores/document.ts';
import { useNotices } from '../../../stores/notices.ts';
import { usePlayhead } from '../../../stores/playhead.ts';
import { useScene } from '../../../stores/scene.ts';
import { useShot } from '../../../stores/shot.ts';
import { useWorkspace } from '../../../stores/workspace.ts';

/** When the screen offers nothing to hold on to: the camera is solved from the room, and the plane of the corners is carried in it. */
const shot = useShot();
const doc = useDocument();
const scene = useScene();
const workspace = useWorkspace();
const head = usePlayhead();
const notices = useNotices();
const document = computed(() => doc.document!);
const file = computed(() => scene.file);
const settings = computed(() => document.value.scene ?? {});
const MOTIONS = { still: 'stands still', turns: 'turns on its place', walks: 'moves through the room' } as const;
const LENSES = ['none', 'k1', 'k1, k2'] as const;
/** Phones and most film cameras read a picture from above: what moves fast leans. */
const ROWS = ['all at once', 'as the shot tells', 'as given'] as const;
const frameTime = computed(() => frameMilliseconds(shot.plate?.facts?.rate));
const rowsNamed = computed(() =>
  settings.value.rows === undefined ? ROWS[0] : settings.value.rows === 'estimate' ? ROWS[1] : ROWS[2],
);
const COMMON_MS = 16;
function setRows(name: (typeof ROWS)[number]): void {
  const known = file.value?.rows ?? Math.min(1, COMMON_MS / frameTime.value);
  doc.edit((draft) =>
    changeScene(draft, (s) => {
      s.rows = name === ROWS[0] ? 0 : name === ROWS[1] ? 'estimate' : known;
    }),
  );
}
const moved = computed(() => {
  const placed = scene.reply?.plane;
  return (
    placed !== null &&
    placed !== undefined &&
    document.value.corners !== null &&
    placed.frame === document.value.referenceFrame &&
    placed.corners.some(
      ([x, y], i) => Math.hypot(x - document.value.corners![i]![0], y - document.value.corners![i]![1]) > 0.5,
    )
  );
});
const solve = () => notices.guard(() => scene.solve());
</script>

<template>
  <section class="section">
    <header>
      <h2>Room</h2>
      <span v-if="file" class="quiet" data-scene-motion
        >camera {{ MOTIONS[file.motion] }}{{ file.zooms ? ', zooming' : '' }}</span
      >
    </header>
    <p v-if="!file" class="quiet">
      For a screen that offers nothing: off, glossy, covered, blank. The camera’s way is determined from what stands
      still around it, and the plane of the four corners goes with the room. Keep out people, leaves in the wind, and
      other screens.
    </p>
    <OutlineList only="keepOut" />
    <div class="tools">
      <BButton variant="outline-secondary" :disabled="!shot.plate" @click="workspace.tool = 'draw-keep-out'"
        ><i class="bi bi-plus-lg" /> Keep out</BButton
      >
      <BButton
        variant="outline-secondary"
        :disabled="!shot.plate"
        title="On the reference frame, in the order of the device"
        @click="
          head.goTo(document.referenceFrame);
          workspace.tool = 'place-corners';
        "
        ><i class="bi bi-bounding-box-circles" /> Corners</BButton
      >
      <BButton
        variant="outline-secondary"
        :disabled="!shot.plate"
        :aria-pressed="workspace.tool === 'put-point'"
        title="Put points by hand on what stands still; a click on a point that was found takes it out"
        data-put
        @click="workspace.tool = workspace.tool === 'put-point' ? 'look' : 'put-point'"
        ><i class="bi bi-plus-lg" /> Point</BButton
      >
    </div>
    <p v-if="settings.drawn?.length || settings.removed?.length" class="row-line mb-0">
      <span class="quiet">{{ settings.drawn?.length ?? 0 }} put, {{ settings.removed?.length ?? 0 }} taken out</span
      ><button
        class="use-button"
        type="button"
        @click="
          doc.edit((draft) =>
            changeScene(draft, (s) => {
              delete s.drawn;
              delete s.removed;
            }),
          )
        "
      >
        forget them
      </button>
    </p>
    <NumberField
      label="Focal length, 0: solved"
      unit="px"
      :value="document.focal ?? 0"
      :min="0"
      :max="1000000"
      :digits="1"
      @commit="
        (v) =>
          doc.edit((draft) => {
            if (v > 0) draft.focal = v;
            else delete draft.focal;
          })
      "
    />
    <div class="row-line">
      <span>Lens bends by</span
      ><ChoiceRow
        label="Terms of the lens"
        :options="LENSES"
        :value="LENSES[settings.terms ?? 0]!"
        @choose="
          (name) =>
            doc.edit((draft) =>
              changeScene(draft, (s) => {
                s.terms = LENSES.indexOf(name) as 0 | 1 | 2;
              }),
            )
        "
      />
    </div>
    <label class="row-line"
      ><span>Rows are read</span
      ><AppSelect
        label="How rows are read"
        :value="rowsNamed"
        :options="ROWS"
        title="Phones and most cameras read a picture from above: what moves fast leans"
        @choose="setRows"
    /></label>
    <NumberField
      v-if="typeof settings.rows === 'number'"
      label="From first row to last"
      unit="ms"
      :value="settings.rows * frameTime"
      :min="-frameTime"
      :max="frameTime"
      :digits="2"
      @commit="
        (v) =>
          doc.edit((draft) =>
            changeScene(draft, (s) => {
              s.rows = v / frameTime;
            }),
          )
      "
    />
    <BButton
      :variant="file && scene.reply?.current && !moved ? 'outline-secondary' : 'primary'"
      class="w-100 mt-2"
      :disabled="!shot.plate || !!shot.running"
      data-solve-scene
      @click="solve"
      ><i class="bi bi-box" />
      {{
        !file
          ? 'Solve the room'
          : scene.reply?.current && !moved
            ? 'Place the plane again'
            : scene.reply?.current
              ? 'Place the plane'
              : 'Solve again'
      }}</BButton
    >
    <p v-if="!document.corners" class="quiet mt-2 mb-0">
      Place the four corners on the reference frame, too: then the plane is found in the same go.
    </p>
    <p v-else-if="moved" class="notice mt-2 mb-0" data-plane-moved>
      The corners were moved since the plane was placed.
    </p>
    <p v-if="file && !scene.reply?.current" class="notice mt-2 mb-0" data-scene-stale>
      Solved with other keep-outs, points, range or lens. What it gave stands until it is solved again.
    </p>
  </section>
  <SceneResult v-if="file" :file="file" />
  <ScenePlaneSection v-if="file && document.corners" :file="file" />
</template>

<style scoped>
.tools {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 6px;
  margin: 8px 0;
}
.tools .btn {
  padding-inline: 4px;
  white-space: nowrap;
}
</style>
