<script setup lang="ts">
import { useElementSize, useEventListener } from '@vueuse/core';
import { storeToRefs } from 'pinia';
import { computed, onBeforeUnmount, ref, shallowRef, useTemplateRef, watch } from 'vue';
import { homographyBetweenQuads } from '../../../core/base/geometry/estimate-homography.ts';
import { compose } from '../../../core/base/geometry/homography.ts';
import { UNIT_SQUARE } from '../../../core/base/geometry/quad.ts';
import type { Look } from '../../../core/base/schemas/types.ts';
import { finishedUrl, type PictureSource } from '../api/urls.ts';
import { composePreview } from '../preview/preview.ts';
import { shotRequest } from '../preview/shot-request.ts';
import { isDrawing, useBench } from '../stores/bench.ts';
import { useBoard } from '../stores/board.ts';
import { DIFFERENCE_GAIN, useViewing } from '../stores/viewing.ts';
import { useDisagreement } from '../stores/disagreement.ts';
import { useOtherSurfaces } from '../stores/other-surfaces.ts';
import { usePictureOnShow } from '../stores/picture-on-show.ts';
import { useNotices } from '../stores/notices.ts';
import { useRenders } from '../stores/renders.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { useTrack } from '../stores/track.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import { FrameCache } from './frame-cache.ts';
import LensGrid from './LensGrid.vue';
import ScenePlaneHandles from './ScenePlaneHandles.vue';
import ScenePoints from './ScenePoints.vue';
import SeatHandles from './SeatHandles.vue';
import BoardStage from './BoardStage.vue';
import FlatView from './FlatView.vue';
import SteadyView from './SteadyView.vue';
import DisagreementOverlay from './DisagreementOverlay.vue';
import { addFix } from '../steps/front/add-fix.ts';
import BrushStroke from './BrushStroke.vue';
import FixSource from './FixSource.vue';
import DrawOutline from './DrawOutline.vue';
import KeyHandles from './KeyHandles.vue';
import PointBoxes from './PointBoxes.vue';
import MeshHandles from './MeshHandles.vue';
import ContentFlat from './ContentFlat.vue';
import PlaceHandles from './PlaceHandles.vue';
import MeasuredPlaces from './MeasuredPlaces.vue';
import MeasureBox from './MeasureBox.vue';
import PlaceCorners from './PlaceCorners.vue';
import PointerGlass from './PointerGlass.vue';
import WipeBorder from './WipeBorder.vue';
import OutlineOverlay from './OutlineOverlay.vue';
import ShapeEdges from './ShapeEdges.vue';
import JoinGhost from './JoinGhost.vue';
import JoinRegion from './JoinRegion.vue';
import SplitLine from './SplitLine.vue';
import StraightLines from './StraightLines.vue';
import SurfaceOverlay from './SurfaceOverlay.vue';
import { paintPicture } from './paint-picture.ts';
import { fitView, toPlate, zoomAt, type ViewTransform } from './view-transform.ts';

/** Exact pixels are fetched when the picture has stood still this long. */
const SETTLE_MS = 160;

