import type { Point } from './homography.ts';

/** The convex hull of points, the same way round as a quad whose corners go left to right along its top (y down); points on its sides are left out. Source: A. M. Andrew, Another efficient algorithm for convex hulls in two dimensions, Information Processing Letters 9(5), 1979. */
export function convexHull(points: readonly Point[]): Point[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const turn = (o: Point, a: Point, b: Point) => (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0]);
  const chain = (list: readonly Point[]): Point[] => {
    const out: Point[] = [];
    for (const p of list) {
      while (out.length >= 2 && turn(out.at(-2)!, out.at(-1)!, p) <= 1e-9) out.pop();
      out.push(p);
    }
    out.pop();
    return out;
  };
  return sorted.length < 3 ? sorted : [...chain(sorted), ...chain(sorted.reverse())];
}
