<script setup lang="ts">
import { computed, ref } from 'vue';
import { CORNER_NAMES } from '../../../core/base/geometry/quad.ts';
import type { Point } from '../../../core/base/geometry/homography.ts';
import { usualBoxes } from '../../../core/motion/points/point-plan.ts';
import { putPoint, sizeBox } from '../steps/follow/points/point-edits.ts';
import { nudgeOf } from '../steps/nudge.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { useCornerPoints } from '../stores/corner-points.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';
import { CORNER_SHAPES } from './corner-shapes.ts';
import { toPage, toPlate } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/** Corner points with their pattern and search boxes: dragged, nudged by arrow keys, the boxes sized by their corners. */
const viewport = useViewport();
const shot = useShot();
const doc = useDocument();
const found = useCornerPoints();
const head = usePlayhead();
const workspace = useWorkspace();
const drag = ref<{
  name: string;
  part: 'point' | 'pattern' | 'search';
  from: Point;
  at: Point;
  size: readonly [number, number];
} | null>(null);
/** However small a box is on the page, its grip stays clear of the point. */
const CLEAR = { pattern: 15, search: 29 } as const;
const usual = computed(() => usualBoxes(shot.plate?.facts?.width ?? 1920));
/** Before anything is known a point stands where it begins. */
const points = computed(() =>
  found.points.flatMap((point) => {
    const place = found.placeAt(point.name, head.frame) ?? { at: point.at, known: false };
    const here = found.fitAt(point.name, head.frame);
    const [x, y] = toPage(viewport.view, place.at);
    const pattern = point.pattern ?? usual.value.pattern;
    const search = point.search ?? usual.value.search;
    const box = ([w, h]: readonly [number, number]) => ({
      width: w * viewport.view.scale * viewport.view.aspect,
      height: h * viewport.view.scale,
    });
    return [
      {
        name: point.name,
        at: place.at,
        x,
        y,
        known: place.known,
        how: here?.fit?.how ?? null,
        pattern: box(pattern),
        search: box(search),
        sizes: { point: [0, 0] as const, pattern, search },
        picked: workspace.pickedPoints.includes(point.name),
        shape: CORNER_SHAPES[CORNER_NAMES.indexOf(point.name as never)] ?? null,
      },
    ];
  }),
);

function plateAt(event: PointerEvent): Point {
  const rect = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  return toPlate(viewport.view, event.clientX - rect.left, event.clientY - rect.top);
}
function onDown(
  event: PointerEvent,
  name: string,
  part: 'point' | 'pattern' | 'search',
  at: Point,
  size: readonly [number, number],
): void {
  if (event.button !== 0) return;
  event.stopPropagation();
  if (!workspace.pickedPoints.includes(name))
    workspace.pickedPoints = event.shiftKey ? [...workspace.pickedPoints, name] : [name];
  drag.value = { name, part, from: plateAt(event), at, size };
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  (event.currentTarget as SVGElement).focus?.();
}
function onMove(event: PointerEvent): void {
  const d = drag.value;
  if (!d) return;
  const [x, y] = plateAt(event);
  if (d.part === 'point') {
    const to: Point = [d.at[0] + x - d.from[0], d.at[1] + y - d.from[1]];
    doc.drag((draft) => putPoint(draft, d.name, head.frame, to));
    workspace.dragPoint = { x: to[0], y: to[1] };
  } else
    doc.drag((draft) =>
      sizeBox(draft, d.name, d.part as 'pattern' | 'search', [
        d.size[0] + 2 * (x - d.from[0]),
        d.size[1] + 2 * (y - d.from[1]),
      ]),
    );
}
function onUp(): void {
  drag.value = null;
  workspace.dragPoint = null;
  doc.settle();
}
function onKey(event: KeyboardEvent, name: string, at: Point): void {
  const nudge = nudgeOf(event);
  if (!nudge) return;
  event.preventDefault();
  event.stopPropagation();
  doc.edit((draft) => putPoint(draft, name, head.frame, [at[0] + nudge[0], at[1] + nudge[1]]));
}
</script>

