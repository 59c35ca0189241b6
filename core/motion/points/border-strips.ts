import type { Point } from '../../base/geometry/homography.ts';
import { distance } from '../../base/geometry/quad.ts';
import type { PointSettings } from './point-plan.ts';

/** No strip is wider than so much of the shortest side, inwards or outwards: a strip must not reach over the quad. */
const WIDEST = 0.4;

/**
 * Strips along the four sides between corner points, half of the pattern to each side of the line: the border of a screen, whatever shows on it. Corners in
 * order around the quad, continuous pixels; the patterns themselves lie where two strips meet.
 */
export function borderStrips(corners: readonly Pick<PointSettings, 'at' | 'pattern'>[]): { points: Point[] }[] {
  const around = (i: number) => corners[(i + corners.length) % corners.length]!;
  const most = WIDEST * Math.min(...corners.map(({ at }, i) => distance(at, around(i + 1).at)));
  const shifted = (by: 1 | -1) =>
    corners.map(({ at, pattern }, i): Point => {
      const [a, b] = [away(around(i - 1).at, at), away(around(i + 1).at, at)];
      const [x, y] = pattern.map((side) => by * Math.min(side / 2, most)) as [number, number];
      return [at[0] + x * (a[0] + b[0]), at[1] + y * (a[1] + b[1])];
    });
  const outer = shifted(1);
  const inner = shifted(-1);
  const next = (i: number) => (i + 1) % corners.length;
  return corners.map((_, i) => ({ points: [outer[i]!, outer[next(i)]!, inner[next(i)]!, inner[i]!] }));
}

/** The direction from one place to another. */
function away(from: Point, to: Point): Point {
  const length = Math.max(1e-9, distance(from, to));
  return [(to[0] - from[0]) / length, (to[1] - from[1]) / length];
}
