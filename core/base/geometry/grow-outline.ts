import type { Point } from './homography.ts';
import { signedArea } from './quad.ts';

/** A corner goes out along its mitre at most so many times as far as its sides. */
const MOST_MITRE = 3;

/** A closed outline whose sides all lie `by` px further out (in when negative); each corner where its moved sides meet. Sides of no length are left out. */
export function grownOutline(outline: readonly Point[], by: number): Point[] {
  const points = outline.filter((p, i) => {
    const before = outline[(i + outline.length - 1) % outline.length]!;
    return (p[0] - before[0]) ** 2 + (p[1] - before[1]) ** 2 > 1e-12;
  });
  if (points.length < 3 || by === 0) return [...points];
  const way = signedArea(points) > 0 ? by : -by;
  const normals = points.map(([x, y], i): Point => {
    const next = points[(i + 1) % points.length]!;
    const dx = next[0] - x;
    const dy = next[1] - y;
    const length = Math.hypot(dx, dy);
    return [dy / length, -dx / length];
  });
  return points.map(([x, y], i): Point => {
    const a = normals[(i + points.length - 1) % points.length]!;
    const b = normals[i]!;
    const along = 1 + a[0] * b[0] + a[1] * b[1];
    const stretch = way / Math.max(along, 2 / MOST_MITRE ** 2);
    return [x + (a[0] + b[0]) * stretch, y + (a[1] + b[1]) * stretch];
  });
}