/** What the hand does next, shown while a tool is out. */
const HINTS = {
  measure: 'Drag a square: its mean, darkest and brightest. Esc puts the tool away.',
  'draw-region':
    'Click around what moves with the screen. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'draw-keep-out':
    'Click around what covers it. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'draw-shape':
    'Click around what stands in front. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'draw-area':
    'Click around where spilled light is worked on in its own way. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'draw-cast':
    'Click around what the screen lights up. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'draw-reflection':
    'Click around what the screen mirrors. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'draw-fix':
    'Click around what is to be painted out. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'brush-fix': 'Paint over what is to go; let go to make it a fix. Esc puts the brush away.',
  'draw-straight':
    'Click four or more places along something that is straight in the world, the nearer the picture’s border the better. Enter ends it, Esc gives up.',
  'draw-plane':
    'Click around points that lie in the screen’s plane. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'draw-split':
    'Click around where the other picture comes first. The first point or Enter closes it, Backspace takes a point back, Esc gives up.',
  'draw-join-region':
    'Click around what is to lie on itself: what stands still in the world. The first point or Enter closes it, Esc gives up.',
  'pick-colour': 'Drag a square over the screen’s colour. Esc puts the tool away.',
  'put-point': 'Click what stands still and is to be followed. Esc puts the tool away.',
  'place-corners': 'Click the four corners in the order of the content. Backspace takes one back, Esc gives up.',
} as const;
const shot = useShot();
const doc = useDocument();
const track = useTrack();
const placed = usePlacedCorners();
const head = usePlayhead();
const bench = useBench();
const desk = useBoard();
const others = useOtherSurfaces();
const viewing = useViewing();
const notices = useNotices();
const renders = useRenders();
const disagreement = useDisagreement();
const box = useTemplateRef<HTMLDivElement>('box');
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const { width, height } = useElementSize(box);
const view = ref<ViewTransform>({ scale: 1, aspect: 1, x: 0, y: 0 });
const { picture, plain, shows } = storeToRefs(usePictureOnShow());
/** The frame by the look that was kept, where the one of now is held against it. */
const kept = shallowRef<ImageBitmap | null>(null);
/** While both are shown in turns: whether it is the other one's. */
const other = ref(false);
/** Bytes of decoded pictures that are kept at hand, whatever the length of the shot. */
const proxies = new FrameCache(256 << 20);
const exacts = new FrameCache(128 << 20);
/** Rendered frames: these play. */
const rendered = new FrameCache(256 << 20);
/** Frames fetched the way the hand is going, and the other way, since a hand that looks closely goes to and fro. */
const AHEAD = 8;
const BEHIND = 2;
const AT_ONCE = 3;
/** Stops that the picture on show was brightened by on the way here, from deeper codes than it has. */
const baked = ref(0);
const facts = computed(() => shot.plate?.facts ?? null);
/** The surface's unit square to the page, where it is known on this frame. */
const placeMap = computed(() => {
  const quad = placed.cornersAt(head.frame);
  const map = quad && homographyBetweenQuads(UNIT_SQUARE, quad);
  return (
    map &&
    compose([view.value.scale * view.value.aspect, 0, view.value.x, 0, view.value.scale, view.value.y, 0, 0, 1], map)
  );
});
/** Width of a plate pixel over its height. */
const aspect = computed(() => (facts.value ? facts.value.pixelAspect[0] / facts.value.pixelAspect[1] : 1));
/** Outlines of fixes are shown where one is at them. */
const paintsOut = computed(
  () => bench.picked?.list === 'fixes' || bench.frontView === 'cleaned' || bench.frontView === 'plate',
);
const wantsCard = computed(() => bench.step === 'seat' && (doc.document?.testCard ?? false));
const wantsResult = computed(
  () =>
    wantsCard.value ||
    viewing.wipe !== null ||
    viewing.compare !== 'none' ||
    (bench.showResult && ['content', 'front', 'blend', 'send'].includes(bench.step)),
);
/** The kept look where it is looked at; null where it is not. */
const keptLook = computed(() =>
  viewing.against === 'kept' && (viewing.wipe !== null || viewing.compare !== 'none') ? viewing.kept : null,
);
let settleTimer = 0;
let ask = 0;
let paintedFrame = -1;
let settled = false;

/** The view as it was fitted last: where it is another, a hand has chosen it. */
let fitted: ViewTransform | null = null;
function fit(): void {
  if (facts.value && width.value > 0)
    view.value = fitted = fitView(width.value, height.value, facts.value.width, facts.value.height, aspect.value);
}
watch([() => shot.plate?.id, aspect], fit, { immediate: true });
watch([width, height], ([wide, high], [wasWide, wasHigh]) => {
  const same = fitted && (['scale', 'x', 'y'] as const).every((key) => view.value[key] === fitted![key]);
  // What was looked at closely stays in the middle when what is around the picture takes more or less room.
  if (same || !fitted || !(wasWide > 0)) fit();
  else view.value = { ...view.value, x: view.value.x + (wide - wasWide) / 2, y: view.value.y + (high - wasHigh) / 2 };
});
watch(
  () => bench.viewRequest,
  (request) => {
    if (!request) return;
    if (request.kind === 'fit') fit();
    else if (request.kind === 'actual')
      view.value = zoomAt(view.value, 1 / view.value.scale, width.value / 2, height.value / 2);
    else if (request.kind === 'zoom')
      view.value = zoomAt(view.value, request.factor, width.value / 2, height.value / 2);
    else {
      const scale = 8;
      view.value = {
        scale,
        aspect: aspect.value,
        x: width.value / 2 - request.x * scale * aspect.value,
        y: height.value / 2 - request.y * scale,
      };
    }
    bench.viewRequest = null;
  },
);

