import {
  keysOf,
  outlineAt,
  STRAIGHT,
  type HandlePair,
  type KeyedOutline,
  type Outline,
} from '../../../../core/base/geometry/outline.ts';
import { applyToPoint, invert, type Homography, type Point } from '../../../../core/base/geometry/homography.ts';
import type { FrontShape, KeepOutOutline, OutlineKey, RegionOutline } from '../../../../core/base/schemas/types.ts';

/** An outline of the document, as edits change it. */
export type DrawnOutline = RegionOutline | KeepOutOutline | FrontShape;
type Pair = [number, number];

/** The frame that outlines are drawn on, and the one in work. */
export interface EditedAt {
  referenceFrame: number;
  frame: number;
}

/** The outline as a frame shows it: `map` leads from where it is kept to the frame. */
export function shownOutline(outline: KeyedOutline, { referenceFrame, frame }: EditedAt, map: Homography): Outline {
  const { points, handles } = outlineAt(outline, referenceFrame, frame);
  return {
    points: points.map((p) => applyToPoint(map, p)),
    ...(handles
      ? {
          handles: handles.map((h, i): HandlePair => {
            const at = points[i]!;
            const [x, y] = applyToPoint(map, at);
            const [a, b] = applyToPoint(map, [at[0] + h[0], at[1] + h[1]]);
            const [c, d] = applyToPoint(map, [at[0] + h[2], at[1] + h[3]]);
            return [a - x, b - y, c - x, d - y];
          }),
        }
      : {}),
  };
}

/** Where a point of a frame lies on what is kept; null behind the camera. */
export function keptPoint(map: Homography, point: Point): Pair | null {
  const back = invert(map);
  const at = back && applyToPoint(back, point);
  return at && at.every(Number.isFinite) ? at : null;
}

/** What is kept for a frame: the outline itself on the reference, else a key, made there when there was none. */
function shapeFor(outline: DrawnOutline, { referenceFrame, frame }: EditedAt): DrawnOutline | OutlineKey {
  if (frame === referenceFrame) return outline;
  const there = outline.keys?.find((key) => key.frame === frame);
  if (there) return there;
  const { points, handles } = outlineAt(outline, referenceFrame, frame);
  const key: OutlineKey = {
    frame,
    points: points.map(([x, y]): Pair => [x, y]),
    ...(handles ? { handles: handles.map((h) => [...h]) as OutlineKey['handles'] } : {}),
  };
  (outline.keys ??= []).push(key);
  outline.keys.sort((a, b) => a.frame - b.frame);
  // The pushed object is what drafts will change.
  return outline.keys.find((k) => k.frame === frame)!;
}

export function movePoint(outline: DrawnOutline, at: EditedAt, index: number, to: Pair): void {
  shapeFor(outline, at).points[index] = to;
}

/** Moves all of an outline. */
export function moveOutline(outline: DrawnOutline, at: EditedAt, [dx, dy]: Point): void {
  const shape = shapeFor(outline, at);
  shape.points = shape.points.map(([x, y]): Pair => [x + dx, y + dy]);
}

/** All shapes that the outline takes: an edit of its points must be made to each. */
function allShapes(outline: DrawnOutline): (DrawnOutline | OutlineKey)[] {
  return [outline, ...(outline.keys ?? [])];
}

