import { clamp } from '../../base/geometry/clamp.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { maskOutline } from './mask-outline.ts';

/** Outlines are drawn with so few points that they are off by no more than this, px. */
const OFF = 0.25;

/** The outline of a set of pixels (their indices in a picture so wide), `by` px outside of them; what they enclose belongs to it. In px. */
export function partOutline(part: readonly number[], width: number, by: number): Point[] {
  const xs = part.map((i) => i % width);
  const ys = part.map((i) => Math.floor(i / width));
  const pad = Math.ceil(by) + 2;
  const x0 = Math.min(...xs) - pad;
  const y0 = Math.min(...ys) - pad;
  const columns = Math.max(...xs) - x0 + pad + 1;
  const rows = Math.max(...ys) - y0 + pad + 1;
  const values = new Array<number>(columns * rows).fill(0);
  const reach = Math.ceil(by) + 1;
  part.forEach((_, k) => {
    const cx = xs[k]! - x0;
    const cy = ys[k]! - y0;
    for (let y = cy - reach; y <= cy + reach; y++) {
      for (let x = cx - reach; x <= cx + reach; x++) {
        // A slope over one pixel, so that the outline passes between pixels.
        const share = clamp(by + 0.5 - Math.hypot(x - cx, y - cy) + 0.5, 0, 1);
        if (share > values[y * columns + x]!) values[y * columns + x] = share;
      }
    }
  });
  return maskOutline(values, columns, rows, OFF).map(([x, y]): Point => [x0 + x, y0 + y]);
}
