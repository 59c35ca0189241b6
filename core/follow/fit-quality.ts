import { jacobianAt, type Homography } from '../geometry/homography.ts';
import { tukeyWeight } from './robust-weights.ts';
import type { LevelScratch } from './align-level.ts';
import type { TemplateLevel } from './template.ts';

/** How well one frame fits the reference. */
export interface FitQuality {
  /** Zero-mean normalised cross-correlation over the points that agree, −1…1. */
  correlation: number;
  /** The share of visible points that agree with the common motion, 0…1. */
  agreement: number;
  /** The share of chosen points that lie inside the picture, 0…1. */
  visibility: number;
  /** Root mean square misfit of small pieces of the region against the common motion, in picture pixels. */
  error: number;
}

/** Pieces along the region's longer side. */
const PIECES = 8;

/**
 * Reads the fit from the residuals left in `s`. `error` solves the motion that each piece would still
 * like to make (2×2 normal equations of its residuals) and takes their weighted root mean square.
 */
export function measureFit(level: TemplateLevel, h: Homography, gain: number, scale: number, noise: number, s: LevelScratch): FitQuality {
  const tolerated = Math.max(scale, noise);
  let n = 0, visible = 0, agreeing = 0, st = 0, sp = 0, stt = 0, spp = 0, stp = 0;
  for (let i = 0; i < level.count; i++) {
    if (s.inside[i] === 0) continue;
    visible++;
    const w = tukeyWeight(s.residual[i]!, tolerated);
    if (Math.abs(s.residual[i]!) < Math.max(4 * noise, 0.03)) agreeing++;
    if (w === 0) continue;
    const t = s.blurred.value[i]!, p = s.value[i]!;
    n += w;
    st += w * t;
    sp += w * p;
    stt += w * t * t;
    spp += w * p * p;
    stp += w * t * p;
  }
  if (visible === 0 || n === 0) return { correlation: 0, agreement: 0, visibility: 0, error: Infinity };
  const covariance = stp / n - (st / n) * (sp / n);
  const spread = Math.sqrt(Math.max(0, stt / n - (st / n) ** 2) * Math.max(0, spp / n - (sp / n) ** 2));
  return {
    correlation: spread > 1e-9 ? covariance / spread : 0,
    agreement: agreeing / visible,
    visibility: visible / level.count,
    error: pieceMisfit(level, h, gain, tolerated, s) * 2 ** level.level,
  };
}

function pieceMisfit(level: TemplateLevel, h: Homography, gain: number, scale: number, s: LevelScratch): number {
  const [a, , ox, , b, oy] = level.toUnit as [number, number, number, number, number, number];
  const sums = new Float64Array(PIECES * PIECES * 5);
  for (let i = 0; i < level.count; i++) {
    if (s.inside[i] === 0) continue;
    const w = tukeyWeight(s.residual[i]!, scale);
    if (w === 0) continue;
    const col = Math.min(PIECES - 1, Math.max(0, Math.floor(((a * level.xs[i]! + ox + 1) / 2) * PIECES)));
    const row = Math.min(PIECES - 1, Math.max(0, Math.floor(((b * level.ys[i]! + oy + 1) / 2) * PIECES)));
    const at = (row * PIECES + col) * 5;
    const gx = (gain * s.blurred.dx[i]! + s.dx[i]!) / 2, gy = (gain * s.blurred.dy[i]! + s.dy[i]!) / 2;
    sums[at]! += w * gx * gx;
    sums[at + 1]! += w * gx * gy;
    sums[at + 2]! += w * gy * gy;
    sums[at + 3]! += w * gx * s.residual[i]!;
    sums[at + 4]! += w * gy * s.residual[i]!;
  }
  // How far a piece of pure noise seems to move tells when a piece has nothing to say.
  let total = 0, weights = 0;
  for (let piece = 0; piece < PIECES * PIECES; piece++) {
    const [xx, xy, yy, xr, yr] = sums.subarray(piece * 5, piece * 5 + 5) as unknown as [number, number, number, number, number];
    const weaker = (xx + yy) / 2 - Math.hypot((xx - yy) / 2, xy);
    if (!(weaker > (scale / 0.25) ** 2)) continue;
    const det = xx * yy - xy * xy;
    const dx = (yy * xr - xy * yr) / det, dy = (xx * yr - xy * xr) / det;
    const weight = Math.min(1, weaker / (100 * scale * scale));
    total += weight * Math.min(25, dx * dx + dy * dy);
    weights += weight;
  }
  const inReference = weights > 0 ? Math.sqrt(total / weights) : 1;
  const centre: [number, number] = [-ox / a, -oy / b];
  const [uu, uv, vu, vv] = jacobianAt(h, centre);
  return inReference * Math.sqrt(Math.abs(uu * vv - uv * vu));
}

/**
 * A single number 0…1: near 1 only when what is seen agrees, correlates, and its pieces do not pull
 * apart. 0.3 is where a person should look, 0.15 where the follower lets go.
 */
export function confidenceOf(fit: FitQuality): number {
  const ramp = (v: number, from: number, to: number) => Math.min(1, Math.max(0, (v - from) / (to - from)));
  return ramp(fit.correlation, 0.3, 0.9) * ramp(fit.agreement, 0.1, 0.5) * ramp(fit.visibility, 0.05, 0.35) / (1 + (fit.error / 2) ** 2);
}
