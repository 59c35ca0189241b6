import { factorCholesky, substitute } from '../geometry/linear-solve.ts';

/** A picture level to look at, sample indices. */
export interface Level { readonly width: number; readonly height: number; readonly value: Float32Array }

/** Half the side of a feature's window, samples; its side, and how many samples it has. */
export const HALF = 7, SIDE = 2 * HALF + 1, AREA = SIDE * SIDE;
/** Unknowns of the affine fit: the six of the motion, gain and offset. */
const AFFINE = 8;
const SETTLED = 0.01, SETTLED_AFFINE = 0.004, MOST_STEP = 4;

/** What a window shows: its values and slopes. */
export interface Patch {
  readonly value: Float32Array;
  readonly gx: Float32Array;
  readonly gy: Float32Array;
}

export function newPatch(): Patch {
  return { value: new Float32Array(AREA), gx: new Float32Array(AREA), gy: new Float32Array(AREA) };
}

/** Takes the window about (x, y); false where it is not wholly in the picture. */
export function takePatch({ width, height, value }: Level, x: number, y: number, out: Patch): boolean {
  const x0 = Math.floor(x) - HALF, y0 = Math.floor(y) - HALF;
  if (!(x0 >= 1 && y0 >= 1 && x0 + SIDE + 2 < width && y0 + SIDE + 2 < height)) return false;
  const fx = x - Math.floor(x), fy = y - Math.floor(y), a = (1 - fx) * (1 - fy), b = fx * (1 - fy), c = (1 - fx) * fy, d = fx * fy;
  const at = (i: number) => a * value[i]! + b * value[i + 1]! + c * value[i + width]! + d * value[i + width + 1]!;
  for (let j = 0, n = 0; j < SIDE; j++) for (let i = 0, k = (y0 + j) * width + x0; i < SIDE; i++, k++, n++) {
    out.value[n] = at(k);
    out.gx[n] = (at(k + 1) - at(k - 1)) / 2;
    out.gy[n] = (at(k + width) - at(k - width)) / 2;
  }
  return true;
}

/** What a shift comes to. `score`: the normalised correlation, −1…1. */
export interface Shift { x: number; y: number; score: number }

const seen = new Float32Array(AREA);

/** The window about (x, y) into `seen`; false where it leaves the picture. */
function look({ width, height, value }: Level, x: number, y: number): boolean {
  const x0 = Math.floor(x) - HALF, y0 = Math.floor(y) - HALF;
  if (!(x0 >= 0 && y0 >= 0 && x0 + SIDE + 1 < width && y0 + SIDE + 1 < height)) return false;
  const fx = x - Math.floor(x), fy = y - Math.floor(y), a = (1 - fx) * (1 - fy), b = fx * (1 - fy), c = (1 - fx) * fy, d = fx * fy;
  for (let j = 0, n = 0; j < SIDE; j++) for (let i = 0, k = (y0 + j) * width + x0; i < SIDE; i++, k++, n++) seen[n] = a * value[k]! + b * value[k + 1]! + c * value[k + width]! + d * value[k + width + 1]!;
  return true;
}

/**
 * Moves `at` to where the window looks like the patch, up to gain and offset. False where it leaves the picture or the patch is flat.
 * Source: B. Lucas, T. Kanade, An iterative image registration technique, IJCAI 1981, the slopes taken from the patch only
 * (S. Baker, I. Matthews, Lucas–Kanade 20 years on, IJCV 56(3), 2004, §3.2).
 */
export function shiftPatch(level: Level, patch: Patch, at: Shift, rounds: number): boolean {
  let mean = 0, mx = 0, my = 0;
  for (let n = 0; n < AREA; n++) {
    mean += patch.value[n]!;
    mx += patch.gx[n]!;
    my += patch.gy[n]!;
  }
  mean /= AREA;
  mx /= AREA;
  my /= AREA;
  let xx = 0, xy = 0, yy = 0, energy = 0;
  for (let n = 0; n < AREA; n++) {
    const gx = patch.gx[n]! - mx, gy = patch.gy[n]! - my, v = patch.value[n]! - mean;
    xx += gx * gx;
    xy += gx * gy;
    yy += gy * gy;
    energy += v * v;
  }
  const det = xx * yy - xy * xy;
  if (!(det > 1e-4 * (xx + yy) ** 2 / 4) || !(energy > 1e-9)) return false;
  for (let round = 0; ; round++) {
    if (!look(level, at.x, at.y)) return false;
    let sum = 0, squares = 0, cross = 0;
    for (let n = 0; n < AREA; n++) {
      const v = seen[n]!;
      sum += v;
      squares += v * v;
      cross += v * patch.value[n]!;
    }
    const theirs = squares - (sum * sum) / AREA, together = cross - sum * mean;
    at.score = theirs > 1e-9 ? together / Math.sqrt(theirs * energy) : 0;
    if (round === rounds) return true;
    // Light changes are divided out as far as they are believable.
    const gain = Math.min(2.5, Math.max(0.4, together / energy)), theirMean = sum / AREA;
    let bx = 0, by = 0;
    for (let n = 0; n < AREA; n++) {
      const e = (seen[n]! - theirMean) / gain - (patch.value[n]! - mean);
      bx += e * (patch.gx[n]! - mx);
      by += e * (patch.gy[n]! - my);
    }
    let dx = -(yy * bx - xy * by) / det, dy = -(xx * by - xy * bx) / det;
    const step = Math.hypot(dx, dy);
    if (step > MOST_STEP) {
      dx *= MOST_STEP / step;
      dy *= MOST_STEP / step;
    }
    at.x += dx;
    at.y += dy;
    if (step < SETTLED) round = rounds - 1;
  }
}

