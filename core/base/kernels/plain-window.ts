import { substitute } from '../geometry/linear-solve.ts';
import {
  ANCHOR_UNKNOWNS,
  WINDOW,
  WINDOW_AREA,
  WINDOW_HALF,
  WINDOW_SIDE,
  WINDOW_STRIDE,
  type SampledWindow,
} from './kernel-set.ts';

/** Where a shift has settled, samples, and an affine fit; the most that one round may move. */
const SETTLED = 0.01;
const SETTLED_AFFINE = 0.004;
const MOST_STEP = 4;

export function takeWindow({ width, height, data }: SampledWindow, x: number, y: number, out: Float32Array): boolean {
  const x0 = Math.floor(x) - WINDOW_HALF;
  const y0 = Math.floor(y) - WINDOW_HALF;
  if (!(x0 >= 1 && y0 >= 1 && x0 + WINDOW_SIDE + 2 < width && y0 + WINDOW_SIDE + 2 < height)) return false;
  const fx = x - Math.floor(x);
  const fy = y - Math.floor(y);
  const a = (1 - fx) * (1 - fy);
  const b = fx * (1 - fy);
  const c = (1 - fx) * fy;
  const d = fx * fy;
  const at = (i: number) => a * data[i]! + b * data[i + 1]! + c * data[i + width]! + d * data[i + width + 1]!;
  out.fill(0, 0, 3 * WINDOW);
  for (let j = 0; j < WINDOW_SIDE; j++)
    for (let i = 0, k = (y0 + j) * width + x0, n = j * WINDOW_STRIDE; i < WINDOW_SIDE; i++, k++, n++) {
      out[n] = at(k);
      out[n + WINDOW] = (at(k + 1) - at(k - 1)) / 2;
      out[n + 2 * WINDOW] = (at(k + width) - at(k - width)) / 2;
    }
  return true;
}

const taken = new Float32Array(3 * WINDOW);

export function shiftWindow(
  before: SampledWindow,
  x: number,
  y: number,
  { width, height, data }: SampledWindow,
  at: Float64Array,
  rounds: number,
): boolean {
  if (!takeWindow(before, x, y, taken)) return false;
  const mean = [0, 0, 0];
  for (let plane = 0; plane < 3; plane++) {
    for (let n = 0; n < WINDOW; n++) mean[plane]! += taken[plane * WINDOW + n]!;
    mean[plane]! /= WINDOW_AREA;
    for (let n = 0; n < WINDOW; n++) if (n % WINDOW_STRIDE < WINDOW_SIDE) taken[plane * WINDOW + n]! -= mean[plane]!;
  }
  let xx = 0;
  let xy = 0;
  let yy = 0;
  let energy = 0;
  let vx = 0;
  let vy = 0;
  for (let n = 0; n < WINDOW; n++) {
    const v = taken[n]!;
    const gx = taken[n + WINDOW]!;
    const gy = taken[n + 2 * WINDOW]!;
    xx += gx * gx;
    xy += gx * gy;
    yy += gy * gy;
    energy += v * v;
    vx += v * gx;
    vy += v * gy;
  }
  const det = xx * yy - xy * xy;
  if (!(det > (1e-4 * (xx + yy) ** 2) / 4) || !(energy > 1e-9)) return false;
  for (let round = 0; ; round++) {
    const x0 = Math.floor(at[0]!) - WINDOW_HALF;
    const y0 = Math.floor(at[1]!) - WINDOW_HALF;
    if (!(x0 >= 0 && y0 >= 0 && x0 + WINDOW_STRIDE < width && y0 + WINDOW_SIDE + 1 < height)) return false;
    const fx = at[0]! - Math.floor(at[0]!);
    const fy = at[1]! - Math.floor(at[1]!);
    const a = (1 - fx) * (1 - fy);
    const b = fx * (1 - fy);
    const c = (1 - fx) * fy;
    const d = fx * fy;
    let sum = 0;
    let squares = 0;
    let cross = 0;
    let sx = 0;
    let sy = 0;
    for (let j = 0; j < WINDOW_SIDE; j++)
      for (let i = 0, k = (y0 + j) * width + x0, n = j * WINDOW_STRIDE; i < WINDOW_SIDE; i++, k++, n++) {
        const s = a * data[k]! + b * data[k + 1]! + c * data[k + width]! + d * data[k + width + 1]! - mean[0]!;
        sum += s;
        squares += s * s;
        cross += s * taken[n]!;
        sx += s * taken[n + WINDOW]!;
        sy += s * taken[n + 2 * WINDOW]!;
      }
    const theirs = squares - (sum * sum) / WINDOW_AREA;
    at[2] = theirs > 1e-9 ? cross / Math.sqrt(theirs * energy) : 0;
    if (round === rounds) return true;
    // Light changes are divided out as far as they are believable. What is common to all values falls out: the slopes' means are zero.
    const gain = Math.min(2.5, Math.max(0.4, cross / energy));
    const bx = sx / gain - vx;
    const by = sy / gain - vy;
    let dx = -(yy * bx - xy * by) / det;
    let dy = -(xx * by - xy * bx) / det;
    const step = Math.sqrt(dx * dx + dy * dy);
    if (step > MOST_STEP) {
      dx *= MOST_STEP / step;
      dy *= MOST_STEP / step;
    }
    at[0]! += dx;
    at[1]! += dy;
    if (step < SETTLED) round = rounds - 1;
  }
}

