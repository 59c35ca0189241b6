import { clamp } from '../../base/geometry/clamp.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { bounds } from '../../base/geometry/quad.ts';
import { maskOutline } from './mask-outline.ts';

/** Squares that a brush's half width is divided into, at least; and most squares along a stroke's longer side. */
const FINE = 6;
const MOST_SQUARES = 600;
/** Outlines are drawn with so few points that they are off by no more than this many squares. */
const OFF = 0.35;

/**
 * The outline of what a round brush paints along a path, in the path's own unit; the largest where it falls apart. A path that closes on itself covers what is
 * within it too. Empty for no path or no width.
 */
export function strokeOutline(path: readonly Point[], halfWidth: number): Point[] {
  if (path.length === 0 || !(halfWidth > 0)) return [];
  const { left, top, right, bottom } = bounds(path);
  const cell = Math.max(halfWidth / FINE, (Math.max(right - left, bottom - top) + 2 * halfWidth) / MOST_SQUARES);
  const pad = Math.ceil(halfWidth / cell) + 2;
  const columns = Math.ceil((right - left) / cell) + 2 * pad + 1;
  const rows = Math.ceil((bottom - top) / cell) + 2 * pad + 1;
  const values = new Array<number>(columns * rows).fill(0);
  const x0 = left - pad * cell;
  const y0 = top - pad * cell;
  for (let i = 0; i < Math.max(1, path.length - 1); i++) {
    const a = path[i]!;
    const b = path[Math.min(path.length - 1, i + 1)]!;
    const dx = b[0] - a[0];
    const dy = b[1] - a[1];
    const length2 = dx * dx + dy * dy;
    const c0 = Math.max(0, Math.floor((Math.min(a[0], b[0]) - halfWidth - x0) / cell) - 1);
    const c1 = Math.min(columns - 1, Math.ceil((Math.max(a[0], b[0]) + halfWidth - x0) / cell) + 1);
    const r0 = Math.max(0, Math.floor((Math.min(a[1], b[1]) - halfWidth - y0) / cell) - 1);
    const r1 = Math.min(rows - 1, Math.ceil((Math.max(a[1], b[1]) + halfWidth - y0) / cell) + 1);
    for (let row = r0; row <= r1; row++) {
      for (let col = c0; col <= c1; col++) {
        const x = x0 + (col + 0.5) * cell;
        const y = y0 + (row + 0.5) * cell;
        const t = length2 > 0 ? clamp(((x - a[0]) * dx + (y - a[1]) * dy) / length2, 0, 1) : 0;
        const inside = halfWidth - Math.hypot(x - a[0] - t * dx, y - a[1] - t * dy);
        // A slope over one square, so that the outline passes between squares.
        const share = clamp(inside / cell + 0.5, 0, 1);
        if (share > values[row * columns + col]!) values[row * columns + col] = share;
      }
    }
  }
  return maskOutline(values, columns, rows, OFF).map(([x, y]): Point => [x0 + x * cell, y0 + y * cell]);
}
