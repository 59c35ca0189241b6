import { PATCH_PLANES, type SampledWindow } from './kernel-set.ts';

export function sampleCubic(
  { data, width, height }: SampledWindow,
  xs: Float32Array,
  ys: Float32Array,
  count: number,
  x: number,
  y: number,
  along: readonly [number, number],
  taps: number,
  out: Float32Array,
): void {
  for (let i = 0; i < count; i++) {
    let value = 0;
    let dx = 0;
    let dy = 0;
    let taken = 0;
    for (let k = 0; k < taps; k++) {
      const go = (k + 0.5) / taps - 0.5;
      const px = xs[i]! + x + go * along[0];
      const py = ys[i]! + y + go * along[1];
      const ix = Math.floor(px);
      const iy = Math.floor(py);
      if (!(ix >= 1 && iy >= 1 && ix < width - 2 && iy < height - 2)) continue;
      const t = px - ix;
      const t2 = t * t;
      const t3 = t2 * t;
      const s = py - iy;
      const s2 = s * s;
      const s3 = s2 * s;
      const a0 = -0.5 * t3 + t2 - 0.5 * t;
      const a1 = 1.5 * t3 - 2.5 * t2 + 1;
      const a2 = -1.5 * t3 + 2 * t2 + 0.5 * t;
      const a3 = 0.5 * t3 - 0.5 * t2;
      const d0 = -1.5 * t2 + 2 * t - 0.5;
      const d1 = 4.5 * t2 - 5 * t;
      const d2 = -4.5 * t2 + 4 * t + 0.5;
      const d3 = 1.5 * t2 - t;
      const b0 = -0.5 * s3 + s2 - 0.5 * s;
      const b1 = 1.5 * s3 - 2.5 * s2 + 1;
      const b2 = -1.5 * s3 + 2 * s2 + 0.5 * s;
      const b3 = 0.5 * s3 - 0.5 * s2;
      const e0 = -1.5 * s2 + 2 * s - 0.5;
      const e1 = 4.5 * s2 - 5 * s;
      const e2 = -4.5 * s2 + 4 * s + 0.5;
      const e3 = 1.5 * s2 - s;
      for (let j = 0, at = (iy - 1) * width + ix - 1; j < 4; j++, at += width) {
        const p = data[at]!;
        const q = data[at + 1]!;
        const r = data[at + 2]!;
        const u = data[at + 3]!;
        const row = a0 * p + a1 * q + a2 * r + a3 * u;
        const b = j === 0 ? b0 : j === 1 ? b1 : j === 2 ? b2 : b3;
        const e = j === 0 ? e0 : j === 1 ? e1 : j === 2 ? e2 : e3;
        value += b * row;
        dx += b * (d0 * p + d1 * q + d2 * r + d3 * u);
        dy += e * row;
      }
      taken++;
    }
    const part = taken > 0 ? 1 / taken : 0;
    out[i] = value * part;
    out[i + count] = dx * part;
    out[i + 2 * count] = dy * part;
    out[i + 3 * count] = taken / taps;
  }
}

const row = new Float64Array(11);

export function patchEquations(
  planes: Float32Array,
  count: number,
  geometric: 2 | 4,
  terms: 0 | 2 | 7,
  gain: number,
  scale: number,
  redescending: boolean,
  out: Float64Array,
): void {
  const size = geometric + terms;
  const entries = (size * (size + 1)) / 2;
  const { RESIDUAL, ROOT, SEEN_X, SEEN_Y, USED, PATTERN, PATTERN_X, PATTERN_Y, U, V } = PATCH_PLANES;
  const at = (plane: number, i: number) => planes[plane * count + i]!;
  out.fill(0, 0, entries + size);
  for (let i = 0; i < count; i++) {
    const r = at(RESIDUAL, i);
    const t = r / (4.685 * scale);
    const weight =
      at(USED, i) *
      (redescending ? Math.max(0, 1 - t * t) ** 2 : Math.min(1, (1.345 * scale) / Math.max(1e-12, Math.abs(r))));
    if (weight === 0) continue;
    const root = at(ROOT, i);
    const u = at(U, i);
    const v = at(V, i);
    const gx = 0.5 * root * (at(SEEN_X, i) + gain * at(PATTERN_X, i));
    const gy = 0.5 * root * (at(SEEN_Y, i) + gain * at(PATTERN_Y, i));
    row[0] = gx;
    row[1] = gy;
    if (geometric === 4) {
      row[2] = gx * u + gy * v;
      row[3] = gy * u - gx * v;
    }
    if (terms > 0) {
      row[geometric] = -root * at(PATTERN, i);
      row[geometric + 1] = -root;
    }
    if (terms === 7)
      for (const [k, field] of [u, v, u * u, u * v, v * v].entries()) row[geometric + 2 + k] = -root * field;
    for (let a = 0, to = 0; a < size; a++) {
      const weighted = weight * row[a]!;
      for (let b = 0; b <= a; b++) out[to++]! += weighted * row[b]!;
      out[entries + a]! -= weighted * r;
    }
  }
}

export function correlateBox(
  { data, width }: SampledWindow,
  offsets: Int32Array,
  pattern: Float32Array,
  n: number,
  energy: number,
  left: number,
  top: number,
  across: number,
  down: number,
  out: Float32Array,
): void {
  for (let j = 0; j < down; j++) {
    for (let i = 0; i < across; i++) {
      const from = (top + j) * width + left + i;
      let total = 0;
      let square = 0;
      let cross = 0;
      for (let k = 0; k < n; k++) {
        const v = data[from + offsets[k]!]!;
        total += v;
        square += v * v;
        cross += v * pattern[k]!;
      }
      const spread = (square - (total * total) / n) * energy;
      out[j * across + i] = spread > 1e-12 ? cross / Math.sqrt(spread) : -1;
    }
  }
}