export function fitWindow(
  { width, height, data }: SampledWindow,
  anchor: Float32Array,
  mean: number,
  factor: Float64Array,
  fit: Float64Array,
  rounds: number,
): boolean {
  const right = new Float64Array(ANCHOR_UNKNOWNS);
  const step = new Float64Array(ANCHOR_UNKNOWNS);
  let gain = 1;
  let offset = 0;
  let own = 0;
  for (let n = 0; n < WINDOW; n++) own += anchor[n]! ** 2;
  for (let round = 0; ; round++) {
    const [x0 = 0, y0 = 0, a = 0, b = 0, c = 0, d = 0] = fit;
    const reachX = WINDOW_HALF * (Math.abs(a) + Math.abs(b));
    const reachY = WINDOW_HALF * (Math.abs(c) + Math.abs(d));
    if (!(x0 - reachX >= 0 && y0 - reachY >= 0 && x0 + reachX < width - 1 && y0 + reachY < height - 1)) return false;
    right.fill(0);
    let sum = 0;
    let squares = 0;
    let cross = 0;
    for (let j = -WINDOW_HALF; j <= WINDOW_HALF; j++)
      for (let i = -WINDOW_HALF, n = (j + WINDOW_HALF) * WINDOW_STRIDE; i <= WINDOW_HALF; i++, n++) {
        const x = x0 + a * i + b * j;
        const y = y0 + c * i + d * j;
        const left = x | 0;
        const up = y | 0;
        const fx = x - left;
        const fy = y - up;
        const k = up * width + left;
        const top = data[k]! + fx * (data[k + 1]! - data[k]!);
        const bottom = data[k + width]! + fx * (data[k + width + 1]! - data[k + width]!);
        const s = top + fy * (bottom - top) - mean;
        const t = anchor[n]!;
        const e = (s - offset) / gain - t;
        const gx = e * anchor[n + WINDOW]!;
        const gy = e * anchor[n + 2 * WINDOW]!;
        right[0]! += gx * i;
        right[1]! += gx * j;
        right[2]! += gy * i;
        right[3]! += gy * j;
        right[4]! += gx;
        right[5]! += gy;
        right[6]! += e * t;
        right[7]! += e;
        sum += s;
        squares += s * s;
        cross += s * t;
      }
    const theirs = squares - (sum * sum) / WINDOW_AREA;
    fit[6] = theirs > 1e-9 && own > 1e-9 ? cross / Math.sqrt(theirs * own) : 0;
    if (round === rounds) return true;
    for (let k = 0; k < 4; k++) right[k]! /= WINDOW_HALF;
    substitute(factor, right, step, ANCHOR_UNKNOWNS);
    // Inverse composition: the window's map after the inverse of what the anchor would have to move by.
    const pa = 1 + step[0]! / WINDOW_HALF;
    const pb = step[1]! / WINDOW_HALF;
    const pc = step[2]! / WINDOW_HALF;
    const pd = 1 + step[3]! / WINDOW_HALF;
    const tx = step[4]!;
    const ty = step[5]!;
    const det = pa * pd - pb * pc;
    const far = Math.sqrt(tx * tx + ty * ty);
    if (!(det > 0.3 && det < 3) || far > MOST_STEP) return false;
    const ia = pd / det;
    const ib = -pb / det;
    const ic = -pc / det;
    const id = pa / det;
    const ix = -(ia * tx + ib * ty);
    const iy = -(ic * tx + id * ty);
    fit.set([
      x0 + a * ix + b * iy,
      y0 + c * ix + d * iy,
      a * ia + b * ic,
      a * ib + b * id,
      c * ia + d * ic,
      c * ib + d * id,
    ]);
    // s ≈ gain·(t + e): what e holds of gain and offset goes into them.
    offset += gain * step[7]!;
    gain *= 1 + step[6]!;
    if (!(gain > 0.2 && gain < 5)) return false;
    if (far + Math.abs(step[0]!) + Math.abs(step[3]!) < SETTLED_AFFINE) round = rounds - 1;
  }
}
