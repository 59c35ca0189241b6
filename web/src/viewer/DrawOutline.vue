<script setup lang="ts">
import { FAINT } from '../../../core/blend/drawn-reflection.ts';
import { homographyBetweenQuads } from '../../../core/geometry/estimate-homography.ts';
import { applyToPoint } from '../../../core/geometry/homography.ts';
import { distance, type Quad } from '../../../core/geometry/quad.ts';
import type { FrontShape, SpillSettings } from '../../../core/schemas/types.ts';
import { addFix } from '../steps/front/add-fix.ts';
import { outlinesOf } from '../steps/follow/outlines-of.ts';
import { changeLoop, splitShape } from '../steps/send/loop-edits.ts';
import { useBench } from '../stores/bench.ts';
import { useNotices } from '../stores/notices.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { usePointByPoint } from './point-by-point.ts';
import type { ViewTransform } from './view-transform.ts';

/** Drawing an outline point by point; a click on the first point closes it. */
const props = defineProps<{ view: ViewTransform; width: number; height: number }>();
const shot = useShot();
const head = usePlayhead();
const bench = useBench();
const notices = useNotices();
const { points, hover, page, line, pageAt, add, close } = usePointByPoint(() => props.view, finish);

function onDown(event: PointerEvent): void {
  if (event.button !== 0) return;
  event.stopPropagation();
  const [x, y] = pageAt(event);
  const first = page.value[0];
  if (first && points.value.length >= 3 && Math.hypot(first[0] - x, first[1] - y) < 10) close();
  else add(event);
}
/** A shape rides on the surface where that is known, told as it lies on the reference frame; at home on the frame it was drawn on. */
function drawShape(drawn: [number, number][], list: 'shapes' | 'areas' | 'cast' | 'reflection'): void {
  const corners = shot.document!.corners as Quad | null, now = shot.cornersAt(head.frame), back = corners && now && homographyBetweenQuads(now, corners), points = back ? drawn.map((p) => applyToPoint(back, p)) : drawn;
  const shape: FrontShape = { points: points.map(([x, y]): [number, number] => [x, y]), home: head.frame, ...(back ? {} : { rides: 'plate' as const }) };
  const wide = corners ? distance(corners[0], corners[1]) : 100;
  shot.edit((draft) => {
    if (list === 'shapes') (draft.look.shapes ??= []).push({ ...shape, does: 'keep', soft: [1, 1] });
    else if (list === 'cast') (draft.look.cast ??= { areas: [] }).areas.push({ shape: { ...shape, soft: [wide / 20, wide / 8] }, strength: 0.3 });
    else if (list === 'reflection') draft.look.reflections = { ...(draft.look.reflections ?? { from: 'drawn', colour: [...FAINT] }), from: 'drawn', shape: { ...shape, soft: [wide / 25, wide / 25] } };
    else ((draft.look.spill as SpillSettings).areas ??= []).push({ shape: { ...shape, soft: [8, 8] }, amount: 1 });
  });
  bench.picked = { list, index: outlinesOf(shot.document!, list).length - 1 };
  bench.tool = 'look';
}
function finish(set: [number, number][]): void {
  // The second click of a double click sets the same point again.
  const drawn = set.filter((p, i) => i === 0 || distance(p, set[i - 1]!) > 0.5);
  if (drawn.length >= 3) {
    if (bench.tool === 'draw-straight') {
      if (drawn.length < 4) notices.add('A line needs four places or more: three say little about how it bends.');
      else shot.edit((draft) => (draft.straightLines ??= []).push({ frame: head.frame, points: drawn }));
      bench.tool = 'look';
      return;
    }
    if (bench.tool === 'draw-join-region' || bench.tool === 'draw-split') {
      const shape = bench.tool === 'draw-split' ? splitShape(drawn, head.frame, shot.document!.corners as Quad | null, shot.cornersAt(head.frame)) : null;
      shot.edit((draft) => changeLoop(draft, (loop) => { if (shape) loop.split = { shape }; else loop.region = drawn; }));
      if (shape) bench.picked = { list: 'split', index: 0 };
      bench.tool = 'look';
      return;
    }
    if (bench.tool === 'draw-fix') return addFix(shot, bench, drawn, head.frame);
    if (bench.tool === 'draw-shape') return drawShape(drawn, 'shapes');
    if (bench.tool === 'draw-area') return drawShape(drawn, 'areas');
    if (bench.tool === 'draw-cast') return drawShape(drawn, 'cast');
    if (bench.tool === 'draw-reflection') return drawShape(drawn, 'reflection');
    const list = bench.tool === 'draw-keep-out' ? 'keepOut' : 'regions';
    shot.edit((draft) => {
      // The first outline decides on which frame things are defined.
      if (draft.regions.length === 0 && draft.keepOut.length === 0 && draft.corners === null) draft.referenceFrame = head.frame;
      // Around the room nothing rides: what is kept out stays in the picture.
      draft[list].push({ points: drawn, ...(list === 'keepOut' && bench.step === 'follow' && bench.followPage === 'scene' ? { fixed: true } : {}) });
    });
    bench.picked = { list, index: shot.document![list].length - 1 };
  }
  bench.tool = 'look';
}
</script>

<template>
  <g>
    <rect class="catcher" :width="width" :height="height" data-draw @pointerdown="onDown" @pointermove="hover = pageAt($event)" @dblclick="close" />
    <polyline class="under" :points="line" />
    <polyline class="over" :points="line" />
    <circle v-for="(p, i) in page" :key="i" :cx="p[0]" :cy="p[1]" :r="i === 0 ? 6 : 4" class="dot" />
  </g>
</template>

<style scoped>
.catcher { fill: transparent; pointer-events: all; cursor: crosshair; }
.under, .over { fill: none; stroke-width: 1.8; pointer-events: none; }
.under { stroke: #17191b; }
.over { stroke: #fff; stroke-dasharray: 6 5; }
.dot { fill: #fff; stroke: #17191b; stroke-width: 1.5; pointer-events: none; }
</style>
