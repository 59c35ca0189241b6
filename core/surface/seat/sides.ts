import { allThere, mapTuple } from '../../base/geometry/map-tuple.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { distance, signedArea, type Quad } from '../../base/geometry/quad.ts';

export const SIDE_NAMES = ['top', 'right', 'bottom', 'left'] as const;

/** A straight line from `from` to `to` in the picture, with the direction that leads out of the surface. */
export interface SideLine {
  readonly from: Point;
  readonly to: Point;
  readonly length: number;
  /** Unit vector outward. */
  readonly normal: Point;
}

/** Side k of a quad leads from its corner k to the next. */
export function sideOf(quad: Quad, k: number): SideLine {
  const from = quad[k]!;
  const to = quad[(k + 1) % 4]!;
  const length = distance(from, to);
  const turn = signedArea(quad) >= 0 ? 1 : -1;
  return { from, to, length, normal: [(turn * (to[1] - from[1])) / length, (-turn * (to[0] - from[0])) / length] };
}

/** The point at the share `t` along a side, `s` px out of it. */
export function sidePoint({ from, to, normal }: SideLine, t: number, s: number): Point {
  return [from[0] + (to[0] - from[0]) * t + normal[0] * s, from[1] + (to[1] - from[1]) * t + normal[1] * s];
}

/** The same line `atFrom` px further out at its beginning and `atTo` px at its end. */
export function shiftedSide(side: SideLine, atFrom: number, atTo: number): SideLine {
  const from = sidePoint(side, 0, atFrom);
  const to = sidePoint(side, 1, atTo);
  const length = distance(from, to);
  // The new normal is the old one turned as the line is.
  const turn =
    Math.sign(side.normal[0] * (side.to[1] - side.from[1]) - side.normal[1] * (side.to[0] - side.from[0])) || 1;
  return { from, to, length, normal: [(turn * (to[1] - from[1])) / length, (-turn * (to[0] - from[0])) / length] };
}

/** Where two lines meet; null when they are (nearly) parallel. */
export function meetingPoint(a: SideLine, b: SideLine): Point | null {
  const ax = a.to[0] - a.from[0];
  const ay = a.to[1] - a.from[1];
  const bx = b.to[0] - b.from[0];
  const by = b.to[1] - b.from[1];
  const cross = ax * by - ay * bx;
  if (Math.abs(cross) < 1e-4 * a.length * b.length) return null;
  const t = ((b.from[0] - a.from[0]) * by - (b.from[1] - a.from[1]) * bx) / cross;
  return [a.from[0] + t * ax, a.from[1] + t * ay];
}

/** The quad whose sides lie on four lines; corner k is where sides k−1 and k meet. Null when two neighbours are parallel. */
export function quadOfSides(sides: readonly SideLine[]): Quad | null {
  return allThere(mapTuple([0, 1, 2, 3], (k) => meetingPoint(sides[(k + 3) % 4]!, sides[k]!)));
}