async function load(): Promise<void> {
  const plate = shot.plate;
  if (!plate) {
    picture.value = null;
    return;
  }
  const mine = ++ask;
  const frame = head.frame;
  clearTimeout(settleTimer);
  await notices.guard(async () => {
    const [composed, proxy, before] = await Promise.all([
      finished(frame, false),
      proxies.get(plate, frame, 'jpg'),
      finished(frame, false, keptLook.value),
    ]);
    if (mine === ask) {
      [paintedFrame, settled] = [frame, false];
      picture.value = composed ?? proxy;
      plain.value = proxy;
      kept.value = before;
      baked.value = 0;
      shows.value = composed ? 'result' : 'plate';
    }
  });
  // Of a frame that was replaced meanwhile the newer one tells: playing would run ahead of what is painted.
  if (mine === ask) head.markPainted();
  if (!wantsResult.value) fetchAhead(mine, plate, neighbours(frame));
  else
    for (const next of neighbours(frame).slice(0, head.playing ? AHEAD : AT_ONCE))
      if (renders.keyAt(next) && rendered.busy < AT_ONCE)
        void rendered.at(finishedUrl(renders.keyAt(next)!)).catch(() => {});
  if (mine === ask && !head.playing) settleTimer = window.setTimeout(() => void settle(mine, frame), SETTLE_MS);
}
/** The same frame from exact pixels and at final quality, once nothing moves. */
async function settle(mine: number, frame: number): Promise<void> {
  const plate = shot.plate;
  if (!plate) return;
  await notices.guard(async () => {
    const stops = shows.value === 'plate' && plate.facts!.bits > 8 ? viewing.exposure : 0;
    const [composed, exact, before] = await Promise.all([
      finished(frame, true),
      exacts.get(plate, frame, 'png', stops),
      finished(frame, true, keptLook.value),
    ]);
    if (mine !== ask) return;
    kept.value = before;
    if (stops === 0) plain.value = exact;
    settled = true;
    if (composed || shows.value === 'plate') picture.value = composed ?? exact;
    baked.value = composed ? 0 : stops;
  });
}
/** The neighbours are fetched before they are asked for, nearest first, each once, for as long as this frame is the one on show. */
function fetchAhead(mine: number, plate: PictureSource, waiting: number[]): void {
  while (mine === ask && waiting.length > 0 && proxies.busy < AT_ONCE)
    void proxies
      .get(plate, waiting.shift()!, 'jpg')
      .catch(() => {})
      .then(() => fetchAhead(mine, plate, waiting));
}
function neighbours(frame: number): number[] {
  const steps = Array.from({ length: AHEAD }, (_, i) => (i < BEHIND ? [i + 1, -i - 1] : [i + 1])).flat();
  return steps.map((step) => frame + step * head.heading).filter((next) => next >= 0 && next <= head.last);
}
/** Pixels of the screen that the plate's width takes. */
const onScreen = () => facts.value!.width * view.value.scale * view.value.aspect * (window.devicePixelRatio || 1);
async function finished(frame: number, exact: boolean, look?: Look | null): Promise<ImageBitmap | null> {
  if (!wantsResult.value || look === null) return null;
  const made =
    exact || look || wantsCard.value || (bench.step === 'front' && bench.frontView !== 'finished')
      ? null
      : renders.keyAt(frame);
  // Should it have been cleared away meanwhile, the frame is composed as any other.
  if (made) {
    const picture = await rendered.at(finishedUrl(made)).catch(() => null);
    if (picture) return picture;
  }
  const request = shotRequest({
    frame,
    others: others.loaded,
    card: wantsCard.value,
    exact,
    onScreen: onScreen(),
    view: bench.step === 'front' ? bench.frontView : 'finished',
    look,
  });
  const composed = request && (await composePreview(request, look ? 'kept' : 'shown'));
  if (composed && !look) bench.unfilled = { frame, fixes: composed.unfilled };
  return composed?.bitmap ?? null;
}
watch(
  [
    () => head.frame,
    () => shot.plate?.id,
    () => shot.plate?.view,
    wantsResult,
    wantsCard,
    () => doc.document,
    () => shot.content?.id,
    () => shot.content?.state,
    () => bench.step,
    () => bench.frontView,
    () => others.loaded,
    keptLook,
  ],
  () => void load(),
  { immediate: true },
);
watch(
  () => head.playing,
  (on) => !on && void load(),
);
// Rows of a running follow arrive many times a second; only those of the frame on show change its picture.
watch(
  [() => head.frame, () => track.byFrame.get(head.frame)],
  ([frame, row], [before, old]) => wantsResult.value && frame === before && row !== old && void load(),
);

