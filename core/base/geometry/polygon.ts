import { bounds } from './quad.ts';
import type { Point } from './homography.ts';

/** True when the point is inside, by the even-odd rule. */
export function contains(polygon: readonly Point[], x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) {
    const [xi, yi] = polygon[i]!;
    const [xj, yj] = polygon[j]!;
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
  }
  return inside;
}

/**
 * Sets mask pixels whose centres are inside the polygon (even-odd) to `value`. The polygon is given in
 * continuous pixels of the mask; parts outside the mask are dropped.
 */
export function fillPolygon(
  mask: Uint8Array,
  width: number,
  height: number,
  polygon: readonly Point[],
  value: number,
): void {
  const box = bounds(polygon);
  const first = Math.max(0, Math.ceil(box.top - 0.5));
  const last = Math.min(height - 1, Math.floor(box.bottom - 0.5));
  const crossings: number[] = [];
  for (let row = first; row <= last; row++) {
    const y = row + 0.5;
    crossings.length = 0;
    for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) {
      const [xi, yi] = polygon[i]!;
      const [xj, yj] = polygon[j]!;
      if (yi > y !== yj > y) crossings.push(((xj - xi) * (y - yi)) / (yj - yi) + xi);
    }
    crossings.sort((a, b) => a - b);
    for (let k = 0; k + 1 < crossings.length; k += 2) {
      const from = Math.max(0, Math.ceil(crossings[k]! - 0.5));
      const to = Math.min(width - 1, Math.ceil(crossings[k + 1]! - 0.5) - 1);
      if (to >= from) mask.fill(value, row * width + from, row * width + to + 1);
    }
  }
}