/** A patch that is held on to over many frames, with what its affine fit needs. */
export interface Anchor extends Patch {
  /** Factor of the normal equations. */
  readonly factor: Float64Array;
  readonly usable: boolean;
}

/** How an anchor is seen: x′ = x + [a b; c d]·offset. */
export interface AffineFit { x: number; y: number; a: number; b: number; c: number; d: number; score: number }

/** Prepares an anchor from a patch (which is copied). */
export function anchorOf(patch: Patch): Anchor {
  const normal = new Float64Array(AFFINE * AFFINE), row = new Float64Array(AFFINE), value = patch.value.slice(), gx = patch.gx.slice(), gy = patch.gy.slice();
  for (let j = -HALF, n = 0; j <= HALF; j++) for (let i = -HALF; i <= HALF; i++, n++) {
    slopes(row, gx[n]!, gy[n]!, value[n]!, i, j);
    for (let r = 0; r < AFFINE; r++) for (let k = 0; k <= r; k++) normal[r * AFFINE + k]! += row[r]! * row[k]!;
  }
  // The shape bends less readily than the place moves.
  for (const k of [0, 1, 2, 3]) normal[k * (AFFINE + 1)]! *= 1.02;
  return { value, gx, gy, factor: normal, usable: factorCholesky(normal, AFFINE) };
}

function slopes(row: Float64Array, gx: number, gy: number, value: number, i: number, j: number): void {
  const u = i / HALF, v = j / HALF;
  row[0] = gx * u;
  row[1] = gx * v;
  row[2] = gy * u;
  row[3] = gy * v;
  row[4] = gx;
  row[5] = gy;
  row[6] = value;
  row[7] = 1;
}

/**
 * Fits an anchor, bent affinely, near `fit`, which is changed. False where it leaves the picture or comes to nothing.
 * Source: inverse compositional fit with linear appearance: Baker, Matthews 2004, §3.2 and part 3 (2003).
 */
export function fitAnchor({ width, height, value }: Level, anchor: Anchor, fit: AffineFit, rounds: number): boolean {
  if (!anchor.usable) return false;
  const right = new Float64Array(AFFINE), step = new Float64Array(AFFINE);
  let gain = 1, offset = 0;
  for (let round = 0; ; round++) {
    const reachX = HALF * (Math.abs(fit.a) + Math.abs(fit.b)), reachY = HALF * (Math.abs(fit.c) + Math.abs(fit.d));
    if (!(fit.x - reachX >= 0 && fit.y - reachY >= 0 && fit.x + reachX < width - 1 && fit.y + reachY < height - 1)) return false;
    right.fill(0);
    let r0 = 0, r1 = 0, r2 = 0, r3 = 0, r4 = 0, r5 = 0, r6 = 0, r7 = 0, sum = 0, squares = 0, cross = 0, own = 0, ownSquares = 0;
    for (let j = -HALF, n = 0; j <= HALF; j++) {
      for (let i = -HALF; i <= HALF; i++, n++) {
        const x = fit.x + fit.a * i + fit.b * j, y = fit.y + fit.c * i + fit.d * j, x0 = x | 0, y0 = y | 0, fx = x - x0, fy = y - y0, k = y0 * width + x0;
        const top = value[k]! + fx * (value[k + 1]! - value[k]!), bottom = value[k + width]! + fx * (value[k + width + 1]! - value[k + width]!), s = top + fy * (bottom - top), t = anchor.value[n]!;
        const e = (s - offset) / gain - t, gx = e * anchor.gx[n]!, gy = e * anchor.gy[n]!;
        r0 += gx * i;
        r1 += gx * j;
        r2 += gy * i;
        r3 += gy * j;
        r4 += gx;
        r5 += gy;
        r6 += e * t;
        r7 += e;
        sum += s;
        squares += s * s;
        cross += s * t;
        own += t;
        ownSquares += t * t;
      }
    }
    const theirs = squares - (sum * sum) / AREA, energy = ownSquares - (own * own) / AREA;
    fit.score = theirs > 1e-9 && energy > 1e-9 ? (cross - (sum * own) / AREA) / Math.sqrt(theirs * energy) : 0;
    if (round === rounds) return true;
    right[0] = r0 / HALF;
    right[1] = r1 / HALF;
    right[2] = r2 / HALF;
    right[3] = r3 / HALF;
    right[4] = r4;
    right[5] = r5;
    right[6] = r6;
    right[7] = r7;
    substitute(anchor.factor, right, step, AFFINE);
    // Inverse composition: the window's map after the inverse of what the anchor would have to move by.
    const pa = 1 + step[0]! / HALF, pb = step[1]! / HALF, pc = step[2]! / HALF, pd = 1 + step[3]! / HALF, tx = step[4]!, ty = step[5]!, det = pa * pd - pb * pc;
    if (!(det > 0.3 && det < 3) || Math.hypot(tx, ty) > MOST_STEP) return false;
    const ia = pd / det, ib = -pb / det, ic = -pc / det, id = pa / det, ix = -(ia * tx + ib * ty), iy = -(ic * tx + id * ty), { a, b, c, d } = fit;
    fit.x += a * ix + b * iy;
    fit.y += c * ix + d * iy;
    fit.a = a * ia + b * ic;
    fit.b = a * ib + b * id;
    fit.c = c * ia + d * ic;
    fit.d = c * ib + d * id;
    // s ≈ gain·(t + e): what e holds of gain and offset goes into them.
    offset += gain * step[7]!;
    gain *= 1 + step[6]!;
    if (!(gain > 0.2 && gain < 5)) return false;
    if (Math.hypot(tx, ty) + Math.abs(step[0]!) + Math.abs(step[3]!) < SETTLED_AFFINE) round = rounds - 1;
  }
}
