<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { quantile } from '../../../core/base/image/statistics.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { useTrack } from '../stores/track.ts';
import { keyedParts } from '../steps/blend/look-keys.ts';
import { frameName } from './frame-name.ts';
import LedgerCanvas from './LedgerCanvas.vue';
import LedgerContent from './LedgerContent.vue';
import LedgerHandKeys from './LedgerHandKeys.vue';
import LedgerLookKeys from './LedgerLookKeys.vue';
import LedgerMeasured from './LedgerMeasured.vue';
import LedgerKeys from './LedgerKeys.vue';
import LedgerLayers from './LedgerLayers.vue';
import LedgerSpans from './LedgerSpans.vue';
import {
  errorTop,
  frameAt,
  frameMiddle,
  moved,
  reveal,
  wholeScale,
  zoomTime,
  type LedgerScale,
} from './ledger-scale.ts';

/** The strip of time under the picture: every row lines up with the frames. A press anywhere goes there; Ctrl and the wheel zoom in time. */
const LABELS = 84;
const shot = useShot();
const doc = useDocument();
const track = useTrack();
const head = usePlayhead();
const workspace = useWorkspace();
const sheet = useTemplateRef<HTMLDivElement>('sheet');
const { width } = useElementSize(sheet);
const useTimecode = ref(false);
const scale = ref<LedgerScale>(wholeScale(1, LABELS, 100));

watch(
  [width, () => shot.frames],
  () => {
    scale.value = wholeScale(shot.frames, LABELS, Math.max(10, width.value - LABELS - 16));
  },
  { immediate: true },
);
watch(
  () => head.frame,
  (frame) => (scale.value = reveal(scale.value, frame)),
);
watch(scale, (now) => (workspace.ledgerScale = now), { immediate: true });

const facts = computed(() => shot.plate?.facts ?? null);
const naming = computed(() => ({
  first: shot.firstNumber,
  timecode: facts.value?.timecode ?? null,
  rate: facts.value?.rate ?? ([25, 1] as const),
  useTimecode: useTimecode.value,
}));
const nameOf = (frame: number) => frameName(frame, naming.value);
const checking = computed(() => workspace.step === 'plate');
const following = computed(() => workspace.step === 'follow');
/** A clip's time takes a row while it is placed; a board's keys lie over the row that is there. */
const contentRuns = computed(
  () => workspace.step === 'content' && !doc.document?.look.board && (shot.content?.facts?.frames ?? 1) > 1,
);
const lookKeyed = computed(
  () => workspace.step === 'blend' && doc.document !== null && keyedParts(doc.document.look).length > 0,
);
const labels = computed(() =>
  checking.value
    ? ['blur px', 'sharpness', 'marks']
    : following.value
      ? ['error px', workspace.followPage === 'spans' ? 'spans' : 'keys', 'certainty']
      : [
          'error px',
          contentRuns.value
            ? 'content'
            : workspace.step === 'blend' && workspace.reason
              ? 'measured'
              : workspace.step === 'blend' && lookKeyed.value
                ? 'keys'
                : 'certainty',
          'rendered',
        ],
);
const bounds = computed(() => new Map(track.rows.map((row) => [row.frame, maximum(track.boundsAt(row.frame))])));
const top = computed(() =>
  errorTop(track.rows.map((row) => Math.max(row.error ?? 0, bounds.value.get(row.frame) ?? 0))),
);
const blurTop = computed(
  () =>
    [4, 8, 16, 32, 64].find(
      (t) =>
        t >=
        quantile(
          (shot.check?.rows ?? []).map((r) => r.blur),
          1,
        ),
    ) ?? 128,
);
const says = computed(() => {
  const row = track.byFrame.get(head.frame);
  const check = shot.check?.rows[head.frame];
  const motion = row
    ? row.homography
      ? `error ${(row.error ?? 0).toFixed(2)} px, certainty ${row.confidence.toFixed(2)}`
      : (row.lost ?? 'lost')
    : '';
  return [
    nameOf(head.frame),
    checking.value && check ? `blur ${check.blur.toFixed(1)} px, sharpness ${check.sharpness.toFixed(2)}` : motion,
  ]
    .filter(Boolean)
    .join(': ');
});

