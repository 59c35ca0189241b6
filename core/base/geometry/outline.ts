import { clamp } from './clamp.ts';
import { mapTuple } from './map-tuple.ts';
import type { Point } from './homography.ts';

/** Where a point's incoming and outgoing Bézier handles lie, relative to it. */
export type HandlePair = readonly [inX: number, inY: number, outX: number, outY: number];

/** A closed outline: straight from point to point, or cubic Bézier curves where there are handles. */
export interface Outline {
  readonly points: readonly Point[];
  /** One for each point; straight when absent. */
  readonly handles?: readonly HandlePair[] | undefined;
}

export interface OutlineKey extends Outline {
  readonly frame: number;
}

/** An outline that may change over time: `points` is it on the reference frame, `keys` on others; linear between them, still before the first and after the last. */
export interface KeyedOutline extends Outline {
  readonly keys?: readonly OutlineKey[] | undefined;
  /** Drawn, but not looked at. */
  readonly off?: boolean | undefined;
}

/** Outlines that count. */
export function inUse<T extends KeyedOutline>(outlines: readonly T[]): T[] {
  return outlines.filter((outline) => !outline.off);
}

/** All keys in the order of their frames, that of the reference frame included. */
export function keysOf({ points, handles, keys = [] }: KeyedOutline, referenceFrame: number): OutlineKey[] {
  const others = keys.filter((key) => key.frame !== referenceFrame);
  return [{ frame: referenceFrame, points, handles }, ...others].sort((a, b) => a.frame - b.frame);
}

/** The outline on a frame. Keys must have as many points as the outline. */
export function outlineAt(outline: KeyedOutline, referenceFrame: number, frame: number): Outline {
  if (!outline.keys?.length) return outline;
  const keys = keysOf(outline, referenceFrame);
  const after = keys.findIndex((key) => key.frame >= frame);
  if (after <= 0) return keys[after === 0 ? 0 : keys.length - 1]!;
  const from = keys[after - 1]!;
  const to = keys[after]!;
  const t = (frame - from.frame) / (to.frame - from.frame);
  const mix = (a: number, b: number) => a + t * (b - a);
  const points = from.points.map(([x, y], i): Point => [mix(x, to.points[i]![0]), mix(y, to.points[i]![1])]);
  if (!from.handles && !to.handles) return { points };
  const handleOf = (key: OutlineKey, i: number): HandlePair => key.handles?.[i] ?? STRAIGHT;
  return {
    points,
    handles: points.map((_, i) => mapTuple(handleOf(from, i), (v, k) => mix(v, handleOf(to, i)[k]!))),
  };
}
export const STRAIGHT: HandlePair = [0, 0, 0, 0];

/** Longest piece of a flattened curve, px, and most pieces between two points. */
const PIECE = 2;
const MOST_PIECES = 64;

/** The outline as a polygon; curves in pieces of about two pixels. */
export function polygonOf({ points, handles }: Outline): Point[] {
  if (!handles) return [...points];
  return points.flatMap((from, i) => {
    const next = (i + 1) % points.length;
    const to = points[next]!;
    const [, , outX, outY] = handles[i] ?? STRAIGHT;
    const [inX, inY] = handles[next] ?? STRAIGHT;
    if (outX === 0 && outY === 0 && inX === 0 && inY === 0) return [from];
    const a: Point = [from[0] + outX, from[1] + outY];
    const b: Point = [to[0] + inX, to[1] + inY];
    const length = Math.hypot(outX, outY) + Math.hypot(b[0] - a[0], b[1] - a[1]) + Math.hypot(inX, inY);
    const pieces = clamp(Math.ceil(length / PIECE), 2, MOST_PIECES);
    return Array.from({ length: pieces }, (_, k) => bezier(from, a, b, to, k / pieces));
  });
}

/** A point of a cubic Bézier curve: Bernstein's polynomials of degree 3. */
function bezier(p: Point, a: Point, b: Point, q: Point, t: number): Point {
  const s = 1 - t;
  const wp = s * s * s;
  const wa = 3 * s * s * t;
  const wb = 3 * s * t * t;
  const wq = t * t * t;
  return [wp * p[0] + wa * a[0] + wb * b[0] + wq * q[0], wp * p[1] + wa * a[1] + wb * b[1] + wq * q[1]];
}

/** Between two keys the outline is looked at so many times to tell all that it covers. */
const STEPS_BETWEEN = 8;

/** Polygons that together cover all that the outline covers on any frame. */
export function everCovered(outline: KeyedOutline, referenceFrame: number): Point[][] {
  const keys = keysOf(outline, referenceFrame);
  const frames = [keys[0]!.frame];
  for (let k = 1; k < keys.length; k++) {
    const from = keys[k - 1]!.frame;
    const steps = Math.min(STEPS_BETWEEN, keys[k]!.frame - from);
    for (let s = 1; s <= steps; s++) frames.push(from + ((keys[k]!.frame - from) * s) / steps);
  }
  return frames.map((frame) => polygonOf(outlineAt(outline, referenceFrame, frame)));
}

/** The outline with every point carried by a map; handles go with the difference to their carried point. */
export function carryOutline<O extends KeyedOutline>(outline: O, carry: (point: Point) => Point): O {
  const one = ({ points, handles }: Outline) => ({
    points: points.map((p) => [...carry(p)]),
    ...(handles ? { handles: handles.map((h, i) => carryHandles(points[i]!, h, carry)) } : {}),
  });
  return {
    ...outline,
    ...one(outline),
    ...(outline.keys ? { keys: outline.keys.map((key) => ({ ...key, ...one(key) })) } : {}),
  };
}

function carryHandles(point: Point, [inX, inY, outX, outY]: HandlePair, carry: (point: Point) => Point): HandlePair {
  const at = carry(point);
  const before = carry([point[0] + inX, point[1] + inY]);
  const after = carry([point[0] + outX, point[1] + outY]);
  return [before[0] - at[0], before[1] - at[1], after[0] - at[0], after[1] - at[1]];
}

/** Which key has another number of points (or handles) than the outline; null when all fit. */
export function keyThatDoesNotFit({ points, handles, keys = [] }: KeyedOutline): OutlineKey | { frame: null } | null {
  if (handles && handles.length !== points.length) return { frame: null };
  return (
    keys.find((key) => key.points.length !== points.length || (key.handles && key.handles.length !== points.length)) ??
    null
  );
}
