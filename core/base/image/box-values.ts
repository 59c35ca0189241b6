import { clamp } from '../geometry/clamp.ts';
import type { CodedPicture } from './picture.ts';

type Three = [number, number, number];

/**
 * Mean, darkest and brightest of a box of pixels, per channel, in codes over the peak: 0…1 for integers, as they come
 * for floats. The box is cut to the picture; of a box outside it, the nearest pixel stands.
 */
export function boxValues(
  picture: CodedPicture,
  box: { x: number; y: number; width: number; height: number },
): { mean: Three; darkest: Three; brightest: Three } {
  const left = clamp(box.x, 0, picture.width - 1);
  const top = clamp(box.y, 0, picture.height - 1);
  const right = Math.max(left + 1, Math.min(picture.width, box.x + box.width));
  const bottom = Math.max(top + 1, Math.min(picture.height, box.y + box.height));
  const mean: Three = [0, 0, 0];
  const darkest: Three = [Infinity, Infinity, Infinity];
  const brightest: Three = [-Infinity, -Infinity, -Infinity];
  for (let y = top; y < bottom; y++) {
    for (let x = left; x < right; x++) {
      for (let c = 0; c < 3; c++) {
        const value = picture.data[(y * picture.width + x) * 3 + c]! / picture.peak;
        mean[c]! += value / ((right - left) * (bottom - top));
        darkest[c] = Math.min(darkest[c]!, value);
        brightest[c] = Math.max(brightest[c]!, value);
      }
    }
  }
  return { mean, darkest, brightest };
}
