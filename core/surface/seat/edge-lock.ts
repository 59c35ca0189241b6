import { clamp } from '../../base/geometry/clamp.ts';
import { Matrix } from 'ml-matrix';
import { tukeyWeight } from '../../motion/follow/robust-weights.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { MAD_TO_DEVIATION, median, robustDeviation } from '../../base/image/statistics.ts';
import { solveChain } from './block-chain.ts';
import { scaleAt } from './frame-scale.ts';
import type { RailPiece } from './rail-measures.ts';
import {
  type LockFrame,
  deviationOf,
  tieVariance,
  changesOf,
  jumpWeights,
  trackFactors,
  WRONG,
  invertSmall,
  shareOfBorders,
  supportOf,
} from './lock-weights.ts';

export interface LockedFrame {
  readonly frame: number;
  /** x and y of corners 0…3, reference px: what is to be added to the reference's corners. */
  readonly moves: Float64Array;
  /** 95 % bound of each corner when moved so, frame px. */
  readonly bounds: readonly number[];
  /** Share of all pieces that are seen and go with it. */
  readonly support: number;
  /** How far the furthest corner is moved, frame px. */
  readonly drift: number;
}
/** What a corner's circle of 95 % is in standard deviations (χ² of two). */
const CIRCLE = 2.448;
/** A track that says nothing of its bounds is taken to be this good, px. */
const UNSAID = 1;
/** No track is trusted better than this, px. */
const BEST_TRACK = 0.012;
const ROUNDS = 8;
/** Of a frame's smear over so many px, what its middle as borders show it may be off. */
const SMEAR_OFF = 0.06;
const SLIGHT_SMEAR = 5;
/** Until the frames have told, borders further out count so many times wider: they may be another plane's. */
const FURTHER = 3;
/** Of a border's own place along its length (measured on the reference alone) so much is unknown, px. */
const OWN_PLACE = 0.08;
/** Bounds that are given out: never smaller, and widened as calibrated (docs/accuracy.md), px. */
const FLOOR = 0.03;
const WIDER = 2.2;

/**
 * Solves all frames of a track together for small moves of the four corners, from where the borders lie: every piece of a border says
 * how far it is off along its normal; the track says that it is right within its bounds; and what is off changes slowly, but for jumps.
 * Pieces that do not go with the rest (fingers, reflections) lose their say, and so do borders that never do. How far a track is to be
 * believed is learnt from how far the borders contradict it, near by. Pieces have a place of their own that the reference's noise
 * hides: the mean over the frames of what is left over.
 */
