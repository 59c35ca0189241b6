<script setup lang="ts">
import { computed, shallowRef } from 'vue';
import { contentCorners, croppedSize, type Place } from '../../../core/picture/content/content-fit.ts';
import { applyToPoint, invert, type Homography, type Point } from '../../../core/base/geometry/homography.ts';
import { distance } from '../../../core/base/geometry/quad.ts';
import { surfaceRatio } from '../../../core/picture/pin/surface-ratio.ts';
import type { ContentPlace } from '../../../core/base/schemas/types.ts';
import { moveCorner, scaleTo, shift, turnTo, type PlaceSetting } from '../steps/content/place-edits.ts';
import { nudgeOf } from '../steps/nudge.ts';
import { useShot } from '../stores/shot.ts';
import { useDocument } from '../stores/document.ts';

/**
 * The content's outline on the surface: dragged inside it is shifted, by a corner scaled (with Shift each way by itself, with Ctrl that corner alone), by a
 * side one way, by the stalk turned. `map` takes the surface's unit square to the page.
 */
const props = defineProps<{ map: Homography }>();
const shot = useShot();
const doc = useDocument();
/** Page pixels within which sides are drawn to those of the surface, and of the stalk. */
const NEAR = 7;
const STALK = 34;
const SIDES = [
  ['top', 0, 1],
  ['right', 1, 2],
  ['bottom', 2, 3],
  ['left', 3, 0],
] as const;
const setting = computed<PlaceSetting | null>(() => {
  const { document } = doc;
  const size = document?.look.board ?? shot.content?.facts;
  return document && size
    ? {
        fit: document.look.fit ?? 'stretch',
        ratio: surfaceRatio(document),
        content: croppedSize(size, (document.look.place as Place | undefined)?.crop),
      }
    : null;
});
const place = computed<Place>(() => (doc.document?.look.place as Place | undefined) ?? {});
const onPage = (p: Point) => applyToPoint(props.map, p);
const middle = (a: Point, b: Point): [number, number] => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
const drawn = computed(() => {
  const s = setting.value;
  if (!s) return null;
  const on = contentCorners(s.fit, place.value, s.ratio, s.content);
  const corners = on.map(onPage) as Point[];
  const centre = onPage(middle(middle(on[0], on[2]), middle(on[1], on[3])));
  // The side that lies highest carries the stalk, so that it never hides behind the device's foot.
  const sides = SIDES.map(([name, a, b]) => ({ name, on: middle(on[a], on[b]), at: middle(corners[a]!, corners[b]!) }));
  const top = sides[0]!;
  const away = distance(centre, top.at) || 1;
  const stalk: Point = [
    top.at[0] + (STALK * (top.at[0] - centre[0])) / away,
    top.at[1] + (STALK * (top.at[1] - centre[1])) / away,
  ];
  return { on, corners, sides, top: top.at, stalk };
});
type Grip = { kind: 'all' } | { kind: 'corner'; index: number } | { kind: 'side'; index: number } | { kind: 'turn' };
/** Where the hand took hold on the surface, of what, and the placement then: every move is measured from there. */
const held = shallowRef<{ grip: Grip; from: Point; start: ContentPlace; pointer: number } | null>(null);
function surfaceAt(event: PointerEvent): Point | null {
  const svg = (event.currentTarget as SVGElement).ownerSVGElement!.getBoundingClientRect();
  const back = invert(props.map);
  return back && applyToPoint(back, [event.clientX - svg.left, event.clientY - svg.top]);
}
function onDown(event: PointerEvent, grip: Grip): void {
  const at = surfaceAt(event);
  if (event.button !== 0 || !at) return;
  event.stopPropagation();
  held.value = {
    grip,
    from: at,
    start: JSON.parse(JSON.stringify(place.value)) as ContentPlace,
    pointer: event.pointerId,
  };
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
}
function onMove(event: PointerEvent): void {
  const hold = held.value;
  const to = hold && surfaceAt(event);
  const s = setting.value;
  if (!hold || !to || !s) return;
  event.stopPropagation();
  const made: ContentPlace = { ...hold.start };
  const { grip, from } = hold;
  const by: Point = [to[0] - from[0], to[1] - from[1]];
  const did = () => {
    if (grip.kind === 'all') return shift(made, s, by, event.shiftKey ? 0 : nearShare());
    if (grip.kind === 'turn') return turnTo(made, s, from, to, event.shiftKey);
    if (grip.kind === 'side') return scaleTo(made, s, from, to, grip.index % 2 === sideways() ? 'across' : 'down');
    return event.ctrlKey || event.metaKey
      ? moveCorner(made, s, grip.index, by)
      : scaleTo(made, s, from, to, event.shiftKey ? 'each' : 'both');
  };
  if (did())
    doc.drag((draft) => {
      draft.look.place = made;
    });
}
/** Sides 1 and 3 of the content scale it across, unless it is turned by a quarter: its size is given on the screen. */
function sideways(): 0 | 1 {
  return (place.value.quarters ?? 0) % 2 === 0 ? 1 : 0;
}
/** NEAR page pixels as a share of the surface's height. */
function nearShare(): number {
  const [a, d] = [onPage([0.5, 0]), onPage([0.5, 1])];
  return NEAR / Math.max(1, distance(a, d));
}
function onUp(): void {
  if (!held.value) return;
  held.value = null;
  doc.settle();
}
function onKey(event: KeyboardEvent): void {
  const by = nudgeOf(event);
  const s = setting.value;
  const back = invert(props.map);
  const at = drawn.value?.corners[0];
  if (!by || !s || !back || !at) return;
  event.preventDefault();
  event.stopPropagation();
  const [a, b] = [applyToPoint(back, at), applyToPoint(back, [at[0] + by[0], at[1] + by[1]])];
  doc.edit((draft) => void shift((draft.look.place ??= {}), s, [b[0] - a[0], b[1] - a[1]]));
}
</script>

