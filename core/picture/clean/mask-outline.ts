import { contours } from 'd3-contour';
import simplify from 'simplify-js';
import type { Point } from '../../base/geometry/homography.ts';
import { signedArea } from '../../base/geometry/quad.ts';

/** The largest outline around what a mask (0…1) covers by half, its holes covered too, in squares of the mask; with so few points that it is off by no more than `off` squares. Empty where nothing is covered. */
export function maskOutline(mask: readonly number[], columns: number, rows: number, off: number): Point[] {
  const rings = contours()
    .size([columns, rows])
    .contour([...mask], 0.5)
    .coordinates.map(([ring]) => ring!.slice(0, -1).map(([x, y]): Point => [x!, y!]));
  const largest = rings.reduce<Point[]>((a, b) => (Math.abs(signedArea(b)) > Math.abs(signedArea(a)) ? b : a), []);
  return simplify(
    largest.map(([x, y]) => ({ x, y })),
    off,
    true,
  ).map(({ x, y }): Point => [x, y]);
}
