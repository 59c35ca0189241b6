<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { computed, useTemplateRef } from 'vue';
import { DOUBTFUL_BELOW } from '../rail/readings.ts';
import { frameUrl } from '../api/urls.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { errorHeight, errorTop, frameAt, frameLeft, frameMiddle, labelStep, type LedgerScale } from './ledger-scale.ts';

/** The strip of time under the picture: every row lines up with the frames. Clicking anywhere goes there. */
const LABELS = 84;
const shot = useShot();
const head = usePlayhead();
const sheet = useTemplateRef<HTMLDivElement>('sheet');
const { width } = useElementSize(sheet);
const scale = computed<LedgerScale>(() => ({ frames: shot.frames, left: LABELS, width: Math.max(10, width.value - LABELS - 16) }));
const first = computed(() => shot.plate?.facts?.firstFrameNumber ?? 0);
const marks = computed(() => {
  const step = labelStep(scale.value);
  const small = Math.max(1, step / 5);
  return Array.from({ length: Math.ceil(shot.frames / small) }, (_, i) => Math.round(i * small)).map((frame) => ({ frame, x: frameLeft(scale.value, frame), labelled: frame % step === 0 }));
});
const thumbs = computed(() => {
  const facts = shot.plate?.facts;
  if (!facts) return [];
  const size = (36 * facts.width) / facts.height;
  const count = Math.max(1, Math.min(shot.frames, Math.floor(scale.value.width / (size + 2))));
  return Array.from({ length: count }, (_, i) => {
    const frame = Math.floor(((i + 0.5) * shot.frames) / count);
    return { frame, x: LABELS + (i * scale.value.width) / count, width: scale.value.width / count - 2, url: frameUrl(shot.plate!, frame, 'jpg') };
  });
});
const top = computed(() => errorTop(shot.rows.map((row) => row.error ?? 0)));
const bars = computed(() => shot.rows.map((row) => {
  const x = frameLeft(scale.value, row.frame);
  const lost = row.homography === null;
  return {
    frame: row.frame, x, width: Math.max(1, frameLeft(scale.value, row.frame + 1) - x - 1), lost, doubtful: lost || row.confidence < DOUBTFUL_BELOW,
    height: lost ? 1 : errorHeight(row.error ?? 0, top.value), certainty: row.confidence, stale: row.runKey !== shot.runKey,
    says: lost ? `frame ${row.frame}: ${row.lost ?? 'lost'}` : `frame ${row.frame}: ${(row.error ?? 0).toFixed(2)} px, certainty ${row.confidence.toFixed(2)}`,
  };
}));
const renderedSpans = computed(() => {
  const spans: { x: number; width: number }[] = [];
  let start = -1;
  for (let frame = 0; frame <= shot.frames; frame++) {
    const there = frame < shot.frames && shot.rendered.frames.has(frame);
    if (there && start < 0) start = frame;
    if (!there && start >= 0) {
      spans.push({ x: frameLeft(scale.value, start), width: frameLeft(scale.value, frame) - frameLeft(scale.value, start) });
      start = -1;
    }
  }
  return spans;
});
const cursor = computed(() => frameMiddle(scale.value, head.frame));
const reference = computed(() => (shot.document && (shot.document.regions.length > 0 || shot.document.corners) ? frameMiddle(scale.value, shot.document.referenceFrame) : null));

