<script setup lang="ts">
import { storeToRefs } from 'pinia';
import { computed, ref } from 'vue';
import {
  addPoint,
  bendPoint,
  isCurved,
  moveHandle,
  moveOutline,
  movePoint,
  removePoint,
} from '../steps/follow/edit-outline.ts';
import { outlinesOf, type OutlineKind } from '../steps/follow/outlines-of.ts';
import { nudgeOf } from '../steps/nudge.ts';
import { useWorkspace } from '../stores/workspace.ts';
import { usePlayhead } from '../stores/playhead.ts';
import { useDocument } from '../stores/document.ts';
import { nearestAlong } from './nearest-along.ts';
import { useShownOutlines } from './use-shown-outlines.ts';
import { toPlate } from './view-transform.ts';
import { useViewport } from './viewport.ts';

/**
 * Regions, keep-outs and shapes, riding on the track. They are reshaped on any frame: on the reference the outline itself, on
 * others a key. A press on the side of the picked one adds a point; a double press on a point bends it.
 */
const props = defineProps<{ lists: readonly OutlineKind[] }>();
const viewport = useViewport();
const doc = useDocument();
const head = usePlayhead();
const workspace = useWorkspace();
const { outlines, atOf, keptAt } = useShownOutlines(() => props.lists);

type Grip = { part: 'point'; index: number } | { part: 'handle'; index: number; which: 'in' | 'out' } | { part: 'all' };
const dragging = ref<{ list: OutlineKind; outline: number; grip: Grip; last: [number, number] } | null>(null);
const { point } = storeToRefs(workspace);

/** With more points than this, only those of the picked outline are shown. */
const MOST_POINTS = 32;
const crowded = computed(() => outlines.value.reduce((sum, o) => sum + o.points.length, 0) > MOST_POINTS);

