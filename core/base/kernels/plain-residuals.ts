import { OFFSET_BIN, RESIDUAL_BIN, RESIDUAL_BINS, type PointSet, type TexelPlane } from './kernel-set.ts';

export function residuals(
  { texels, width, height }: TexelPlane,
  { count, xs, ys, prior }: PointSet,
  blurred: Float32Array,
  h: ArrayLike<number>,
  gain: number,
  offset: number,
  steep: number,
  histogram: Uint32Array,
  sampled: Float32Array,
): number {
  const h0 = h[0]!;
  const h1 = h[1]!;
  const h2 = h[2]!;
  const h3 = h[3]!;
  const h4 = h[4]!;
  const h5 = h[5]!;
  const h6 = h[6]!;
  const h7 = h[7]!;
  const h8 = h[8]!;
  const limitX = width - 1;
  const limitY = height - 1;
  histogram.fill(0);
  sampled.fill(0, 0, 4 * count);
  let visible = 0;
  for (let i = 0; i < count; i++) {
    if (prior[i] === 0 || blurred[i + 3 * count] === 0) continue;
    const x = xs[i]!;
    const y = ys[i]!;
    const inverse = 1 / (h6 * x + h7 * y + h8);
    const u = (h0 * x + h1 * y + h2) * inverse;
    const v = (h3 * x + h4 * y + h5) * inverse;
    // A point behind the vanishing line has a negative denominator and is never seen.
    if (!(inverse > 0 && u >= 0 && v >= 0 && u < limitX && v < limitY)) continue;
    const iu = u | 0;
    const iv = v | 0;
    const fu = u - iu;
    const fv = v - iv;
    const at = (iv * width + iu) * 4;
    const below = at + width * 4;
    const a = (1 - fu) * (1 - fv);
    const b = fu * (1 - fv);
    const c = (1 - fu) * fv;
    const d = fu * fv;
    if (!(texels[at + 3]! * a + texels[at + 7]! * b + texels[below + 3]! * c + texels[below + 7]! * d > 0.999))
      continue;
    const gu = texels[at + 1]! * a + texels[at + 5]! * b + texels[below + 1]! * c + texels[below + 5]! * d;
    const gv = texels[at + 2]! * a + texels[at + 6]! * b + texels[below + 2]! * c + texels[below + 6]! * d;
    // Bilinear, bent to the cubic that has the texels' slopes, along each axis.
    const across =
      bend(texels[at]!, texels[at + 4]!, texels[at + 1]!, texels[at + 5]!, fu) * (1 - fv) +
      bend(texels[below]!, texels[below + 4]!, texels[below + 1]!, texels[below + 5]!, fu) * fv;
    const down =
      bend(texels[at]!, texels[below]!, texels[at + 2]!, texels[below + 2]!, fv) * (1 - fu) +
      bend(texels[at + 4]!, texels[below + 4]!, texels[at + 6]!, texels[below + 6]!, fv) * fu;
    const r =
      texels[at]! * a +
      texels[at + 4]! * b +
      texels[below]! * c +
      texels[below + 4]! * d +
      across +
      down -
      (gain * blurred[i]! + offset);
    sampled[i] = r;
    // Chain rule through the map: ∂u/∂x = (h0 − u·h6)/w and so on.
    sampled[i + count] = (gu * (h0 - u * h6) + gv * (h3 - v * h6)) * inverse;
    sampled[i + 2 * count] = (gu * (h1 - u * h7) + gv * (h4 - v * h7)) * inverse;
    sampled[i + 3 * count] = 1;
    histogram[Math.min(RESIDUAL_BINS - 1, Math.floor(Math.abs(r) / RESIDUAL_BIN))]!++;
    visible++;
    const tx = blurred[i + count]!;
    const ty = blurred[i + 2 * count]!;
    const slope = Math.sqrt(tx * tx + ty * ty);
    if (slope >= steep)
      histogram[RESIDUAL_BINS + Math.min(RESIDUAL_BINS - 1, Math.floor(Math.abs(r) / slope / OFFSET_BIN))]!++;
  }
  return visible;
}

/** What Hermite's cubic through p and q with slopes dp and dq has more than the straight line, at f. */
function bend(p: number, q: number, dp: number, dq: number, f: number): number {
  const slope = q - p;
  return f * (1 - f) * ((dp - slope) * (1 - f) + (slope - dq) * f);
}

export function correlate(
  value: Float32Array,
  width: number,
  height: number,
  { count, xs, ys, prior }: PointSet,
  blurred: Float32Array,
  h: ArrayLike<number>,
  step: number,
  out: Float64Array,
): void {
  const h0 = h[0]!;
  const h1 = h[1]!;
  const h2 = h[2]!;
  const h3 = h[3]!;
  const h4 = h[4]!;
  const h5 = h[5]!;
  const h6 = h[6]!;
  const h7 = h[7]!;
  const h8 = h[8]!;
  let n = 0;
  let st = 0;
  let sp = 0;
  let stt = 0;
  let spp = 0;
  let stp = 0;
  for (let i = 0; i < count; i += step) {
    if (prior[i] === 0 || blurred[i + 3 * count] === 0) continue;
    const x = xs[i]!;
    const y = ys[i]!;
    const w = 1 / (h6 * x + h7 * y + h8);
    const u = (h0 * x + h1 * y + h2) * w + 0.5;
    const v = (h3 * x + h4 * y + h5) * w + 0.5;
    if (!(w > 0 && u >= 0 && v >= 0 && u < width && v < height)) continue;
    const p = value[(v | 0) * width + (u | 0)]!;
    const t = blurred[i]!;
    n++;
    st += t;
    sp += p;
    stt += t * t;
    spp += p * p;
    stp += t * p;
  }
  out[0] = n;
  out[1] = st;
  out[2] = sp;
  out[3] = stt;
  out[4] = spp;
  out[5] = stp;
}