let scrubbing = false;
function goTo(event: PointerEvent): void {
  const rect = sheet.value!.getBoundingClientRect();
  head.playing = false;
  head.goTo(frameAt(scale.value, event.clientX - rect.left));
}
function onDown(event: PointerEvent): void {
  if (event.button !== 0) return;
  scrubbing = true;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  goTo(event);
}
function onKey(event: KeyboardEvent): void {
  const by = { ArrowLeft: -1, ArrowRight: 1, PageUp: -10, PageDown: 10, Home: -Infinity, End: Infinity }[event.key];
  if (by === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  head.playing = false;
  head.goTo(by === Infinity ? head.last : by === -Infinity ? 0 : head.frame + by);
}
</script>

<template>
  <div
    ref="sheet" class="ledger" role="slider" tabindex="0" aria-label="Frame" :aria-valuemin="0" :aria-valuemax="head.last" :aria-valuenow="head.frame"
    @pointerdown="onDown" @pointermove="scrubbing && goTo($event)" @pointerup="scrubbing = false" @keydown="onKey"
  >
    <svg v-if="shot.frames > 0" :width="width" height="178">
      <g class="labels"><text x="10" y="21">frame</text><text x="10" y="60">plate</text><text x="10" y="103">error px</text><text x="10" y="138">certainty</text><text x="10" y="163">rendered</text></g>
      <g class="ruler">
        <line v-for="m in marks" :key="m.frame" :x1="m.x" :x2="m.x" :y1="m.labelled ? 20 : 26" y2="31" />
        <text v-for="m in marks.filter((k) => k.labelled)" :key="`t${m.frame}`" :x="m.x + 3" y="20">{{ m.frame + first }}</text>
      </g>
      <image v-for="t in thumbs" :key="t.x" :href="t.url" :x="t.x" y="37" :width="t.width" height="36" preserveAspectRatio="xMidYMid slice" />
      <g class="error">
        <line class="base" :x1="scale.left" :x2="scale.left + scale.width" y1="116" y2="116" />
        <line class="half" :x1="scale.left" :x2="scale.left + scale.width" y1="99" y2="99" />
        <text v-if="bars.length" class="scale" :x="scale.left - 6" y="89" text-anchor="end">{{ top }}</text>
        <g v-for="b in bars" :key="b.frame" :class="{ doubtful: b.doubtful, stale: b.stale }">
          <rect class="bar" :x="b.x" :width="b.width" :y="116 - 34 * b.height" :height="34 * b.height"><title>{{ b.says }}</title></rect>
          <rect v-if="!b.lost" class="certainty" :x="b.x" :width="b.width" y="127" height="14" :style="{ opacity: 0.12 + 0.78 * b.certainty }" />
          <path v-else class="lost" :d="`M${b.x} 127 l${b.width} 14 m0 -14 l${-b.width} 14`" />
        </g>
      </g>
      <rect class="track" :x="scale.left" :width="scale.width" y="152" height="12" />
      <rect v-for="s in renderedSpans" :key="s.x" class="rendered" :x="s.x" :width="s.width" y="152" height="12" />
      <g v-if="reference !== null" class="reference"><line :x1="reference" :x2="reference" y1="30" y2="168" /><text :x="reference" y="177" text-anchor="middle">reference</text></g>
      <g class="cursor"><line :x1="cursor" :x2="cursor" y1="18" y2="170" /><rect :x="cursor - 17" y="3" width="34" height="17" rx="2" /><text :x="cursor" y="16" text-anchor="middle">{{ head.frame + first }}</text></g>
    </svg>
    <p v-else class="quiet empty">The ledger fills as soon as a plate is in: a row for the pictures, one for how sure the track is, one for what is rendered.</p>
  </div>
</template>

<style scoped>
.ledger { height: 182px; background: var(--paper); border-top: 1px solid var(--line); overflow: hidden; user-select: none; touch-action: none; }
.ledger:focus-visible { outline-offset: -2px; }
.empty { padding: 22px 16px; }
text { font-size: 13px; fill: var(--ink-soft); font-variant-numeric: tabular-nums; }
.ruler line { stroke: var(--ink-soft); stroke-width: 1; }
.base, .half, .track { stroke: var(--line); fill: none; }
.half { stroke-dasharray: 2 4; }
.bar { fill: var(--ink); }
.certainty { fill: var(--ink); }
.doubtful .bar { fill: var(--alarm); }
.stale .bar, .stale .certainty { fill: var(--ink-soft); opacity: 0.4; }
.lost { stroke: var(--alarm); stroke-width: 1.4; fill: none; }
.rendered { fill: var(--ink-soft); }
.reference line { stroke: var(--ink); stroke-dasharray: 1.5 3; }
.cursor line { stroke: var(--accent); stroke-width: 1.6; }
.cursor rect { fill: var(--accent); }
.cursor text { fill: var(--on-accent); font-weight: 660; }
</style>