function plateAt(event: PointerEvent | MouseEvent): [number, number] {
  const rect = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  return toPlate(viewport.view, event.clientX - rect.left, event.clientY - rect.top);
}
function onDown(event: PointerEvent, list: OutlineKind, outline: number, grip: Grip): void {
  if (event.button !== 0) return;
  event.stopPropagation();
  workspace.picked = { list, index: outline };
  point.value = grip.part === 'all' ? null : grip.index;
  const last = keptAt(list, outline, plateAt(event));
  if (!last) return;
  dragging.value = { list, outline, grip, last };
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
function onMove(event: PointerEvent): void {
  const d = dragging.value;
  if (!d) return;
  const plate = plateAt(event);
  const kept = keptAt(d.list, d.outline, plate);
  if (!kept) return;
  doc.drag((draft) => {
    const outline = outlinesOf(draft, d.list)[d.outline]!;
    const at = atOf(outline);
    if (d.grip.part === 'point') movePoint(outline, at, d.grip.index, kept);
    else if (d.grip.part === 'all') moveOutline(outline, at, [kept[0] - d.last[0], kept[1] - d.last[1]]);
    else {
      const shape = outline.keys?.find((key) => key.frame === head.frame) ?? outline;
      const from = shape.points[d.grip.index]!;
      moveHandle(outline, at, d.grip.index, d.grip.which, [kept[0] - from[0], kept[1] - from[1]], event.altKey);
    }
  });
  d.last = kept;
  workspace.dragPoint = d.grip.part === 'all' ? null : { x: plate[0], y: plate[1] };
}
function onUp(): void {
  dragging.value = null;
  workspace.dragPoint = null;
  doc.settle();
}
/** A press on a side of the picked outline makes a point there, which is dragged on at once. */
function onSide(event: PointerEvent, list: OutlineKind, outline: number, side: number): void {
  if (event.button !== 0) return;
  event.stopPropagation();
  if (workspace.picked?.list !== list || workspace.picked.index !== outline) {
    workspace.picked = { list, index: outline };
    return;
  }
  doc.edit((draft) =>
    addPoint(outlinesOf(draft, list)[outline]!, side, nearestAlong(event.currentTarget as SVGPathElement, event)),
  );
  point.value = side + 1;
}
function onBend(list: OutlineKind, outline: number, index: number): void {
  doc.edit((draft) => bendPoint(outlinesOf(draft, list)[outline]!, index));
}
const KEYS: Readonly<Record<string, 'remove' | 'bend' | 'add'>> = { Delete: 'remove', q: 'bend', Insert: 'add' };
function onKey(event: KeyboardEvent, list: OutlineKind, outline: number, grip: Grip): void {
  const nudge = nudgeOf(event);
  const drawn = doc.document && outlinesOf(doc.document, list)[outline];
  const o = outlines.value.find((e) => e.list === list && e.index === outline);
  const act = nudge ? 'nudge' : grip.part === 'point' ? KEYS[event.key] : undefined;
  if (!drawn || !o || !act) return;
  event.preventDefault();
  event.stopPropagation();
  if (act === 'remove' && grip.part === 'point')
    doc.edit((draft) => void removePoint(outlinesOf(draft, list)[outline]!, grip.index));
  if (act === 'bend' && grip.part === 'point') onBend(list, outline, grip.index);
  if (act === 'add' && grip.part === 'point')
    doc.edit((draft) => addPoint(outlinesOf(draft, list)[outline]!, grip.index, 0.5));
  if (act !== 'nudge' || !nudge) return;
  const page = grip.part === 'all' ? (o.middle as [number, number]) : o.points[grip.index]!;
  const from = toPlate(viewport.view, page[0], page[1]);
  const was = keptAt(list, outline, from);
  const to = keptAt(list, outline, [from[0] + nudge[0], from[1] + nudge[1]]);
  if (!was || !to) return;
  doc.edit((draft) => {
    const kept = outlinesOf(draft, list)[outline]!;
    if (grip.part === 'all') moveOutline(kept, atOf(kept), [to[0] - was[0], to[1] - was[1]]);
    else if (grip.part === 'point') movePoint(kept, atOf(kept), grip.index, to);
  });
}
</script>

<template>
  <g
    v-for="o in outlines"
    :key="`${o.list}${o.index}`"
    class="outline"
    :class="[o.list, { picked: o.picked, guessed: o.guessed, off: o.off }]"
    :data-outline="`${o.list}-${o.index}`"
    @pointermove="onMove"
    @pointerup="onUp"
  >
    <polygon
      v-if="!o.off"
      :points="o.polygon"
      :fill="o.list === 'regions' ? 'url(#hatch-region)' : o.list === 'keepOut' ? 'url(#hatch-keep-out)' : 'none'"
      stroke="none"
    />
    <polygon class="under" :points="o.polygon" />
    <polygon class="over" :points="o.polygon" />
    <path
      v-for="(side, i) in o.sides"
      :key="`s${i}`"
      class="side"
      :class="{ adds: o.picked }"
      :d="side"
      :data-side="i"
      @pointerdown="onSide($event, o.list, o.index, i)"
      @pointermove.stop="onMove"
      @pointerup.stop="onUp"
    />
    <template
      v-if="
        o.picked && point !== null && o.handles?.[point] && isCurved({ points: o.points, handles: o.handles }, point)
      "
    >
      <template v-for="(which, k) in ['in', 'out'] as const" :key="which">
        <line
          class="stalk"
          :x1="o.points[point]![0]"
          :y1="o.points[point]![1]"
          :x2="o.points[point]![0] + o.handles[point]![2 * k]!"
          :y2="o.points[point]![1] + o.handles[point]![2 * k + 1]!"
        />
        <circle
          class="handle"
          r="4.5"
          :cx="o.points[point]![0] + o.handles[point]![2 * k]!"
          :cy="o.points[point]![1] + o.handles[point]![2 * k + 1]!"
          :data-handle="which"
          @pointerdown="onDown($event, o.list, o.index, { part: 'handle', index: point, which })"
        />
      </template>
    </template>
    <template v-for="(p, i) in o.picked || !crowded ? o.points : []" :key="i">
      <rect
        class="handle"
        :class="{ between: !o.keyed }"
        :x="p[0] - 5"
        :y="p[1] - 5"
        width="10"
        height="10"
        :rx="isCurved({ points: o.points, handles: o.handles }, i) ? 5 : 0"
        tabindex="0"
        :aria-label="`Point ${i + 1} of ${o.title}`"
        @pointerdown="onDown($event, o.list, o.index, { part: 'point', index: i })"
        @dblclick.stop="onBend(o.list, o.index, i)"
        @keydown="onKey($event, o.list, o.index, { part: 'point', index: i })"
        @focus="
          workspace.picked = { list: o.list, index: o.index };
          point = i;
        "
      />
    </template>
    <g
      v-if="o.picked"
      class="all"
      tabindex="0"
      :aria-label="`Move ${o.title}`"
      :transform="`translate(${o.middle[0]} ${o.middle[1]})`"
      @pointerdown="onDown($event, o.list, o.index, { part: 'all' })"
      @keydown="onKey($event, o.list, o.index, { part: 'all' })"
    >
      <title>Move all of it</title> <circle r="11" /><path
        d="M-6 0H6M0 -6V6M-6 0l2.5 -2.5M-6 0l2.5 2.5M6 0l-2.5 -2.5M6 0l-2.5 2.5M0 -6l-2.5 2.5M0 -6l2.5 2.5M0 6l-2.5 -2.5M0 6l2.5 -2.5"
      />
    </g>
  </g>
</template>

<style scoped>
polygon {
  fill-rule: evenodd;
}
.under,
.over {
  fill: none;
  stroke-width: 1.6;
}
.under {
  stroke: var(--mark-under);
}
.over {
  stroke: var(--mark);
  stroke-dasharray: 7 5;
}
.keepOut .over {
  stroke-dasharray: 2 3;
}
.areas .over {
  stroke-dasharray: 1 5;
  stroke-linecap: round;
  stroke-width: 2.4;
}
.fixes .over {
  stroke-dasharray: 3 3;
}
.shapes .over {
  stroke-dasharray: 12 3 2 3;
}
.picked .over,
.picked .under {
  stroke-width: 2.4;
}
.guessed {
  opacity: 0.6;
}
.off {
  opacity: 0.35;
}
.side {
  fill: none;
  stroke: transparent;
  stroke-width: 12;
  pointer-events: stroke;
  cursor: pointer;
}
.side.adds {
  cursor: copy;
}
.handle {
  fill: var(--mark);
  stroke: var(--mark-under);
  stroke-width: 1.6;
  pointer-events: all;
  cursor: move;
}
.handle.between {
  fill: var(--mark-off);
}
.stalk {
  stroke: var(--mark);
  stroke-width: 1.4;
}
.all {
  pointer-events: all;
  cursor: move;
}
.all circle {
  fill: var(--mark-soft);
  stroke: var(--mark-under);
  stroke-width: 1.2;
}
.all path {
  fill: none;
  stroke: var(--mark-under);
  stroke-width: 1.3;
}
</style>
