import { EQUATION_ENTRIES, UNKNOWNS, type EquationSettings, type PointSet } from './kernel-set.ts';

const column = new Float64Array(UNKNOWNS);

export function accumulate(
  points: PointSet,
  starts: Int32Array,
  blurred: Float32Array,
  sampled: Float32Array,
  settings: EquationSettings,
  out: Float64Array,
): void {
  for (let piece = 0; piece + 1 < starts.length; piece++) {
    accumulatePiece(
      points,
      starts[piece]!,
      starts[piece + 1]!,
      blurred,
      sampled,
      settings,
      out.subarray(piece * EQUATION_ENTRIES, (piece + 1) * EQUATION_ENTRIES),
    );
  }
}

function accumulatePiece(
  { count, xs, ys, prior }: PointSet,
  from: number,
  to: number,
  blurred: Float32Array,
  sampled: Float32Array,
  settings: EquationSettings,
  out: Float64Array,
): void {
  const { scaleX, offsetX, scaleY, offsetY, gain, tolerance, scale, mix, redescending } = settings;
  const slack = ((gain * tolerance) / scale) ** 2;
  out.fill(0);
  column[9] = -1;
  for (let i = from; i < to; i++) {
    if (sampled[i + 3 * count] === 0) continue;
    const r = sampled[i]!;
    const tx = blurred[i + count]!;
    const ty = blurred[i + 2 * count]!;
    const spread = 1 + slack * (tx * tx + ty * ty);
    const weight = (prior[i]! * robustWeight((r / scale) ** 2 / spread, redescending)) / spread;
    if (weight === 0) continue;
    const x = scaleX * xs[i]! + offsetX;
    const y = scaleY * ys[i]! + offsetY;
    const gx = ((1 - mix) * gain * tx + mix * sampled[i + count]!) / scaleX;
    const gy = ((1 - mix) * gain * ty + mix * sampled[i + 2 * count]!) / scaleY;
    const along = gx * x + gy * y;
    column[0] = gx;
    column[1] = gy;
    column[2] = gx * x;
    column[3] = gx * y;
    column[4] = gy * x;
    column[5] = gy * y;
    column[6] = -x * along;
    column[7] = -y * along;
    column[8] = -blurred[i]!;
    let at = 0;
    for (let a = 0; a < UNKNOWNS; a++) {
      const weighted = weight * column[a]!;
      for (let b = 0; b <= a; b++) out[at++]! += weighted * column[b]!;
      out[55 + a]! -= weighted * r;
    }
    out[65]! += weight;
    out[66]! += weight * r * r;
  }
}

/** Tukey's biweight (c = 4.685) or Huber's weight (k = 1.345) of a squared residual in units of its spread; sources in follow/robust-weights.ts. */
function robustWeight(squared: number, redescending: boolean): number {
  if (!redescending) return Math.min(1, 1.345 / Math.max(Math.sqrt(squared), 1e-20));
  const rest = Math.max(0, 1 - squared / 4.685 ** 2);
  return rest * rest;
}
