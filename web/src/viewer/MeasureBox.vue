<script setup lang="ts">
import { clamp } from '../../../core/base/geometry/clamp.ts';
import { computed, ref, watch } from 'vue';
import { tintOf } from '../../../core/picture/blend/white-point.ts';
import { luminanceOfLight } from '../../../core/base/image/primaries.ts';
import { codeToLight, lightToCode } from '../../../core/base/image/transfer.ts';
import type { FrameValues } from '../../../core/base/schemas/types.ts';
import { call } from '../api/client.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { useNotices } from '../stores/notices.ts';
import { usePictureOnShow } from '../stores/picture-on-show.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useLook } from '../steps/blend/use-look.ts';
import { toPage, toPlate } from './view-transform.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { useViewport } from './viewport.ts';

/** A dragged square of the plate: its mean, darkest and brightest, from the plate's own codes; and the mean of the finished picture. */
const viewport = useViewport();
const shot = useShot();
const doc = useDocument();
const { change } = useLook();
const head = usePlayhead();
const workspace = useWorkspace();
const notices = useNotices();
const onShow = usePictureOnShow();
const corner = ref<[number, number] | null>(null);
const values = ref<FrameValues | null>(null);
const after = ref<[number, number, number] | null>(null);
const page = computed(() => {
  if (!workspace.measured) return null;
  const { x, y, width, height } = workspace.measured;
  const [left, top] = toPage(viewport.view, [x, y]);
  const [right, bottom] = toPage(viewport.view, [x + width, y + height]);
  return { left, top, width: right - left, height: bottom - top };
});

function plateAt(event: PointerEvent): [number, number] {
  const rect = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  return toPlate(viewport.view, event.clientX - rect.left, event.clientY - rect.top);
}
function onDown(event: PointerEvent): void {
  if (event.button !== 0) return;
  event.stopPropagation();
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  corner.value = plateAt(event);
  stretch(event);
}
function stretch(event: PointerEvent): void {
  const facts = shot.plate?.facts;
  if (!corner.value || !facts) return;
  const to = plateAt(event);
  const left = clamp(Math.floor(Math.min(corner.value[0], to[0])), 0, facts.width - 1);
  const top = clamp(Math.floor(Math.min(corner.value[1], to[1])), 0, facts.height - 1);
  workspace.measured = {
    x: left,
    y: top,
    width: Math.max(1, clamp(Math.ceil(Math.max(corner.value[0], to[0])), 0, facts.width) - left),
    height: Math.max(1, clamp(Math.ceil(Math.max(corner.value[1], to[1])), 0, facts.height) - top),
  };
}

watch(
  [() => workspace.measured, () => head.frame, () => onShow.picture, corner],
  async () => {
    const { measured } = workspace;
    if (!measured || corner.value || !shot.plate) return;
    after.value = onShow.shows === 'result' ? onShow.meanCodes(measured, shot.plate.facts!) : null;
    const { x, y, width, height } = measured;
    values.value =
      (await notices.guard(() =>
        call(
          'GET',
          `/media/${shot.plate!.id}/frames/${head.frame}/values?x=${x}&y=${y}&width=${width}&height=${height}`,
          'frameValues',
        ),
      )) ?? null;
  },
  { immediate: true },
);

/** The values' panel, px: on Blend with what can be taken from it. */
const high = computed(() => (workspace.step === 'blend' ? 188 : 132));
const lightOf = (codes: readonly number[]) => codes.map((v) => codeToLight(v)) as [number, number, number];
function takeLevel(name: 'black' | 'white', codes: readonly number[]): void {
  const level = Number(lightToCode(luminanceOfLight(lightOf(codes))).toFixed(4));
  change((l) => (l.levels = { ...l.levels, [name]: level }), `levels/${name}`);
}
function takeTint(codes: readonly number[]): void {
  change(
    (l) =>
      (l.levels = {
        ...l.levels,
        tint: tintOf(lightOf(codes)).map((v) => Number(v.toFixed(5))) as [number, number, number],
      }),
    'levels/tint',
  );
}
function takeReflection(codes: readonly number[]): void {
  change((l) => (l.reflections!.colour = lightOf(codes).map((v) => Number(v.toFixed(5))) as [number, number, number]));
}
const three = (list: readonly number[]) => list.map((v) => v.toFixed(3)).join('  ');
</script>

<template>
  <g>
    <rect
      class="field"
      :width="viewport.width"
      :height="viewport.height"
      data-measure
      @pointerdown="onDown"
      @pointermove="stretch"
      @pointerup="corner = null"
    />
    <template v-if="page">
      <rect class="under" :x="page.left" :y="page.top" :width="page.width" :height="page.height" />
      <rect class="over" :x="page.left" :y="page.top" :width="page.width" :height="page.height" />
      <foreignObject
        v-if="values && workspace.measured"
        :x="clamp(page.left, 0, viewport.width - 292)"
        :y="page.top + page.height + high > viewport.height ? Math.max(0, page.top - high) : page.top + page.height + 6"
        width="290"
        :height="high - 4"
      >
        <table class="values" data-values>
          <caption>
            {{ workspace.measured.width }}
            ×
            {{ workspace.measured.height }}
            px at
            {{ workspace.measured.x
            }},
            {{ workspace.measured.y }}
          </caption>
          <tbody>
            <tr>
              <th>mean</th>
              <td>{{ three(values.mean) }}</td>
            </tr>
            <tr>
              <th>darkest</th>
              <td>{{ three(values.darkest) }}</td>
            </tr>
            <tr>
              <th>brightest</th>
              <td>{{ three(values.brightest) }}</td>
            </tr>
            <tr v-if="after">
              <th>finished</th>
              <td>{{ three(after) }}</td>
            </tr>
          </tbody>
        </table>
        <div v-if="workspace.step === 'blend'" class="takes" @pointerdown.stop>
          <button type="button" @click="takeLevel('black', values.darkest)">its darkest as black</button
          ><button type="button" @click="takeLevel('white', values.brightest)">its brightest as white</button>
          <button type="button" @click="takeTint(values.mean)">its colour as white</button
          ><button
            v-if="doc.document?.look.reflections?.from === 'drawn'"
            type="button"
            @click="takeReflection(values.mean)"
          >
            as reflection
          </button>
        </div>
      </foreignObject>
    </template>
  </g>
</template>

<style scoped>
.field {
  fill: transparent;
  pointer-events: all;
  cursor: crosshair;
}
.under,
.over {
  fill: none;
  pointer-events: none;
}
.under {
  stroke: var(--mark-under);
  stroke-width: 1.6;
}
.over {
  stroke: var(--mark);
  stroke-width: 1.6;
  stroke-dasharray: 5 4;
}
.values {
  width: 100%;
  background: var(--label-back);
  color: var(--mark);
  font-size: 13px;
  font-variant-numeric: tabular-nums;
  border-radius: 3px;
}
.values caption {
  caption-side: top;
  color: var(--mark);
  background: var(--label-back);
  padding: 3px 8px 0;
  font-size: 13px;
}
.values th {
  font-weight: 400;
  color: var(--label-soft);
  padding: 1px 8px;
}
.takes {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  padding: 4px;
  background: var(--label-back);
  pointer-events: auto;
}
.takes button {
  border: 1px dashed var(--label-soft);
  background: none;
  color: var(--mark);
  border-radius: 3px;
  font-size: 13px;
  padding: 1px 6px;
}
.values td {
  text-align: right;
  padding: 1px 8px;
  white-space: pre;
}
</style>