export function solveLock(
  frames: readonly LockFrame[],
  pieces: readonly RailPiece[],
  quad: Quad,
  referenceFrame: number,
): LockedFrame[] {
  const n = frames.length;
  const scales = frames.map(({ map }) => quad.map((c) => scaleAt(map, c)));
  const sigmas = frames.map(({ bounds }, f) =>
    Float64Array.from(
      { length: 8 },
      (_, i) => Math.max(BEST_TRACK, (bounds ? bounds[i >> 1]! : CIRCLE * UNSAID) / CIRCLE) / scales[f]![i >> 1]!,
    ),
  );
  const own = new Float64Array(pieces.length);
  const railScale = new Map(pieces.map(({ rail, own: itsOwn }) => [rail, itsOwn ? 1 : FURTHER]));
  let x: Float64Array[] = frames.map(() => new Float64Array(8));
  let covariance: Matrix[] = [];
  let weights: Float64Array[] = [];
  let informations: Matrix[] = [];
  let usualChange: Float64Array = new Float64Array(8).fill(Infinity);
  let factors: Float64Array = new Float64Array(n).fill(1);
  let jumps: Float64Array = new Float64Array(Math.max(0, n - 1)).fill(1);
  for (let round = 0; round < ROUNDS; round++) {
    weights = frames.map((frame, f) => pieceWeights(frame, pieces, x[f]!, own, railScale, round));
    const { diagonal, right } = normalEquations(frames, pieces, weights, own);
    informations = diagonal;
    // The reference's own corners are what all others are measured by.
    const priors = frames.map((frame, f) =>
      priorOf(
        frame.frame === referenceFrame ? new Float64Array(8).fill(1e-4) : sigmas[f]!,
        frame.frame === referenceFrame ? 1 : factors[f]!,
      ),
    );
    const ties =
      jumps.length > 0
        ? Array.from(jumps, (jump, f) =>
            tieVariance(sigmas, factors, f, usualChange).map(
              (v) => jump / (v * (frames[f + 1]!.frame - frames[f]!.frame)),
            ),
          )
        : [];
    ({ x, covariance } = solveChain(
      diagonal.map((d, f) => Matrix.add(d, Matrix.diag([...priors[f]!]))),
      right,
      ties,
    ));
    const told = trackFactors(frames, diagonal, right, sigmas, referenceFrame);
    factors = told.factors;
    usualChange = changesOf(frames, x, told.known);
    jumps = jumpWeights(x, sigmas, factors, usualChange);
    if (round >= 2) {
      learnOwnPlaces(frames, pieces, weights, x, own, median(factors) <= WRONG);
      learnRails(frames, pieces, x, own, railScale);
    }
  }
  return frames.map((frame, f) => ({
    frame: frame.frame,
    moves: x[f]!,
    bounds: quad.map((_, i) => {
      const own = Math.hypot(
        FLOOR,
        WIDER *
          CIRCLE *
          scales[f]![i]! *
          Math.sqrt(Math.max(0, (covariance[f]!.get(2 * i, 2 * i) + covariance[f]!.get(2 * i + 1, 2 * i + 1)) / 2)),
      );
      // What frames share of the track's error no number of them shows: as far as the borders do not know the corners, the track's word stands.
      const share = shareOfBorders(informations[f]!, covariance[f]!);
      const stated = frame.frame === referenceFrame ? own : (frame.bounds?.[i] ?? own);
      return Math.hypot(Math.sqrt(share) * own, Math.sqrt(1 - share) * Math.max(own, stated));
    }),
    support: supportOf(frame, weights[f]!),
    drift: Math.max(...quad.map((_, i) => scales[f]![i]! * Math.hypot(x[f]![2 * i]!, x[f]![2 * i + 1]!))),
  }));
}

function leftOver(
  { shifts }: LockFrame,
  pieces: readonly RailPiece[],
  x: Float64Array,
  own: Float64Array,
  i: number,
): number {
  const { answer } = pieces[i]!;
  let expected = own[i]!;
  for (let k = 0; k < 8; k++) expected += answer[k]! * x[k]!;
  return shifts.shift[i]! - expected;
}

/** Information of each piece: 1/σ², lessened for what does not go with the rest. */
function pieceWeights(
  frame: LockFrame,
  pieces: readonly RailPiece[],
  x: Float64Array,
  own: Float64Array,
  railScale: ReadonlyMap<number, number>,
  round: number,
): Float64Array {
  const off = pieces.map((_, i) => leftOver(frame, pieces, x, own, i));
  const usual = off.map((o, i) => o / deviationOf(frame, i)).filter((v) => !Number.isNaN(v));
  const scale = Math.max(round < 2 ? 6 : 1, robustDeviation(usual) || 1);
  return Float64Array.from(pieces, (piece, i) => {
    if (Number.isNaN(off[i]!)) return 0;
    const deviation = deviationOf(frame, i) * clamp(scale, 1, 3) * (railScale.get(piece.rail) ?? 1);
    return tukeyWeight(off[i]!, round < 2 ? deviation * 6 : deviation) / deviation ** 2;
  });
}

