import { inverse, Matrix } from 'ml-matrix';
import { tukeyWeight } from '../../motion/follow/robust-weights.ts';
import type { Homography } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { MAD_TO_DEVIATION, median, robustDeviation } from '../../base/image/statistics.ts';
import { solveChain } from './block-chain.ts';
import { scaleAt } from './frame-scale.ts';
import type { RailPiece, RailShifts } from './rail-measures.ts';

/** A frame to be locked: its map as followed, what was stated for its corners (frame px; null when nothing was), and what its borders show. */
export interface LockFrame {
  readonly frame: number;
  readonly map: Homography;
  readonly bounds: readonly number[] | null;
  readonly shifts: RailShifts;
  /** How far its corners move while the shutter is open, about, reference px. */
  readonly smear?: number;
}

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

/** Places along a border never agree better than this, reference px: pixels, the lens, the border's own texture. */
const LEAST_SCATTER = 0.04;
/** Neighbouring values of a profile repeat each other, and neighbouring pieces do: what is stated of them counts so many times wider. */
const REPEATED = 1.6;
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

const deviationOf = (frame: LockFrame, i: number) => Math.hypot(REPEATED * frame.shifts.deviation[i]!, LEAST_SCATTER);

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
    const deviation = deviationOf(frame, i) * Math.max(1, Math.min(scale, 3)) * (railScale.get(piece.rail) ?? 1);
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
 * By how much what is off may change from a frame to the next (variance): by as much as the track is good for, but no more than it is seen
 * to change where borders show it. A slow drift so holds over frames on which they are covered.
 */
function tieVariance(
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
function changesOf(frames: readonly LockFrame[], x: readonly Float64Array[], known: readonly boolean[]): Float64Array {
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
function jumpWeights(
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
function trackFactors(
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
const WRONG = 2;
/** A track may be better than it says, but not by more; and a frame by itself contradicts it from so many times its variance. */
const LEAST_FACTOR = 0.12;
const JUMP = 9;

function invertSmall(a: Matrix): Matrix | null {
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

/** How much of what is known of a frame's corners the borders tell, 0…1. */
function shareOfBorders(information: Matrix, covariance: Matrix): number {
  return Math.min(1, Math.max(0, information.mmul(covariance).trace() / 8));
}

function supportOf(frame: LockFrame, weights: Float64Array): number {
  return (
    weights.reduce((on, w, i) => on + (w > 0 && !Number.isNaN(frame.shifts.shift[i]!) ? 1 : 0), 0) /
    Math.max(1, weights.length)
  );
}