<template>
  <g>
    <g
      v-for="p in points"
      :key="p.name"
      :transform="`translate(${p.x} ${p.y})`"
      :class="{ picked: p.picked, guessed: !p.known, reckoned: p.how === 'reckoned' }"
    >
      <template v-if="p.picked || points.length <= 4">
        <rect
          class="under"
          :x="-p.pattern.width / 2"
          :y="-p.pattern.height / 2"
          :width="p.pattern.width"
          :height="p.pattern.height"
        /><rect
          class="over"
          :x="-p.pattern.width / 2"
          :y="-p.pattern.height / 2"
          :width="p.pattern.width"
          :height="p.pattern.height"
        />
        <rect
          v-if="p.picked"
          class="under"
          :x="-p.search.width / 2"
          :y="-p.search.height / 2"
          :width="p.search.width"
          :height="p.search.height"
        /><rect
          v-if="p.picked"
          class="over wide"
          :x="-p.search.width / 2"
          :y="-p.search.height / 2"
          :width="p.search.width"
          :height="p.search.height"
        />
        <rect
          v-for="part in p.picked ? (['pattern', 'search'] as const) : []"
          :key="part"
          class="grip"
          :x="Math.max(CLEAR[part], p[part].width / 2) - 5"
          :y="Math.max(CLEAR[part], p[part].height / 2) - 5"
          width="10"
          height="10"
          :data-box="part"
          :data-of="p.name"
          @pointerdown="onDown($event, p.name, part, p.at, p.sizes[part])"
          @pointermove="onMove"
          @pointerup="onUp"
        />
      </template>
      <g
        class="point"
        tabindex="0"
        role="button"
        :aria-label="p.name"
        :data-point="p.name"
        @pointerdown="onDown($event, p.name, 'point', p.at, p.sizes.point)"
        @pointermove="onMove"
        @pointerup="onUp"
        @keydown="onKey($event, p.name, p.at)"
        @focus="workspace.pickedPoints.includes(p.name) || (workspace.pickedPoints = [p.name])"
      >
        <rect x="-9" y="-9" width="18" height="18" class="hit" />
        <template v-if="p.shape"
          ><path class="halo" :d="p.shape" transform="scale(.75)" /><path
            class="mark"
            :d="p.shape"
            transform="scale(.75)"
        /></template>
        <template v-else><path class="halo" d="M-7 0H7M0 -7V7" /><path class="mark" d="M-7 0H7M0 -7V7" /></template>
        <path class="dot" d="M-2 0H2M0 -2V2" />
      </g>
    </g>
  </g>
</template>

<style scoped>
.under,
.over {
  fill: none;
  stroke: var(--mark-under);
  stroke-width: 2.4;
}
.over {
  stroke: var(--mark);
  stroke-width: 1.1;
}
.over.wide {
  stroke-dasharray: 2 5;
}
.picked .over {
  stroke: var(--mark-picked);
}
.point {
  pointer-events: all;
  cursor: move;
  outline: none;
}
.grip {
  pointer-events: all;
  cursor: nwse-resize;
  fill: var(--mark-under);
  stroke: var(--mark-picked);
  stroke-width: 1.4;
}
.hit {
  fill: transparent;
}
.halo {
  fill: none;
  stroke: var(--mark-under);
  stroke-width: 4.4;
}
.mark {
  fill: none;
  stroke: var(--mark);
  stroke-width: 1.8;
}
.picked .mark {
  stroke: var(--mark-picked);
}
.guessed .mark {
  stroke-dasharray: 2 3;
}
.reckoned .over {
  stroke-dasharray: 6 4;
}
.dot {
  stroke: var(--mark);
  stroke-width: 1;
  mix-blend-mode: difference;
}
.point:focus-visible .halo {
  stroke: var(--mark-strong);
  stroke-width: 6;
}
</style>
