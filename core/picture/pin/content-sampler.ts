import { clamp } from '../../base/geometry/clamp.ts';
import { levelFor } from '../../base/image/level-of-detail.ts';
import type { LightPicture } from '../../base/image/picture.ts';
import type { LevelledContent, SamplePlaces } from '../../base/kernels/composite-kernels.ts';

const MOST_TAPS = 64;

/** How much wider than its patch the kernel is. */
export function widening(patch: number): number {
  return patch <= 1 ? 1 : patch >= 1.25 ? 1.15 : 1 + 0.6 * (patch - 1);
}

/** Keys's kernel with a = −½ at a distance ≥ 0. */
export function keysKernel(d: number): number {
  return d < 1 ? (1.5 * d - 2.5) * d * d + 1 : d < 2 ? ((-0.5 * d + 2.5) * d - 4) * d + 2 : 0;
}

const weightsU = new Float32Array(MOST_TAPS);
const weightsV = new Float32Array(MOST_TAPS);

/**
 * Adds `weights[i]` times the content at each place (u, v), standing for a patch of `su` by `sv` content pixels, to four values of `out` from 4·i on; places
 * of no weight are left. Beyond the content its outermost pixels repeat.
 *
 * The kernel, in each direction: Keys's cubic convolution k with a = −½, as wide as a content pixel where content is
 * enlarged (its exact formula), and as wide as the patch where it is shrunk, there up to 15 % wider, so that what a plate
 * pixel cannot show is held under −35 dB. Where a patch is more than about three pixels wide, the kernel is laid over a
 * halved picture. Source: R. Keys, Cubic convolution interpolation for digital image processing, IEEE Trans. ASSP 29(6), 1981.
 */
export function samplePatches(
  content: LevelledContent,
  { u, v, su, sv }: SamplePlaces,
  weights: Float32Array,
  count: number,
  out: Float32Array,
  at: number,
): void {
  const coarsest = content.coarsest;
  for (let i = 0; i < count; i++, at += 4) {
    const weight = weights[i]!;
    if (weight === 0) continue;
    const l = levelFor(su[i]!, sv[i]!, coarsest);
    const scale = 1 / (1 << l);
    const level = content.level(l);
    addPatch(level, u[i]! * scale - 0.5, v[i]! * scale - 0.5, su[i]! * scale, sv[i]! * scale, weight, out, at);
  }
}

function addPatch(
  level: LightPicture,
  x: number,
  y: number,
  su: number,
  sv: number,
  weight: number,
  out: Float32Array,
  at: number,
): void {
  const { width, height, data } = level;
  const firstU = kernelWeights(x, su, weightsU);
  const taps = lastTaps;
  const firstV = kernelWeights(y, sv, weightsV);
  const rows = lastTaps;
  let r = 0;
  let g = 0;
  let b = 0;
  let a = 0;
  for (let j = 0; j < rows; j++) {
    const row = firstV + j;
    const line = (row < 0 ? 0 : row >= height ? height - 1 : row) * width * 4;
    const wv = weightsV[j]!;
    let lr = 0;
    let lg = 0;
    let lb = 0;
    let la = 0;
    for (let i = 0; i < taps; i++) {
      const col = firstU + i;
      const p = line + (col < 0 ? 0 : col >= width ? width - 1 : col) * 4;
      const w = weightsU[i]!;
      lr += w * data[p]!;
      lg += w * data[p + 1]!;
      lb += w * data[p + 2]!;
      la += w * data[p + 3]!;
    }
    r += wv * lr;
    g += wv * lg;
    b += wv * lb;
    a += wv * la;
  }
  // The kernel's negative lobes must not make holes, nor more than all of it.
  a = a < 0 ? 0 : a > 1 ? 1 : a;
  out[at]! += weight * (r < 0 ? 0 : r);
  out[at + 1]! += weight * (g < 0 ? 0 : g);
  out[at + 2]! += weight * (b < 0 ? 0 : b);
  out[at + 3]! += weight * a;
}

let lastTaps = 0;
/** Fills the kernel's weights about sample index `x`, summing to 1, and returns the first sample they are for; `lastTaps` says how many. */
function kernelWeights(x: number, patch: number, out: Float32Array): number {
  const half = clamp(patch * widening(patch), 1, MOST_TAPS / 4 - 1);
  const first = Math.ceil(x - 2 * half);
  const last = Math.floor(x + 2 * half);
  const inverse = 1 / half;
  let sum = 0;
  lastTaps = last - first + 1;
  for (let k = 0; k < lastTaps; k++) {
    const d = first + k - x;
    sum += out[k] = keysKernel((d < 0 ? -d : d) * inverse);
  }
  for (let k = 0; k < lastTaps; k++) out[k]! /= sum;
  return first;
}

/**
 * As above, each place a mean of about so many pixels both ways as the larger of its extents times `detail`, bilinearly between two levels, for one
 * of many looks that are averaged, or on the nearest one, for a picture that is soon replaced.
 */
export function sampleSmooth(
  content: LevelledContent,
  { u, v, su, sv }: SamplePlaces,
  weights: Float32Array,
  count: number,
  detail: number,
  between: boolean,
  out: Float32Array,
  at: number,
): void {
  const coarsest = content.coarsest;
  for (let i = 0; i < count; i++, at += 4) {
    const weight = weights[i]!;
    if (weight === 0) continue;
    let size = Math.max(su[i]!, sv[i]!) * detail;
    let lower = 0;
    for (; size >= 2 && lower < coarsest; lower++) size /= 2;
    let share = size <= 1 || lower === coarsest ? 0 : size - 1;
    if (!between) {
      if (share >= Math.SQRT2 - 1) lower++;
      share = 0;
    }
    addBilinear(content.level(lower), u[i]! / (1 << lower), v[i]! / (1 << lower), weight * (1 - share), out, at);
    if (share > 0)
      addBilinear(content.level(lower + 1), u[i]! / (2 << lower), v[i]! / (2 << lower), weight * share, out, at);
  }
}

function addBilinear(
  { width, height, data }: LightPicture,
  x: number,
  y: number,
  weight: number,
  out: Float32Array,
  at: number,
): void {
  let px = x - 0.5;
  let py = y - 0.5;
  if (!(px > 0)) px = 0;
  else if (px > width - 1) px = width - 1;
  if (!(py > 0)) py = 0;
  else if (py > height - 1) py = height - 1;
  const ix = px | 0;
  const iy = py | 0;
  const fx = px - ix;
  const fy = py - iy;
  const a = (iy * width + ix) * 4;
  const right = ix < width - 1 ? 4 : 0;
  const down = iy < height - 1 ? width * 4 : 0;
  const w00 = weight * (1 - fx) * (1 - fy);
  const w10 = weight * fx * (1 - fy);
  const w01 = weight * (1 - fx) * fy;
  const w11 = weight * fx * fy;
  const b = a + right;
  const c = a + down;
  const d = c + right;
  out[at]! += data[a]! * w00 + data[b]! * w10 + data[c]! * w01 + data[d]! * w11;
  out[at + 1]! += data[a + 1]! * w00 + data[b + 1]! * w10 + data[c + 1]! * w01 + data[d + 1]! * w11;
  out[at + 2]! += data[a + 2]! * w00 + data[b + 2]! * w10 + data[c + 2]! * w01 + data[d + 2]! * w11;
  out[at + 3]! += data[a + 3]! * w00 + data[b + 3]! * w10 + data[c + 3]! * w01 + data[d + 3]! * w11;
}
