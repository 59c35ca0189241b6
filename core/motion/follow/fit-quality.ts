import { jacobianAt, type Homography } from '../../base/geometry/homography.ts';
import type { LevelScratch } from './align-level.ts';
import { tukeyWeight } from './robust-weights.ts';
import { GROUP, PIECES, type TemplateLevel } from './template.ts';

/** How well one frame fits the reference. */
export interface FitQuality {
  /** Zero-mean normalised cross-correlation over the points that agree, −1…1. */
  correlation: number;
  /** The share of visible points that agree with the common motion, 0…1. */
  agreement: number;
  /** Likewise, each point counted by the square of its slope: flat places agree with anything. */
  detail: number;
  /** Likewise of what lies near the left, right, upper and lower border of the region alone; NaN likewise. */
  sides: readonly number[];
  /** Likewise of the ring alone; NaN when there is nothing of it to see. */
  ringDetail: number;
  /** Mean squared offset of the ring's places, counted likewise, none more than one sample; NaN likewise. */
  ringMisfit: number;
  /** The share of chosen points that lie inside the picture, 0…1. */
  visibility: number;
  /** Root mean square misfit of small pieces of the region against the common motion, in picture pixels. */
  error: number;
}

/** Noise of an ordinary plate, signal: what is more than that is not noise but something else. */
const PLAIN_NOISE = 0.012;
/** A place whose residual could be mended by a shift of so many samples agrees. */
export const DETAIL_OFF = 0.6;

/** The square of a residual that nobody minds, wherever it is. */
export const unnoticedResidual = (noise: number): number => (2.5 * Math.min(noise, PLAIN_NOISE)) ** 2;

/** Reads the fit from the residuals and the pieces' equations left in `s`; `gain` is the light's, `scale` the residuals' spread, `noise` the usual one. */
export function measureFit(
  level: TemplateLevel,
  h: Homography,
  gain: number,
  scale: number,
  noise: number,
  s: LevelScratch,
): FitQuality {
  const ringEnd = level.pieceStarts[GROUP]!;
  const tolerated = Math.min(Math.max(scale, noise), 3 * noise);
  const { count, prior } = level;
  const { sampled, blurred } = s;
  const agrees = Math.max(4 * noise, 0.03);
  const unnoticed = unnoticedResidual(noise);
  const sides = detailOfSides(level, gain, unnoticed, s);
  let n = 0;
  let visible = 0;
  let agreeing = 0;
  let slopes = 0;
  let explained = 0;
  let ringSlopes = 0;
  let ringExplained = 0;
  let ringOff = 0;
  let st = 0;
  let sp = 0;
  let stt = 0;
  let spp = 0;
  let stp = 0;
  for (let i = 0; i < count; i++) {
    if (sampled[i + 3 * count] === 0) continue;
    visible++;
    const r = sampled[i]!;
    if (Math.abs(r) < agrees) agreeing++;
    const slope2 = gain * gain * (blurred[i + count]! ** 2 + blurred[i + 2 * count]! ** 2);
    const agreed = r * r < Math.max(DETAIL_OFF ** 2 * slope2, unnoticed) ? slope2 : 0;
    slopes += slope2;
    explained += agreed;
    if (i < ringEnd) {
      ringSlopes += slope2;
      ringExplained += agreed;
      ringOff += Math.min(slope2, r * r);
    }
    const w = prior[i]! * tukeyWeight(r, tolerated);
    if (w === 0) continue;
    // The residual is taken from the template where correlation does not care for gain and offset.
    const t = blurred[i]!;
    const p = t + r;
    n += w;
    st += w * t;
    sp += w * p;
    stt += w * t * t;
    spp += w * p * p;
    stp += w * t * p;
  }
  if (visible === 0 || n === 0)
    return {
      correlation: 0,
      agreement: 0,
      detail: 0,
      sides,
      ringDetail: NaN,
      ringMisfit: NaN,
      visibility: 0,
      error: Infinity,
    };
  const covariance = stp / n - (st / n) * (sp / n);
  const spread = Math.sqrt(Math.max(0, stt / n - (st / n) ** 2) * Math.max(0, spp / n - (sp / n) ** 2));
  return {
    correlation: spread > 1e-9 ? covariance / spread : 0,
    agreement: agreeing / visible,
    detail: slopes > 0 ? explained / slopes : 0,
    sides,
    ringDetail: ringExplained / ringSlopes,
    ringMisfit: ringOff / ringSlopes,
    visibility: visible / level.chosen,
    error: pieceMisfit(level, h, tolerated, s) * 2 ** level.level,
  };
}

