import { clamp } from '../geometry/clamp.ts';
import type { Plane } from './plane.ts';

/**
 * Value at sample-index coordinates (x, y) (pixel centres at integers), interpolated bilinearly;
 * outside, the border repeats.
 */
export function sampleBilinear(plane: Plane, x: number, y: number): number {
  const { width, height, data } = plane;
  const cx = clamp(x, 0, width - 1);
  const cy = clamp(y, 0, height - 1);
  const x0 = Math.min(width - 2 < 0 ? 0 : width - 2, Math.floor(cx));
  const y0 = Math.min(height - 2 < 0 ? 0 : height - 2, Math.floor(cy));
  const fx = cx - x0;
  const fy = cy - y0;
  const right = width > 1 ? 1 : 0;
  const down = height > 1 ? width : 0;
  const at = y0 * width + x0;
  const top = data[at]! + (data[at + right]! - data[at]!) * fx;
  const bottom = data[at + down]! + (data[at + down + right]! - data[at + down]!) * fx;
  return top + (bottom - top) * fy;
}

/**
 * Cubic convolution with a = −0.5 (third-order exact); outside, the border repeats.
 * Source: R. Keys, Cubic convolution interpolation for digital image processing, IEEE Trans. ASSP 29(6), 1981.
 */
export function sampleBicubic(plane: Plane, x: number, y: number): number {
  const { width, height, data } = plane;
  const x0 = Math.floor(x);
  const y0 = Math.floor(y);
  cubicWeights(x - x0, wx);
  cubicWeights(y - y0, wy);
  let sum = 0;
  for (let j = 0; j < 4; j++) {
    const row = clamp(y0 - 1 + j, 0, height - 1) * width;
    let line = 0;
    for (let i = 0; i < 4; i++) line += wx[i]! * data[row + clamp(x0 - 1 + i, 0, width - 1)]!;
    sum += wy[j]! * line;
  }
  return sum;
}
const wx = new Float64Array(4);
const wy = new Float64Array(4);

/** Weights of the four samples about a place `t` (0…1) after the second of them; `sampleBicubic` says whose. */
export function cubicWeights(t: number, out: Float64Array): void {
  const t2 = t * t;
  const t3 = t2 * t;
  out[0] = -0.5 * t3 + t2 - 0.5 * t;
  out[1] = 1.5 * t3 - 2.5 * t2 + 1;
  out[2] = -1.5 * t3 + 2 * t2 + 0.5 * t;
  out[3] = 0.5 * t3 - 0.5 * t2;
}