watch(
  () => view.value.scale,
  (scale) => (bench.scale = scale),
  { immediate: true },
);
watch(
  () => viewing.exposure,
  () => {
    if ((facts.value?.bits ?? 8) > 8) void load();
  },
);
let due = 0;
watch(
  [
    picture,
    plain,
    view,
    width,
    height,
    baked,
    () => viewing.exposure,
    () => viewing.gamma,
    () => viewing.channel,
    () => viewing.wipe,
    () => viewing.compare,
    () => viewing.against,
    other,
  ],
  () => {
    cancelAnimationFrame(due);
    due = requestAnimationFrame(paint);
  },
);
function paint(): void {
  const under = shows.value !== 'result' ? null : viewing.against === 'kept' ? kept.value : plain.value;
  const painted = picture.value && {
    picture: (other.value && under) || picture.value,
    under,
    wipe: viewing.compare === 'none' ? viewing.wipe : null,
    difference: viewing.compare === 'difference' ? DIFFERENCE_GAIN : 0,
    passing: !settled,
  };
  const look = { exposure: viewing.exposure - baked.value, gamma: viewing.gamma, channel: viewing.channel };
  if (!canvas.value) return;
  paintPicture(canvas.value, width.value, height.value, view.value, painted, facts.value, look);
  // For whoever measures from outside: which frame stands on the screen, whether in full, and which of both in turns.
  box.value!.dataset.painted = `${paintedFrame}${painted ? (settled ? ' exact' : ' light') : ''}`;
  box.value!.dataset.turn =
    viewing.compare !== 'flicker' ? '' : painted && painted.picture !== picture.value ? 'other' : 'now';
}
/** Both in turns, slowly enough to look. */
const TURN_MS = 450;
let turns = 0;
watch(
  () => viewing.compare,
  (compare) => {
    clearInterval(turns);
    other.value = false;
    if (compare === 'flicker') turns = window.setInterval(() => (other.value = !other.value), TURN_MS);
  },
  { immediate: true },
);
const glass = computed(
  () =>
    bench.dragPoint ??
    (bench.pointer && (bench.tool === 'place-corners' || isDrawing(bench.tool)) ? bench.pointer : null),
);
useEventListener(window, 'keydown', (event) => {
  if (event.key === 'Escape' && ['measure', 'pick-colour', 'put-point'].includes(bench.tool)) {
    bench.tool = 'look';
    bench.measured = null;
  }
});

function onWheel(event: WheelEvent): void {
  const rect = box.value!.getBoundingClientRect();
  view.value = zoomAt(
    view.value,
    Math.exp(-event.deltaY * (event.ctrlKey ? 0.01 : 0.0015)),
    event.clientX - rect.left,
    event.clientY - rect.top,
  );
}
let panFrom: { x: number; y: number } | null = null;
function onDown(event: PointerEvent): void {
  if (event.button === 1 || (event.button === 0 && bench.tool === 'look')) {
    panFrom = { x: event.clientX - view.value.x, y: event.clientY - view.value.y };
    box.value!.setPointerCapture(event.pointerId);
  }
}
function onMove(event: PointerEvent): void {
  const rect = box.value!.getBoundingClientRect();
  const [x, y] = toPlate(view.value, event.clientX - rect.left, event.clientY - rect.top);
  bench.pointer = { x, y };
  if (panFrom) view.value = { ...view.value, x: event.clientX - panFrom.x, y: event.clientY - panFrom.y };
}
onBeforeUnmount(() => {
  clearTimeout(settleTimer);
  clearInterval(turns);
});
</script>

