import type { LumaFrame } from './luma-frame.ts';
import { lightTable } from './transfer.ts';

/** A picture whose light can be asked for anywhere between its pixels. */
export interface LightPicture {
  readonly width: number;
  readonly height: number;
  readonly codes: Uint8Array | Uint16Array;
  /** Light of every code. */
  readonly light: Float32Array;
}

/** Light is what lenses and shutters average: an edge's middle lies in it, and not in codes, however blurred it is. */
export function lightPicture({ width, height, codes, peak }: LumaFrame): LightPicture {
  return { width, height, codes, light: lightTable(peak) };
}

/**
 * Light at continuous picture coordinates (centres at half), NaN where the picture does not reach.
 * Source: R. Keys, Cubic convolution interpolation for digital image processing, IEEE Trans. ASSP 29(6), 1981, a = −0.5.
 */
export function sampleLight({ width, height, codes, light }: LightPicture, x: number, y: number): number {
  const px = x - 0.5;
  const py = y - 0.5;
  const ix = Math.floor(px);
  const iy = Math.floor(py);
  if (!(ix >= 1 && iy >= 1 && ix < width - 2 && iy < height - 2)) return NaN;
  const fx = px - ix;
  const fy = py - iy;
  const fx2 = fx * fx;
  const fx3 = fx2 * fx;
  const fy2 = fy * fy;
  const fy3 = fy2 * fy;
  const a = -0.5 * fx3 + fx2 - 0.5 * fx;
  const b = 1.5 * fx3 - 2.5 * fx2 + 1;
  const c = -1.5 * fx3 + 2 * fx2 + 0.5 * fx;
  const d = 0.5 * fx3 - 0.5 * fx2;
  let at = (iy - 1) * width + ix - 1;
  const row0 =
    a * light[codes[at]!]! + b * light[codes[at + 1]!]! + c * light[codes[at + 2]!]! + d * light[codes[at + 3]!]!;
  at += width;
  const row1 =
    a * light[codes[at]!]! + b * light[codes[at + 1]!]! + c * light[codes[at + 2]!]! + d * light[codes[at + 3]!]!;
  at += width;
  const row2 =
    a * light[codes[at]!]! + b * light[codes[at + 1]!]! + c * light[codes[at + 2]!]! + d * light[codes[at + 3]!]!;
  at += width;
  const row3 =
    a * light[codes[at]!]! + b * light[codes[at + 1]!]! + c * light[codes[at + 2]!]! + d * light[codes[at + 3]!]!;
  return (
    (-0.5 * fy3 + fy2 - 0.5 * fy) * row0 +
    (1.5 * fy3 - 2.5 * fy2 + 1) * row1 +
    (-1.5 * fy3 + 2 * fy2 + 0.5 * fy) * row2 +
    (0.5 * fy3 - 0.5 * fy2) * row3
  );
}