/** Pieces that count as near a border of the region. */
const NEAR_BORDER = PIECES / 4;

function detailOfSides(level: TemplateLevel, gain: number, unnoticed: number, s: LevelScratch): number[] {
  const { pieceStarts, count } = level;
  const { sampled, blurred } = s;
  const slopes = [0, 0, 0, 0];
  const explained = [0, 0, 0, 0];
  for (let piece = 0; piece + 1 < pieceStarts.length; piece++) {
    const column = piece % PIECES;
    const row = Math.floor((piece % GROUP) / PIECES);
    const near = [column < NEAR_BORDER, column >= PIECES - NEAR_BORDER, row < NEAR_BORDER, row >= PIECES - NEAR_BORDER];
    if (!near.includes(true)) continue;
    let all = 0;
    let agreeing = 0;
    for (let i = pieceStarts[piece]!; i < pieceStarts[piece + 1]!; i++) {
      if (sampled[i + 3 * count] === 0) continue;
      const slope2 = gain * gain * (blurred[i + count]! ** 2 + blurred[i + 2 * count]! ** 2);
      all += slope2;
      if (sampled[i]! ** 2 < Math.max(DETAIL_OFF ** 2 * slope2, unnoticed)) agreeing += slope2;
    }
    near.forEach((is, side) => {
      if (!is) return;
      slopes[side]! += all;
      explained[side]! += agreeing;
    });
  }
  return slopes.map((all, side) => explained[side]! / all);
}

/** Root mean square of the shifts that the pieces would still like to make, picture samples of the level. */
function pieceMisfit(level: TemplateLevel, h: Homography, scale: number, s: LevelScratch): number {
  const unit = 1 / level.toUnit[0]!;
  let total = 0;
  let weights = 0;
  for (const piece of s.pieces) {
    const shift = pieceShift(piece, unit);
    // How far a piece of pure noise seems to move tells when a piece has nothing to say.
    if (!shift || !(shift.weaker > (scale / 0.25) ** 2)) continue;
    const weight = Math.min(1, shift.weaker / (100 * scale * scale));
    total += weight * Math.min(25, shift.x ** 2 + shift.y ** 2);
    weights += weight;
  }
  const inReference = weights > 0 ? Math.sqrt(total / weights) : 1;
  const centre: [number, number] = [level.fromUnit[2]! / level.fromUnit[8]!, level.fromUnit[5]! / level.fromUnit[8]!];
  const [uu, uv, vu, vv] = jacobianAt(h, centre);
  return inReference * Math.sqrt(Math.abs(uu * vv - uv * vu));
}

/**
 * The shift that a piece would like to make by its own normal equations, reference samples (`unit` samples to the unit
 * length), and the weaker eigenvalue of its gradients' sums; null when it has none.
 */
export function pieceShift(piece: Float64Array, unit: number): { x: number; y: number; weaker: number } | null {
  const xx = piece[0]! / unit ** 2;
  const xy = piece[1]! / unit ** 2;
  const yy = piece[2]! / unit ** 2;
  const xr = piece[55]! / unit;
  const yr = piece[56]! / unit;
  const det = xx * yy - xy * xy;
  if (!(det > 0)) return null;
  return {
    x: (yy * xr - xy * yr) / det,
    y: (xx * yr - xy * xr) / det,
    weaker: (xx + yy) / 2 - Math.hypot((xx - yy) / 2, xy),
  };
}
