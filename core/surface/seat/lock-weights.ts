import { clamp } from '../../base/geometry/clamp.ts';
import { inverse, Matrix } from 'ml-matrix';
import type { Homography } from '../../base/geometry/homography.ts';
import { MAD_TO_DEVIATION, median } from '../../base/image/statistics.ts';
import type { RailShifts } from './rail-measures.ts';

/** A frame to be locked: its map as followed, what was stated for its corners (frame px; null when nothing was), and what its borders show. */
export interface LockFrame {
  readonly frame: number;
  readonly map: Homography;
  readonly bounds: readonly number[] | null;
  readonly shifts: RailShifts;
  /** How far its corners move while the shutter is open, about, reference px. */
  readonly smear?: number;
}

/** Places along a border never agree better than this, reference px: pixels, the lens, the border's own texture. */
const LEAST_SCATTER = 0.04;
/** Neighbouring values of a profile repeat each other, and neighbouring pieces do: what is stated of them counts so many times wider. */
const REPEATED = 1.6;

export const deviationOf = (frame: LockFrame, i: number) =>
  Math.hypot(REPEATED * frame.shifts.deviation[i]!, LEAST_SCATTER);

/**
 * By how much what is off may change from a frame to the next (variance): by as much as the track is good for, but no more than it is seen
 * to change where borders show it. A slow drift so holds over frames on which they are covered.
 */
export function tieVariance(
  sigmas: readonly Float64Array[],
  factors: Float64Array,
  f: number,
  usualChange: Float64Array,
): Float64Array {
  const factor = Math.sqrt(factors[f]! * factors[f + 1]!);
  return sigmas[f]!.map((s, i) =>
    Math.min(factor * (s * s + sigmas[f + 1]![i]! ** 2), Math.max(LEAST_CHANGE, OVER_USUAL * usualChange[i]!) ** 2),
  );
}
/** Changes are never held to less than this, reference px, or than so many usual ones. */
const LEAST_CHANGE = 0.03;
const OVER_USUAL = 2;
/** From so many pairs of frames on the usual change is known. */
const ENOUGH_PAIRS = 6;

/** Standard deviation of what changes between frames that the borders know, coordinate by coordinate. */
export function changesOf(
  frames: readonly LockFrame[],
  x: readonly Float64Array[],
  known: readonly boolean[],
): Float64Array {
  const pairs = x.flatMap((_, f) =>
    f > 0 && known[f] && known[f - 1] && frames[f]!.frame === frames[f - 1]!.frame + 1 ? [f] : [],
  );
  return Float64Array.from({ length: 8 }, (_, i) =>
    pairs.length < ENOUGH_PAIRS
      ? Infinity
      : MAD_TO_DEVIATION * median(pairs.map((f) => Math.abs(x[f]![i]! - x[f - 1]![i]!))),
  );
}

/** Neighbours that lie further apart than the ties expect are let go: Cauchy's weight. */
export function jumpWeights(
  x: readonly Float64Array[],
  sigmas: readonly Float64Array[],
  factors: Float64Array,
  usualChange: Float64Array,
): Float64Array {
  return Float64Array.from({ length: Math.max(0, x.length - 1) }, (_, f) => {
    const variance = tieVariance(sigmas, factors, f, usualChange);
    let chi = 0;
    for (let i = 0; i < 8; i++) chi += (x[f + 1]![i]! - x[f]![i]!) ** 2 / variance[i]!;
    return 1 / (1 + chi / 8);
  });
}

/**
 * By how much the track's variance is to be multiplied, frame by frame: what the borders alone say, against the track's bounds and
 * their own. In windows of frames, by the median, so that one frame's jump is its own affair but not that of its neighbours.
 */
export function trackFactors(
  frames: readonly LockFrame[],
  diagonal: readonly Matrix[],
  right: readonly Matrix[],
  sigmas: readonly Float64Array[],
  referenceFrame: number,
): { factors: Float64Array; known: boolean[] } {
  const alone = frames.map(({ frame }, f) => {
    if (frame === referenceFrame) return NaN;
    // Directions of which the borders know at least as much as the track: the surplus of their contradiction.
    const information = diagonal[f]!;
    const prior = Matrix.diag([...sigmas[f]!].map((s) => 1 / (s * s)));
    const both = Matrix.add(information, prior);
    const inverted = invertSmall(both);
    if (!inverted) return NaN;
    const solved = inverted.mmul(right[f]!);
    const told = inverted.mmul(information);
    let chi = 0;
    let known = 0;
    for (let i = 0; i < 8; i++) {
      known += told.get(i, i);
      chi += solved.get(i, 0) ** 2 / sigmas[f]![i]! ** 2;
    }
    // Were the track exact, the borders' own noise would still contradict it: by what they know of the whole.
    const share = known / 8;
    return known > 1.5 ? (chi / known - (1 - share)) / share : NaN;
  });
  const usual = windowMedian(alone, 4);
  const factors = Float64Array.from(alone, (own, f) =>
    contradicted(
      Math.max(LEAST_FACTOR, Number.isNaN(usual[f]!) ? 1 : usual[f]!, Number.isNaN(own) || own < JUMP ? 0 : own),
    ),
  );
  return { factors, known: alone.map((own, f) => frames[f]!.frame === referenceFrame || !Number.isNaN(own)) };
}
/** A track that is off by far more than it says is not noisy but wrong: it loses its say altogether. */
const contradicted = (factor: number): number => (factor > WRONG ? factor ** 2 / WRONG : factor);
export const WRONG = 2;
/** A track may be better than it says, but not by more; and a frame by itself contradicts it from so many times its variance. */
const LEAST_FACTOR = 0.12;
const JUMP = 9;

export function invertSmall(a: Matrix): Matrix | null {
  try {
    return inverse(a);
  } catch {
    return null;
  }
}

function windowMedian(values: readonly number[], half: number): number[] {
  return values.map((_, f) => {
    const near = values.slice(Math.max(0, f - half), f + half + 1).filter((v) => !Number.isNaN(v));
    return near.length > 0 ? median(near) : NaN;
  });
}

/** How much of what is known of a frame's corners the borders tell, 0…1. */
export function shareOfBorders(information: Matrix, covariance: Matrix): number {
  return clamp(information.mmul(covariance).trace() / 8, 0, 1);
}

export function supportOf(frame: LockFrame, weights: Float64Array): number {
  return (
    weights.reduce((on, w, i) => on + (w > 0 && !Number.isNaN(frame.shifts.shift[i]!) ? 1 : 0), 0) /
    Math.max(1, weights.length)
  );
}
