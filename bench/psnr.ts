import { contains } from '../core/base/geometry/polygon.ts';
import type { Point } from '../core/base/geometry/homography.ts';

/**
 * Peak signal-to-noise ratio in dB over the 8-bit codes (all channels together) of pixels whose centres
 * lie inside the outline: 10·log10(255² / mean squared error).
 */
export function psnrInside(
  a: ArrayLike<number>,
  b: ArrayLike<number>,
  width: number,
  height: number,
  outline: readonly Point[],
): number {
  let sum = 0;
  let count = 0;
  for (let row = 0; row < height; row++) {
    for (let col = 0; col < width; col++) {
      if (!contains(outline, col + 0.5, row + 0.5)) continue;
      const at = (row * width + col) * 3;
      for (let c = 0; c < 3; c++) sum += (a[at + c]! - b[at + c]!) ** 2;
      count += 3;
    }
  }
  return 10 * Math.log10((255 * 255) / Math.max(1e-9, sum / count));
}