<template>
  <div
    ref="box"
    class="viewer"
    :class="{ drawing: bench.tool !== 'look' }"
    :data-altered-view="viewing.altered"
    role="img"
    :data-shows="shows"
    :data-frame="head.frame"
    :aria-label="`Frame ${head.frame} of the plate`"
    @wheel.prevent="onWheel"
    @pointerdown="onDown"
    @pointermove="onMove"
    @pointerup="panFrom = null"
    @pointerleave="bench.pointer = null"
  >
    <canvas ref="canvas" />
    <template v-if="facts && width > 0">
      <DisagreementOverlay
        v-if="bench.step === 'follow' && disagreement.view !== 'off'"
        :view="view"
        :width="width"
        :height="height"
      />
      <svg v-show="!bench.steadied" class="overlay" :width="width" :height="height">
        <defs>
          <pattern id="hatch-region" width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <rect width="9" height="9" fill="rgb(255 255 255 / 6%)" />
            <line x1="0" y1="0" x2="0" y2="9" stroke="rgb(255 255 255 / 30%)" stroke-width="1.4" />
          </pattern>
          <pattern
            id="hatch-keep-out"
            width="7"
            height="7"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(-45)"
          >
            <rect width="7" height="7" fill="rgb(0 0 0 / 20%)" />
            <line x1="0" y1="0" x2="0" y2="7" stroke="rgb(255 255 255 / 70%)" stroke-width="3" stroke-dasharray="3 2" />
          </pattern>
        </defs>
        <StraightLines v-if="bench.step === 'plate' && bench.showOutlines" :view="view" />
        <LensGrid v-if="bench.step === 'plate' && bench.showOutlines" :view="view" />
        <OutlineOverlay
          v-if="bench.step === 'follow' && bench.followPage === 'region' && bench.showOutlines"
          :view="view"
          :lists="['regions', 'keepOut']"
        />
        <template v-if="bench.step === 'follow' && bench.followPage === 'scene' && bench.showOutlines">
          <OutlineOverlay :view="view" :lists="['keepOut']" />
          <ScenePoints :view="view" :width="width" :height="height" />
          <ScenePlaneHandles :view="view" />
        </template>
        <ShapeEdges v-if="bench.step === 'front' && bench.showOutlines" :view="view" />
        <OutlineOverlay
          v-if="bench.step === 'front' && bench.showOutlines"
          :view="view"
          :lists="paintsOut ? ['shapes', 'areas', 'fixes'] : ['shapes', 'areas']"
        />
        <FixSource v-if="bench.step === 'front' && bench.showOutlines" :view="view" />
        <OutlineOverlay
          v-if="bench.step === 'blend' && bench.showOutlines && (bench.picked || bench.tool !== 'look')"
          :view="view"
          :lists="['cast', 'reflection']"
        />
        <template v-if="bench.step === 'send' && bench.showOutlines && doc.document?.loop">
          <JoinGhost :view="view" />
          <OutlineOverlay :view="view" :lists="['split']" />
          <SplitLine :view="view" :width="width" :height="height" />
          <JoinRegion :view="view" />
        </template>
        <MeasuredPlaces v-if="['front', 'blend'].includes(bench.step) && bench.reason" :view="view" />
        <PlaceHandles v-if="bench.step === 'content' && bench.placeOpen && placeMap" :map="placeMap" />
        <MeshHandles v-if="bench.step === 'content' && bench.meshOpen" :view="view" />
        <SurfaceOverlay v-if="bench.showOutlines && ['follow', 'seat'].includes(bench.step)" :view="view" />
        <PointBoxes
          v-if="bench.step === 'follow' && bench.followPage === 'points' && bench.showOutlines"
          :view="view"
        />
        <KeyHandles v-if="bench.step === 'follow' && bench.followPage === 'keys' && bench.showOutlines" :view="view" />
        <SeatHandles v-if="bench.step === 'seat' && bench.showOutlines && !bench.flat" :view="view" />
        <PlaceCorners v-if="bench.tool === 'place-corners'" :view="view" :width="width" :height="height" />
        <MeasureBox
          v-if="bench.tool === 'measure' || bench.tool === 'pick-colour'"
          :view="view"
          :width="width"
          :height="height"
        />
        <WipeBorder v-if="viewing.wipe" :view="view" :width="width" :height="height" />
        <BrushStroke
          v-if="bench.tool === 'brush-fix'"
          :view="view"
          :width="width"
          :height="height"
          @painted="(outline) => addFix(outline, head.frame)"
        />
        <DrawOutline v-if="isDrawing(bench.tool)" :view="view" :width="width" :height="height" />
      </svg>
      <SteadyView
        v-if="bench.steadied && !(bench.flat && bench.step === 'seat')"
        :view="view"
        :width="width"
        :height="height"
      />
      <FlatView v-if="bench.flat && bench.step === 'seat'" :width="width" :height="height" />
      <ContentFlat v-if="bench.step === 'content' && bench.placeOpen && bench.flat" :width="width" :height="height" />
      <BoardStage v-if="bench.step === 'content' && desk.open && desk.board" :width="width" :height="height" />
      <PointerGlass v-if="glass" :view="view" :at="glass" :width="width" :height="height" />
      <p v-if="bench.tool !== 'look'" class="hint">{{ HINTS[bench.tool] }}</p>
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
  background: rgb(23 25 27 / 82%);
  color: #fff;
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
  background: rgb(23 25 27 / 82%);
  color: #fff;
  font-size: 13px;
  padding: 3px 10px;
}
.overlay {
  position: absolute;
  inset: 0;
  pointer-events: none;
}
</style>
