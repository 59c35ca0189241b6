import type { Point } from './homography.ts';

/** Four corners, clockwise on the content's own upright picture: top-left, top-right, bottom-right, bottom-left. */
export type Quad = readonly [Point, Point, Point, Point];

export const CORNER_NAMES = ['top-left', 'top-right', 'bottom-right', 'bottom-left'] as const;

/** The unit square in the same order: the surface's own coordinates. */
export const UNIT_SQUARE: Quad = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
];

/** Signed area in px²: positive when the corners run clockwise on the picture (y down). */
export function signedArea(points: readonly Point[]): number {
  let sum = 0;
  points.forEach(([x, y], i) => {
    const [nx, ny] = points[(i + 1) % points.length]!;
    sum += x * ny - nx * y;
  });
  return sum / 2;
}

export function bounds(points: readonly Point[]): { left: number; top: number; right: number; bottom: number } {
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  return { left: Math.min(...xs), top: Math.min(...ys), right: Math.max(...xs), bottom: Math.max(...ys) };
}

export function distance(a: Point, b: Point): number {
  return Math.hypot(a[0] - b[0], a[1] - b[1]);
}

/** What is wrong with four corners as the picture of a rectangle, or null when nothing is. */
export type QuadFault = 'crossed' | 'concave' | 'too-small';

/** The smallest side length, in pixels, that can carry a picture. */
export const SMALLEST_SIDE = 2;

/**
 * A rectangle seen by a camera is always a convex quad; crossed or dented corners are slips of the
 * hand. A mirrored order (anticlockwise) is allowed: it is a screen seen in a mirror.
 */
export function quadFault(quad: Quad): QuadFault | null {
  if (segmentsCross(quad[0], quad[1], quad[2], quad[3]) || segmentsCross(quad[1], quad[2], quad[3], quad[0]))
    return 'crossed';
  for (let i = 0; i < 4; i++) {
    if (distance(quad[i]!, quad[(i + 1) % 4]!) < SMALLEST_SIDE) return 'too-small';
  }
  const turns = quad.map((corner, i) => turn(corner, quad[(i + 1) % 4]!, quad[(i + 2) % 4]!));
  const convex = turns.every((t) => t > 0) || turns.every((t) => t < 0);
  return convex ? null : 'concave';
}

/** Width over height that the quad suggests: mean of opposite side lengths. Exact only for a frontal view. */
export function sideRatio(quad: Quad): number {
  const across = distance(quad[0], quad[1]) + distance(quad[3], quad[2]);
  const down = distance(quad[0], quad[3]) + distance(quad[1], quad[2]);
  return across / down;
}

function turn(a: Point, b: Point, c: Point): number {
  return (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]);
}

function segmentsCross(a: Point, b: Point, c: Point, d: Point): boolean {
  const side = (p: Point, q: Point, r: Point) => Math.sign(turn(p, q, r));
  return side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0;
}

/** How far corners go from the frame before to the one after, px a frame; the farthest of them. 0 where no neighbour is known. */
export function speedOfCorners(before: Quad | null | undefined, now: Quad, after: Quad | null | undefined): number {
  const from = before ?? now;
  const to = after ?? now;
  const frames = (before ? 1 : 0) + (after ? 1 : 0);
  return frames === 0 ? 0 : Math.max(...from.map((p, i) => distance(p, to[i]!))) / frames;
}