/** Adds a point on the way from point `index` to the next, in every key; the outline keeps its form. Its place is `index` + 1. */
export function addPoint(outline: DrawnOutline, index: number, t: number): void {
  if ('softness' in outline && outline.softness) {
    const a = outline.softness[index]!;
    const b = outline.softness[(index + 1) % outline.softness.length]!;
    outline.softness.splice(index + 1, 0, [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])]);
  }
  for (const shape of allShapes(outline)) {
    const next = (index + 1) % shape.points.length;
    const p = shape.points[index]!;
    const q = shape.points[next]!;
    const from = shape.handles?.[index] ?? STRAIGHT;
    const to = shape.handles?.[next] ?? STRAIGHT;
    const mix = (a: Point, b: Point): Pair => [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])];
    if (!shape.handles) {
      shape.points.splice(index + 1, 0, mix(p, q));
      continue;
    }
    // De Casteljau: the two halves together are the curve that was.
    const a: Pair = [p[0] + from[2], p[1] + from[3]];
    const b: Pair = [q[0] + to[0], q[1] + to[1]];
    const pa = mix(p, a);
    const ab = mix(a, b);
    const bq = mix(b, q);
    const left = mix(pa, ab);
    const right = mix(ab, bq);
    const middle = mix(left, right);
    const straight = from[2] === 0 && from[3] === 0 && to[0] === 0 && to[1] === 0;
    const place = straight ? mix(p, q) : middle;
    if (!straight) {
      shape.handles[index] = [from[0], from[1], pa[0] - p[0], pa[1] - p[1]];
      shape.handles[next] = [bq[0] - q[0], bq[1] - q[1], to[2], to[3]];
    }
    shape.points.splice(index + 1, 0, place);
    shape.handles.splice(
      index + 1,
      0,
      straight ? [0, 0, 0, 0] : [left[0] - place[0], left[1] - place[1], right[0] - place[0], right[1] - place[1]],
    );
  }
}

/** Takes a point out of every key; false when only three are left. */
export function removePoint(outline: DrawnOutline, index: number): boolean {
  if (outline.points.length <= 3) return false;
  if ('softness' in outline) outline.softness?.splice(index, 1);
  for (const shape of allShapes(outline)) {
    shape.points.splice(index, 1);
    shape.handles?.splice(index, 1);
  }
  return true;
}

export function isCurved(shape: Outline, index: number): boolean {
  return shape.handles?.[index]?.some((v) => v !== 0) ?? false;
}

/** Makes a corner a curve that passes on from neighbour to neighbour, or a curve a corner, in every key. */
export function bendPoint(outline: DrawnOutline, index: number): void {
  const curved = isCurved(outline, index);
  for (const shape of allShapes(outline)) {
    const { points } = shape;
    const n = points.length;
    const before = points[(index + n - 1) % n]!;
    const after = points[(index + 1) % n]!;
    const handles = (shape.handles ??= points.map((): [number, number, number, number] => [0, 0, 0, 0]));
    const x = (after[0] - before[0]) / 6;
    const y = (after[1] - before[1]) / 6;
    handles[index] = curved ? [0, 0, 0, 0] : [-x, -y, x, y];
    if (handles.every((h) => h.every((v) => v === 0))) delete shape.handles;
  }
}

/** Moves one handle of a point to lie `by` from it; the other keeps opposite to it unless `alone`. */
export function moveHandle(
  outline: DrawnOutline,
  at: EditedAt,
  index: number,
  which: 'in' | 'out',
  [x, y]: Point,
  alone: boolean,
): void {
  const shape = shapeFor(outline, at);
  const handles = (shape.handles ??= shape.points.map((): [number, number, number, number] => [0, 0, 0, 0]));
  const [inX, inY, outX, outY] = handles[index]!;
  const other = which === 'in' ? Math.hypot(outX, outY) : Math.hypot(inX, inY);
  const length = Math.hypot(x, y);
  const k = length > 0 ? -other / length : 0;
  if (which === 'in') handles[index] = alone ? [x, y, outX, outY] : [x, y, k * x, k * y];
  else handles[index] = alone ? [inX, inY, x, y] : [k * x, k * y, x, y];
}

/** Moves a key in time; false where another one stands already, or the reference. */
export function moveKey(outline: DrawnOutline, from: number, to: number, referenceFrame: number): boolean {
  const key = outline.keys?.find((k) => k.frame === from);
  if (!key || to < 0 || to === referenceFrame || outline.keys!.some((k) => k.frame === to)) return false;
  key.frame = to;
  outline.keys!.sort((a, b) => a.frame - b.frame);
  return true;
}

export function removeKey(outline: DrawnOutline, frame: number): void {
  outline.keys = outline.keys?.filter((key) => key.frame !== frame);
  if (outline.keys?.length === 0) delete outline.keys;
}

/** Frames with a key, that of the reference included, when there is any but that. */
export function keyFrames(outline: KeyedOutline, referenceFrame: number): number[] {
  return outline.keys?.length ? keysOf(outline, referenceFrame).map((key) => key.frame) : [];
}
