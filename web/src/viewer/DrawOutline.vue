<script setup lang="ts">
import { FAINT } from '../../../core/picture/blend/drawn-reflection.ts';
import { distance, type Quad } from '../../../core/base/geometry/quad.ts';
import type { SpillSettings } from '../../../core/base/schemas/types.ts';
import { addFix } from '../steps/front/add-fix.ts';
import { outlinesOf } from '../steps/follow/outlines-of.ts';
import { changeScene } from '../steps/follow/scene/scene-edits.ts';
import { riddenShape } from '../steps/front/ridden-shape.ts';
import { changeLoop } from '../steps/send/loop-edits.ts';
import { useWorkspace, type Tool } from '../stores/workspace.ts';
import { useNotices } from '../stores/notices.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useScene } from '../stores/scene.ts';
import { useDocument } from '../stores/document.ts';
import { usePlacedCorners } from '../stores/placed-corners.ts';
import { usePointByPoint } from './point-by-point.ts';
import { useViewport } from './viewport.ts';

/** Drawing an outline point by point; a click on the first point closes it. */
const viewport = useViewport();
const doc = useDocument();
const placed = usePlacedCorners();
const head = usePlayhead();
const workspace = useWorkspace();
const notices = useNotices();
const scene = useScene();
const { points, hover, page, line, pageAt, add, close } = usePointByPoint(() => viewport.view, finish);

function onDown(event: PointerEvent): void {
  if (event.button !== 0) return;
  event.stopPropagation();
  const [x, y] = pageAt(event);
  const first = page.value[0];
  if (first && points.value.length >= 3 && Math.hypot(first[0] - x, first[1] - y) < 10) close();
  else add(event);
}
type Drawn = [number, number][];
const ridden = (drawn: Drawn) => riddenShape(drawn, head.frame, doc.document!.corners, placed.cornersAt(head.frame));
function drawShape(drawn: Drawn, list: 'shapes' | 'areas' | 'cast' | 'reflection' | 'split'): void {
  const corners = doc.document!.corners as Quad | null;
  const shape = ridden(drawn);
  const wide = corners ? distance(corners[0], corners[1]) : 100;
  doc.edit((draft) => {
    if (list === 'shapes') (draft.look.shapes ??= []).push({ ...shape, does: 'keep', soft: [1, 1] });
    else if (list === 'cast')
      (draft.look.cast ??= { areas: [] }).areas.push({
        shape: { ...shape, soft: [wide / 20, wide / 8] },
        strength: 0.3,
      });
    else if (list === 'reflection')
      draft.look.reflections = {
        ...(draft.look.reflections ?? { from: 'drawn', colour: [...FAINT] }),
        from: 'drawn',
        shape: { ...shape, soft: [wide / 25, wide / 25] },
      };
    else if (list === 'split')
      changeLoop(draft, (loop) => {
        loop.split = { shape: { ...shape, soft: [10, 10] } };
      });
    else ((draft.look.spill as SpillSettings).areas ??= []).push({ shape: { ...shape, soft: [8, 8] }, amount: 1 });
  });
  workspace.picked = { list, index: outlinesOf(doc.document!, list).length - 1 };
}
function drawRegion(drawn: Drawn, list: 'regions' | 'keepOut'): void {
  doc.edit((draft) => {
    // The first outline decides on which frame things are defined.
    if (draft.regions.length === 0 && draft.keepOut.length === 0 && draft.corners === null)
      draft.referenceFrame = head.frame;
    // Around the room nothing rides: what is kept out stays in the picture.
    draft[list].push({
      points: drawn,
      ...(list === 'keepOut' && workspace.step === 'follow' && workspace.followPage === 'scene' ? { fixed: true } : {}),
    });
  });
  workspace.picked = { list, index: doc.document![list].length - 1 };
}
function drawStraight(drawn: Drawn): void {
  if (drawn.length < 4) notices.add('A line needs four places or more: three say little about how it bends.');
  else doc.edit((draft) => (draft.straightLines ??= []).push({ frame: head.frame, points: drawn }));
}
/** The plane of the screen through what was solved inside an outline. */
function drawPlane(drawn: Drawn): void {
  const found = scene.planeThrough(head.frame, drawn);
  if (typeof found === 'string') notices.add(found);
  else
    doc.edit((draft) =>
      changeScene(draft, (s) => {
        s.normal = [...found.normal];
      }),
    );
}
/** What becomes of an outline, by the tool that drew it. */
const DOES: Partial<Record<Tool, (drawn: Drawn) => void>> = {
  'draw-region': (drawn) => drawRegion(drawn, 'regions'),
  'draw-keep-out': (drawn) => drawRegion(drawn, 'keepOut'),
  'draw-shape': (drawn) => drawShape(drawn, 'shapes'),
  'draw-area': (drawn) => drawShape(drawn, 'areas'),
  'draw-cast': (drawn) => drawShape(drawn, 'cast'),
  'draw-reflection': (drawn) => drawShape(drawn, 'reflection'),
  'draw-split': (drawn) => drawShape(drawn, 'split'),
  'draw-fix': (drawn) => addFix(drawn, head.frame),
  'draw-join-region': (drawn) =>
    doc.edit((draft) =>
      changeLoop(draft, (loop) => {
        loop.region = drawn;
      }),
    ),
  'draw-straight': drawStraight,
  'draw-plane': drawPlane,
};
function finish(set: Drawn): void {
  // The second click of a double click sets the same point again.
  const drawn = set.filter((p, i) => i === 0 || distance(p, set[i - 1]!) > 0.5);
  if (drawn.length >= 3) DOES[workspace.tool]?.(drawn);
  workspace.tool = 'look';
}
</script>

<template>
  <g>
    <rect
      class="catcher"
      :width="viewport.width"
      :height="viewport.height"
      data-draw
      @pointerdown="onDown"
      @pointermove="hover = pageAt($event)"
      @dblclick="close"
    />
    <polyline class="under" :points="line" />
    <polyline class="over" :points="line" />
    <circle v-for="(p, i) in page" :key="i" :cx="p[0]" :cy="p[1]" :r="i === 0 ? 6 : 4" class="dot" />
  </g>
</template>

<style scoped>
.catcher {
  fill: transparent;
  pointer-events: all;
  cursor: crosshair;
}
.under,
.over {
  fill: none;
  stroke-width: 1.8;
  pointer-events: none;
}
.under {
  stroke: var(--mark-under);
}
.over {
  stroke: var(--mark);
  stroke-dasharray: 6 5;
}
.dot {
  fill: var(--mark);
  stroke: var(--mark-under);
  stroke-width: 1.5;
  pointer-events: none;
}
</style>
