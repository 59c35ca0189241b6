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
