import { clamp } from '../../base/geometry/clamp.ts';
import type { CodedPicture } from '../../base/image/picture.ts';

/** Three codes of a picture at a place (continuous px), bilinear, the border repeated, added to `out` from `at` on, each times `share`. */
export function addCodes(
  { width, height, data }: CodedPicture,
  x: number,
  y: number,
  out: Float32Array,
  at: number,
  share = 1,
): void {
  const px = clamp(x - 0.5, 0, width - 1.001);
  const py = clamp(y - 0.5, 0, height - 1.001);
  const ix = Math.floor(px);
  const iy = Math.floor(py);
  const fx = px - ix;
  const fy = py - iy;
  const k = 3 * (iy * width + ix);
  const below = k + 3 * width;
  for (let c = 0; c < 3; c++)
    out[at + c]! +=
      share *
      ((1 - fy) * ((1 - fx) * data[k + c]! + fx * data[k + 3 + c]!) +
        fy * ((1 - fx) * data[below + c]! + fx * data[below + 3 + c]!));
}
