import { clamp } from '../../base/geometry/clamp.ts';
import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { lightTable } from '../../base/image/transfer.ts';

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
  const left = Math.max(0, Math.floor(rect.left) - MARGIN);
  const top = Math.max(0, Math.floor(rect.top) - MARGIN);
  const right = Math.min(width, Math.ceil(rect.right) + MARGIN);
  const bottom = Math.min(height, Math.ceil(rect.bottom) + MARGIN);
  const w = right - left;
  const h = bottom - top;
  const light = own ?? lightTable(peak);
  if (!(w > 4 && h > 4)) return null;
  // One column more on either side, as long as there is one; of the rows smoothed across, the last three are kept.
  const line = new Float32Array(w + 2);
  const across = [new Float32Array(w), new Float32Array(w), new Float32Array(w)] as const;
  const data = new Float32Array(w * h);
  const [from, to] = [Math.max(0, left - 1), Math.min(width, right + 1)];
  for (let j = -1; j <= h; j++) {
    const row = clamp(top + j, 0, height - 1) * width;
    const put = from - left + 1;
    if (codes instanceof Uint8Array) lookUp8(codes, row + from, row + to, light, line, put);
    else lookUp16(codes, row + from, row + to, light, line, put);
    if (from === left) line[0] = line[1]!;
    if (to === right) line[w + 1] = line[w]!;
    const third = across[(j + 1) % 3]!;
    smooth3(line, w, third);
    if (j >= 1) smoothDown(across[(j - 1) % 3]!, across[j % 3]!, third, data, (j - 1) * w);
  }
  return { left, top, width: w, height: h, data };
}

// One loop for each kind of array: one for both is several times slower.
function lookUp8(
  codes: Uint8Array,
  from: number,
  to: number,
  light: Float32Array,
  line: Float32Array,
  put: number,
): void {
  for (let k = from; k < to; k++) line[put + k - from] = light[codes[k]!]!;
}
function lookUp16(
  codes: Uint16Array,
  from: number,
  to: number,
  light: Float32Array,
  line: Float32Array,
  put: number,
): void {
  for (let k = from; k < to; k++) line[put + k - from] = light[codes[k]!]!;
}
function smooth3(line: Float32Array, count: number, out: Float32Array): void {
  for (let i = 0; i < count; i++) out[i] = 0.25 * line[i]! + 0.5 * line[i + 1]! + 0.25 * line[i + 2]!;
}
function smoothDown(
  above: Float32Array,
  here: Float32Array,
  below: Float32Array,
  data: Float32Array,
  at: number,
): void {
  for (let i = 0; i < here.length; i++) data[at + i] = 0.25 * above[i]! + 0.5 * here[i]! + 0.25 * below[i]!;
}
