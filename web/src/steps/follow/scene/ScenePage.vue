<script setup lang="ts">
import { computed, defineAsyncComponent, ref } from 'vue';
import type { Quad } from '../../../../../core/base/geometry/quad.ts';
import { groundPlane } from '../../../../../core/motion/scene/ground-plane.ts';
import { planeAtDistance, planeTurned } from '../../../../../core/motion/scene/move-plane.ts';
import type { ScenePlane } from '../../../../../core/motion/scene/scene-plane.ts';
import AppSelect from '../../../components/AppSelect.vue';
import ChoiceRow from '../../../components/ChoiceRow.vue';
import NumberField from '../../../components/NumberField.vue';
import OutlineList from '../OutlineList.vue';
import { changeScene } from './scene-edits.ts';
import { useDocument } from '../../../stores/document.ts';
import { useNotices } from '../../../stores/notices.ts';
import { usePlayhead } from '../../../stores/playhead.ts';
import { useScene } from '../../../stores/scene.ts';
import { useShot } from '../../../stores/shot.ts';
import { useWorkspace } from '../../../stores/workspace.ts';

/** When the screen offers nothing to hold on to: the camera is solved from the room, and the plane of the corners is carried in it. */
const OrbitView = defineAsyncComponent(() => import('./OrbitView.vue'));
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
const frameTime = computed(() => {
  const [n, d] = shot.plate?.facts?.rate ?? [25, 1];
  return (1000 * d) / n;
});
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
const here = computed(() => file.value?.frames.find((f) => f.frame === head.frame) ?? null);
const fewest = computed(() =>
  file.value && file.value.frames.length > 0 ? file.value.frames.reduce((a, b) => (b.holds < a.holds ? b : a)) : null,
);
const focals = computed(() => file.value?.frames.map((f) => f.focal) ?? []);
const focalText = computed(() => {
  const [low, high] = [Math.min(...focals.value), Math.max(...focals.value)];
  return file.value?.zooms ? `${low.toFixed(0)}–${high.toFixed(0)} px` : `${low.toFixed(1)} px`;
});
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
function put(plane: ScenePlane | null): void {
  if (plane)
    doc.edit((draft) =>
      changeScene(draft, (s) => {
        s.normal = [...plane.normal];
      }),
    );
}
const corners = computed(() => document.value.corners as Quad | null);
const turn = (right: number, down: number) =>
  scene.plane && corners.value && scene.scene && put(planeTurned(scene.scene, scene.plane, corners.value, right, down));
const away = (times: number) => scene.plane && put(planeAtDistance(scene.plane, times));
const ground = computed(() => scene.scene && groundPlane(scene.scene));
const orbit = ref(false);
const last = computed(() => Math.max(0, shot.frames - 1));
const use = () =>
  doc.edit((draft) => {
    draft.spans = [{ from: 0, to: last.value, source: 'scene' }];
  });
const unuse = () =>
  doc.edit((draft) => {
    delete draft.spans;
  });
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
  <section v-if="file" class="section" data-scene>
    <header><h2>What came of it</h2></header>
    <div class="row-line">
      <span>Focal length</span
      ><span class="figure" data-focal>{{
        file.motion === 'still' && !file.focalKnown ? 'not known' : focalText
      }}</span>
    </div>
    <div v-if="file.k1 !== 0 || file.k2 !== 0" class="row-line">
      <span>Lens</span
      ><span class="figure" data-k1
        >k1 {{ file.k1.toFixed(4) }}{{ file.k2 !== 0 ? `, k2 ${file.k2.toFixed(4)}` : '' }}</span
      >
    </div>
    <div v-if="file.rows" class="row-line">
      <span>First row to last</span
      ><span class="figure" data-scene-rows>{{ (file.rows * frameTime).toFixed(1) }} ms</span>
    </div>
    <div class="row-line">
      <span>Left over</span><span class="figure" data-scene-rms>{{ file.rms.toFixed(2) }} px rms</span>
    </div>
    <div class="row-line">
      <span>Points</span
      ><span class="figure"
        >{{ file.points.length
        }}<span class="quiet"> · {{ Math.round(100 * file.share) }} % of what was followed</span></span
      >
    </div>
    <div class="row-line">
      <span>On this frame</span
      ><span class="figure" data-holds>{{
        here ? `${here.holds} hold, ${here.rms.toFixed(2)} px` : 'fewer than eight hold'
      }}</span>
    </div>
    <div v-if="fewest" class="row-line">
      <span>Fewest</span
      ><button class="use-button" type="button" @click="head.goTo(fewest.frame)">
        {{ fewest.holds }} on frame {{ fewest.frame + shot.firstNumber }}
      </button>
    </div>
    <p v-for="note in file.notes" :key="note" class="notice mt-2 mb-0" data-scene-note>{{ note }}</p>
  </section>
  <section v-if="file && corners" class="section">
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
        <div class="row-line">
          <span>Right side</span
          ><span class="d-flex gap-1"
            ><button class="use-button" type="button" aria-label="Right side nearer by 1 degree" @click="turn(-1, 0)">
              nearer 1°</button
            ><button class="use-button" type="button" aria-label="Right side farther by 1 degree" @click="turn(1, 0)">
              farther 1°
            </button></span
          >
        </div>
        <div class="row-line">
          <span>Lower side</span
          ><span class="d-flex gap-1"
            ><button class="use-button" type="button" aria-label="Lower side nearer by 1 degree" @click="turn(0, -1)">
              nearer 1°</button
            ><button class="use-button" type="button" aria-label="Lower side farther by 1 degree" @click="turn(0, 1)">
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