function normalEquations(
  frames: readonly LockFrame[],
  pieces: readonly RailPiece[],
  weights: readonly Float64Array[],
  own: Float64Array,
): { diagonal: Matrix[]; right: Matrix[] } {
  const diagonal: Matrix[] = [];
  const right: Matrix[] = [];
  frames.forEach(({ shifts, smear = 0 }, f) => {
    const d = new Float64Array(64);
    const r = new Float64Array(8);
    pieces.forEach(({ answer }, i) => {
      const w = weights[f]![i]!;
      if (w === 0) return;
      const shift = shifts.shift[i]! - own[i]!;
      for (let k = 0; k < 8; k++) {
        const wk = w * answer[k]!;
        r[k]! += wk * shift;
        for (let m = 0; m < 8; m++) d[k * 8 + m]! += wk * answer[m]!;
      }
    });
    // What a frame's pieces share (where in its smear the middle is) no number of them takes away: (N⁻¹ + c²)⁻¹.
    const told = Matrix.from1DArray(8, 8, d);
    const shared = (SMEAR_OFF * Math.max(0, smear - SLIGHT_SMEAR)) ** 2;
    const damp = shared > 0 ? invertSmall(Matrix.add(Matrix.eye(8), Matrix.mul(told, shared))) : null;
    diagonal.push(damp ? damp.mmul(told) : told);
    right.push(damp ? damp.mmul(Matrix.columnVector([...r])) : Matrix.columnVector([...r]));
  });
  return { diagonal, right };
}

function priorOf(sigma: Float64Array, factor: number): Float64Array {
  return sigma.map((s) => 1 / (factor * s * s));
}

/**
 * A piece's own place: what it is off by in the mean, drawn to none by what is unknown of it. What all of them together would owe to one move
 * of the corners is the reference's own noise, as long as the track is right in the mean; of one that is wrong it would be its drift.
 */
function learnOwnPlaces(
  frames: readonly LockFrame[],
  pieces: readonly RailPiece[],
  weights: readonly Float64Array[],
  x: readonly Float64Array[],
  own: Float64Array,
  common: boolean,
): void {
  pieces.forEach((_, i) => {
    let sum = 0;
    let total = 1 / OWN_PLACE ** 2;
    frames.forEach((frame, f) => {
      const w = weights[f]![i]!;
      if (w === 0) return;
      sum += w * (leftOver(frame, pieces, x[f]!, own, i) + own[i]!);
      total += w;
    });
    own[i] = sum / total;
  });
  if (!common) withoutCommon(pieces, own);
}

/** Takes out of the pieces' places what moves of the corners would explain, by least squares. */
function withoutCommon(pieces: readonly RailPiece[], own: Float64Array): void {
  const normal = new Float64Array(64);
  const side = new Float64Array(8);
  pieces.forEach(({ answer }, i) => {
    for (let k = 0; k < 8; k++) {
      side[k]! += answer[k]! * own[i]!;
      for (let m = 0; m < 8; m++) normal[k * 8 + m]! += answer[k]! * answer[m]! + (k === m ? 1e-9 : 0);
    }
  });
  const moves = invertSmall(Matrix.from1DArray(8, 8, normal))
    ?.mmul(Matrix.columnVector([...side]))
    .to1DArray();
  if (moves) pieces.forEach(({ answer }, i) => (own[i]! -= answer.reduce((sum, a, k) => sum + a * moves[k]!, 0)));
}

/** A border whose pieces are usually further off than they should be is trusted less: it may be another plane's. */
function learnRails(
  frames: readonly LockFrame[],
  pieces: readonly RailPiece[],
  x: readonly Float64Array[],
  own: Float64Array,
  railScale: Map<number, number>,
): void {
  const off = new Map<number, number[]>();
  frames.forEach((frame, f) =>
    pieces.forEach(({ rail }, i) => {
      const o = leftOver(frame, pieces, x[f]!, own, i) / deviationOf(frame, i);
      if (Number.isNaN(o)) return;
      const list = off.get(rail) ?? [];
      list.push(Math.abs(o));
      off.set(rail, list);
    }),
  );
  for (const [rail, list] of off) {
    const usual = MAD_TO_DEVIATION * median(list);
    railScale.set(rail, usual > 2.5 ? usual ** 2 / 2.5 : Math.max(1, usual));
  }
}
