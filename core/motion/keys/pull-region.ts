import type { Point } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';

/** How far round its corners a surface is looked at, of its size. */
const AROUND = 0.06;

/** A region for a surface of which only the corners are known: a little more than it, so that its border is in it. */
export function grownQuad(quad: Quad): Point[] {
  const [cx, cy] = [0, 1].map((k) => quad.reduce((s, p) => s + p[k]!, 0) / 4) as [number, number];
  return quad.map(([x, y]): Point => [x + AROUND * (x - cx), y + AROUND * (y - cy)]);
}