const maximum = (values: readonly number[] | null) => values && Math.max(...values);
let scrubbing = false;
function goTo(event: PointerEvent): void {
  const rect = sheet.value!.getBoundingClientRect();
  head.playing = false;
  head.goTo(frameAt(scale.value, event.clientX - rect.left));
}
function onDown(event: PointerEvent): void {
  if (event.button !== 0 || (event.target as Element).closest('button')) return;
  scrubbing = true;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  goTo(event);
}
function onWheel(event: WheelEvent): void {
  const x = event.clientX - sheet.value!.getBoundingClientRect().left;
  if (event.ctrlKey || event.metaKey) scale.value = zoomTime(scale.value, Math.exp(-event.deltaY * 0.004), x);
  else
    scale.value = moved(
      scale.value,
      scale.value.from + ((event.deltaX || event.deltaY) * scale.value.across) / scale.value.width,
    );
}
function onKey(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  const by = { ArrowLeft: -1, ArrowRight: 1, PageUp: -10, PageDown: 10, Home: -Infinity, End: Infinity }[event.key];
  const zoom = { '+': 1.5, '=': 1.5, '-': 1 / 1.5 }[event.key];
  if (by === undefined && zoom === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  if (zoom !== undefined) {
    scale.value = zoomTime(scale.value, zoom, frameMiddle(scale.value, head.frame));
    return;
  }
  head.playing = false;
  head.goTo(
    by === Infinity
      ? head.last
      : by === -Infinity
        ? 0
        : head.frame + by! * (event.shiftKey && Math.abs(by!) === 1 ? 10 : 1),
  );
}
</script>

<template>
  <div
    ref="sheet"
    class="ledger"
    role="slider"
    tabindex="0"
    aria-label="Frame"
    :aria-valuemin="shot.firstNumber"
    :aria-valuemax="head.last + shot.firstNumber"
    :aria-valuenow="head.frame + shot.firstNumber"
    :aria-valuetext="says"
    :data-from="scale.from.toFixed(2)"
    :data-across="scale.across.toFixed(2)"
    @pointerdown="onDown"
    @pointermove="scrubbing && goTo($event)"
    @pointerup="scrubbing = false"
    @wheel.prevent="onWheel"
    @keydown="onKey"
  >
    <template v-if="shot.frames > 0">
      <LedgerCanvas
        v-bind="{ scale, width, nameOf, useTimecode, checking, following, bounds, blurTop }"
        :error-top="top"
      />
      <LedgerHandKeys v-if="following && workspace.followPage === 'keys'" :scale="scale" :name-of="nameOf" />
      <LedgerSpans v-else-if="following && workspace.followPage === 'spans'" :scale="scale" :name-of="nameOf" />
      <LedgerKeys v-else-if="following" :scale="scale" :name-of="nameOf" :lists="['regions', 'keepOut']" />
      <LedgerLayers
        v-else-if="workspace.step === 'content' && doc.document?.look.board"
        :scale="scale"
        :name-of="nameOf"
      />
      <LedgerContent v-else-if="contentRuns" :scale="scale" :name-of="nameOf" />
      <LedgerKeys
        v-else-if="workspace.step === 'front'"
        :scale="scale"
        :name-of="nameOf"
        :lists="['shapes', 'areas', 'fixes']"
      />
      <LedgerKeys
        v-else-if="workspace.step === 'send' && doc.document?.loop?.split?.shape"
        :scale="scale"
        :name-of="nameOf"
        :lists="['split']"
      />
      <LedgerLookKeys v-else-if="lookKeyed" :scale="scale" :name-of="nameOf" />
      <LedgerMeasured v-if="workspace.step === 'blend'" :scale="scale" />
      <span class="label" style="top: 10px">
        <button
          v-if="facts?.timecode"
          class="name"
          type="button"
          :title="useTimecode ? 'Show frame numbers' : 'Show the timecode'"
          @click="useTimecode = !useTimecode"
        >
          {{ useTimecode ? 'timecode' : 'frame' }}
        </button>
        <template v-else>frame</template>
      </span>
      <span class="label" style="top: 46px">plate</span>
      <span class="label" style="top: 89px">{{ labels[0] }}</span
      ><span class="label top-value" style="top: 76px">{{
        checking ? (shot.check?.done ? blurTop : '') : track.rows.length ? top : ''
      }}</span>
      <span class="label" style="top: 124px">{{ labels[1] }}</span>
      <span class="label" style="top: 147px">{{ labels[2] }}</span>
      <span v-if="scale.across < shot.frames - 0.5" class="whole"
        ><button
          class="use-button"
          type="button"
          title="Show the whole time (−)"
          @click="scale = wholeScale(shot.frames, LABELS, scale.width)"
        >
          whole
        </button></span
      >
    </template>
    <p v-else class="quiet empty">
      The ledger fills as soon as a plate is in: a row for the pictures, one for how hard each frame is, one for how
      sure the track is.
    </p>
  </div>
</template>

<style scoped>
.ledger {
  position: relative;
  height: 182px;
  background: var(--paper);
  border-top: 1px solid var(--line);
  overflow: hidden;
  user-select: none;
  touch-action: none;
}
.ledger:focus-visible {
  outline-offset: -2px;
}
.empty {
  padding: 22px 16px;
}
.label {
  position: absolute;
  left: 10px;
  font-size: 13px;
  line-height: 16px;
  color: var(--ink-soft);
  pointer-events: none;
}
.top-value {
  left: auto;
  right: calc(100% - 79px);
}
.name {
  pointer-events: auto;
  border: 0;
  padding: 0;
  background: none;
  color: var(--accent);
  font-size: 13px;
  text-decoration: underline dotted;
}
.whole {
  position: absolute;
  right: 4px;
  bottom: 3px;
}
</style>
