import type { LumaFrame } from '../follow/follow-plan.ts';
import { lightTable } from '../image/transfer.ts';

/** A part of a picture in light, smoothed 1-2-1 both ways: cubic interpolation is honest only on a picture without detail at the sampling limit. */
export interface LightWindow {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array;
}

export interface Rect {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** Samples around a place that interpolation needs. */
const MARGIN = 3;

/** The part of a picture that lies in a rectangle (continuous pixels), as far as there is a picture; null where there is none. */
export function lightWindow({ width, height, codes, peak, light: own }: LumaFrame, rect: Rect): LightWindow | null {
  const left = Math.max(0, Math.floor(rect.left) - MARGIN), top = Math.max(0, Math.floor(rect.top) - MARGIN);
  const right = Math.min(width, Math.ceil(rect.right) + MARGIN), bottom = Math.min(height, Math.ceil(rect.bottom) + MARGIN);
  const w = right - left, h = bottom - top, light = own ?? lightTable(peak);
  if (!(w > 4 && h > 4)) return null;
  const across = new Float32Array(w * (h + 2)), data = new Float32Array(w * h);
  for (let j = -1; j <= h; j++) {
    const row = Math.min(height - 1, Math.max(0, top + j)) * width, out = (j + 1) * w;
    for (let i = 0; i < w; i++) {
      const x = left + i;
      across[out + i] = 0.25 * light[codes[row + Math.max(0, x - 1)]!]! + 0.5 * light[codes[row + x]!]! + 0.25 * light[codes[row + Math.min(width - 1, x + 1)]!]!;
    }
  }
  for (let j = 0; j < h; j++) for (let i = 0; i < w; i++) data[j * w + i] = 0.25 * across[j * w + i]! + 0.5 * across[(j + 1) * w + i]! + 0.25 * across[(j + 2) * w + i]!;
  return { left, top, width: w, height: h, data };
}

/** Light and its slopes across and down, as `sampleWindow` leaves them. */
export type LightSample = [value: number, dx: number, dy: number];

/**
 * Light and its slopes at continuous picture coordinates into `out`; false where the window does not reach.
 * Source: R. Keys, Cubic convolution interpolation for digital image processing, IEEE Trans. ASSP 29(6), 1981, a = −0.5, and its derivative.
 */
export function sampleWindow({ left, top, width, height, data }: LightWindow, x: number, y: number, out: LightSample): boolean {
  const px = x - left - 0.5, py = y - top - 0.5, ix = Math.floor(px), iy = Math.floor(py);
  if (!(ix >= 1 && iy >= 1 && ix < width - 2 && iy < height - 2)) return false;
  const t = px - ix, t2 = t * t, t3 = t2 * t, s = py - iy, s2 = s * s, s3 = s2 * s;
  const a0 = -0.5 * t3 + t2 - 0.5 * t, a1 = 1.5 * t3 - 2.5 * t2 + 1, a2 = -1.5 * t3 + 2 * t2 + 0.5 * t, a3 = 0.5 * t3 - 0.5 * t2;
  const d0 = -1.5 * t2 + 2 * t - 0.5, d1 = 4.5 * t2 - 5 * t, d2 = -4.5 * t2 + 4 * t + 0.5, d3 = 1.5 * t2 - t;
  const b0 = -0.5 * s3 + s2 - 0.5 * s, b1 = 1.5 * s3 - 2.5 * s2 + 1, b2 = -1.5 * s3 + 2 * s2 + 0.5 * s, b3 = 0.5 * s3 - 0.5 * s2;
  const e0 = -1.5 * s2 + 2 * s - 0.5, e1 = 4.5 * s2 - 5 * s, e2 = -4.5 * s2 + 4 * s + 0.5, e3 = 1.5 * s2 - s;
  let value = 0, dx = 0, dy = 0, at = (iy - 1) * width + ix - 1;
  for (let j = 0; j < 4; j++, at += width) {
    const p = data[at]!, q = data[at + 1]!, r = data[at + 2]!, u = data[at + 3]!;
    const row = a0 * p + a1 * q + a2 * r + a3 * u, b = j === 0 ? b0 : j === 1 ? b1 : j === 2 ? b2 : b3, e = j === 0 ? e0 : j === 1 ? e1 : j === 2 ? e2 : e3;
    value += b * row;
    dx += b * (d0 * p + d1 * q + d2 * r + d3 * u);
    dy += e * row;
  }
  out[0] = value;
  out[1] = dx;
  out[2] = dy;
  return true;
}