<template>
  <g v-if="drawn" class="place" data-place-handles @pointermove="onMove" @pointerup="onUp">
    <polygon
      class="body"
      :points="drawn.corners.join(' ')"
      tabindex="0"
      role="button"
      aria-label="The content: drag to shift it, arrow keys move it by a pixel"
      @pointerdown="onDown($event, { kind: 'all' })"
      @pointermove="onMove"
      @pointerup="onUp"
      @keydown="onKey"
    />
    <polygon class="under" :points="drawn.corners.join(' ')" /><polygon
      class="over"
      :points="drawn.corners.join(' ')"
    />
    <path class="under" :d="`M${drawn.top}L${drawn.stalk}`" /><path class="over" :d="`M${drawn.top}L${drawn.stalk}`" />
    <circle
      class="grip"
      r="6"
      :cx="drawn.stalk[0]"
      :cy="drawn.stalk[1]"
      data-place-turn
      @pointerdown="onDown($event, { kind: 'turn' })"
      @pointermove="onMove"
      @pointerup="onUp"
      ><title>Turn it; Shift turns freely</title></circle
    >
    <rect
      v-for="(side, i) in drawn.sides"
      :key="side.name"
      class="grip"
      width="9"
      height="9"
      :x="side.at[0] - 4.5"
      :y="side.at[1] - 4.5"
      :data-place-side="i"
      @pointerdown="onDown($event, { kind: 'side', index: i })"
      @pointermove="onMove"
      @pointerup="onUp"
      ><title>Scale it one way</title></rect
    >
    <rect
      v-for="(p, i) in drawn.corners"
      :key="i"
      class="grip corner"
      width="12"
      height="12"
      :x="p[0] - 6"
      :y="p[1] - 6"
      :data-place-corner="i"
      @pointerdown="onDown($event, { kind: 'corner', index: i })"
      @pointermove="onMove"
      @pointerup="onUp"
      ><title>Scale it; Shift: each way by itself; Ctrl: this corner alone</title></rect
    >
  </g>
</template>

<style scoped>
.body {
  fill: transparent;
  pointer-events: all;
  cursor: move;
}
.body:focus-visible {
  outline: none;
}
.body:focus-visible ~ .over {
  stroke: var(--accent);
}
.under,
.over {
  fill: none;
  stroke-width: 1.6;
  pointer-events: none;
}
.under {
  stroke: var(--mark-under);
  stroke-width: 2.6;
}
.over {
  stroke: var(--mark-surface);
  stroke-dasharray: 7 5;
}
.grip {
  fill: var(--mark);
  stroke: var(--mark-under);
  stroke-width: 1.4;
  pointer-events: all;
  cursor: pointer;
}
.corner {
  fill: var(--mark-surface);
}
</style>
