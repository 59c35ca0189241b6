import { IDENTITY } from '../../base/geometry/homography.ts';
import { tukeyWeight } from '../../motion/follow/robust-weights.ts';
import { median, robustDeviation } from '../../base/image/statistics.ts';
import { bandColumns, sampleBand, segmentMiddle, type BandShape } from './edge-band.ts';
import type { LightPicture } from '../../base/image/light-sampler.ts';
import { shiftedSide, type SideLine } from './sides.ts';
import { StepFitter, type StepFit } from './step-fit.ts';

/** A border found closely. */
export interface BorderLine {
  readonly line: SideLine;
  /** 95 % bound of its place at its beginning, middle and end, px. */
  readonly bounds: readonly [number, number, number];
  /** Share of its visible pieces that lie on it. */
  readonly support: number;
  /** Median of light outside minus light inside over those. */
  readonly contrast: number;
  /** Spread of the step, px: the lens, the pixels, and what the border's own shape adds. */
  readonly sigma: number;
}

/** Half a profile, px, and how far from the line its step may lie. */
const REACH = 4.5;
const SEARCH = 2.5;
const STEP = 0.5;
/** Spreads that are tried. */
const SIGMAS = [0.5, 0.65, 0.85, 1.1, 1.5, 2.1, 3] as const;
/** Pieces are about so long, px, and at least and at most so many. */
const PIECE = 7;
const FEWEST = 12;
const MOST = 96;
/** Places of neighbouring pieces never agree better, px: pixels, content, the lens. */
const LEAST_SCATTER = 0.03;
const ROUNDS = 4;
/** A piece whose step is so close to the line supports it, px. */
const NEAR = 0.4;
/** Below this share of pieces on the line there is no border. */
const LEAST_SUPPORT = 0.2;
/** Bounds never become smaller than this, px. */
const FLOOR = 0.02;

/**
 * The border near `line`: a step is found in each piece's profile, and a line laid through them that gross errors (fingers, reflections,
 * rounded corners) have no say in. Looked at again about the line found, until it stands. Null when there is none.
 * `ends` is the share of each end that is left out. Source of the weights: Tukey's biweight (follow/robust-weights.ts).
 */
export function fitBorder(
  picture: LightPicture,
  line: SideLine,
  ends = 0.05,
  fitters: FitterCache = new FitterCache(),
): BorderLine | null {
  let now = line;
  let result: BorderLine | null = null;
  for (let round = 0; round < ROUNDS; round++) {
    const found = fitOnce(picture, now, ends, fitters, round === 0 ? null : result!.sigma);
    if (!found) return null;
    const moved = Math.abs(found.atFrom) + Math.abs(found.atTo);
    now = shiftedSide(now, found.atFrom, found.atTo);
    result = { ...found.border, line: now };
    if (moved < 0.02) break;
  }
  return result;
}

/** Fitters are made once for each spread. */
export class FitterCache {
  private readonly made = new Map<number, StepFitter>();
  readonly places = Array.from(
    { length: bandColumns({ inner: -REACH, outer: REACH, step: STEP } as BandShape) },
    (_, i) => -REACH + i * STEP,
  );

  of(sigma: number): StepFitter {
    let fitter = this.made.get(sigma);
    if (!fitter) this.made.set(sigma, (fitter = new StepFitter(this.places, sigma, -SEARCH, SEARCH)));
    return fitter;
  }
}

function fitOnce(
  picture: LightPicture,
  line: SideLine,
  ends: number,
  fitters: FitterCache,
  known: number | null,
): { atFrom: number; atTo: number; border: Omit<BorderLine, 'line'> } | null {
  const length = line.length * (1 - 2 * ends);
  const segments = Math.max(FEWEST, Math.min(MOST, Math.round(length / PIECE)));
  const shape: BandShape = {
    from: ends,
    to: 1 - ends,
    segments,
    samples: Math.max(3, Math.round(length / segments)),
    inner: -REACH,
    outer: REACH,
    step: STEP,
  };
  const band = sampleBand(picture, IDENTITY, line, shape);
  const whole: number[] = [];
  for (let j = 0; j < segments; j++)
    if (!Number.isNaN(band.values.subarray(j * band.columns, (j + 1) * band.columns).reduce((a, b) => a + b, 0)))
      whole.push(j);
  if (whole.length < FEWEST / 2) return null;
  const sigma = known ?? bestSigma(band.values, band.columns, whole, fitters);
  const fitter = fitters.of(sigma);
  const steps = whole.flatMap((j) => {
    const fit = fitter.fit(band.values, j * band.columns);
    return fit && Number.isFinite(fit.deviation) ? [{ t: segmentMiddle(shape, j), ...fit }] : [];
  });
  const fitted = robustLine(steps);
  if (!fitted) return null;
  const { a, b, weights, covariance } = fitted;
  const on = steps.filter((_, i) => weights[i]! > 0.2);
  const near = steps.filter((s) => Math.abs(s.place - a - b * s.t) < NEAR);
  const support = near.length / whole.length;
  if (support < LEAST_SUPPORT || on.length < 5) return null;
  const boundAt = (t: number) =>
    Math.hypot(FLOOR, 1.96 * Math.sqrt(Math.max(0, covariance[0] + 2 * t * covariance[1] + t * t * covariance[2])));
  return {
    atFrom: a,
    atTo: a + b,
    border: {
      bounds: [boundAt(0), boundAt(0.5), boundAt(1)],
      support,
      contrast: median(on.map((s) => s.contrast)),
      sigma,
    },
  };
}

function bestSigma(values: Float32Array, columns: number, whole: readonly number[], fitters: FitterCache): number {
  let best: number = SIGMAS[0];
  let least = Infinity;
  for (const sigma of SIGMAS) {
    // The middle half of the pieces' costs: those that see a border and nothing else.
    const costs = whole.map((j) => fitters.of(sigma).fit(values, j * columns)?.cost ?? Infinity).sort((a, b) => a - b);
    const cost = costs.slice(0, Math.ceil(costs.length / 2)).reduce((a, b) => a + b, 0);
    if (cost < least) [best, least] = [sigma, cost];
  }
  return best;
}

interface LineFit {
  /** Offset at the beginning, and what is added up to the end, px. */
  readonly a: number;
  readonly b: number;
  readonly weights: readonly number[];
  /** Of a and b: [aa, ab, bb]. */
  readonly covariance: readonly [number, number, number];
}

/** A line through places along the side, by iteratively reweighted least squares from the best of many pairs. */
export function robustLine(steps: readonly (StepFit & { t: number })[]): LineFit | null {
  if (steps.length < 5) return null;
  const trust = steps.map((s) => 1 / (s.deviation ** 2 + LEAST_SCATTER ** 2));
  let { a, b } = startLine(steps);
  let scale = 0;
  let weights: number[] = [];
  for (let round = 0; round < 12; round++) {
    const off = steps.map((s) => s.place - a - b * s.t);
    scale = Math.max(LEAST_SCATTER, round < 3 ? 0.4 : 0, robustDeviation(off.filter((o) => Math.abs(o) < 1.5)) || 0.4);
    weights = off.map((o) => tukeyWeight(o, scale));
    const sums = [0, 0, 0, 0, 0];
    steps.forEach((s, i) => {
      const w = weights[i]! * trust[i]!;
      [w, w * s.t, w * s.t * s.t, w * s.place, w * s.place * s.t].forEach((v, k) => (sums[k]! += v));
    });
    const [w, wt, wtt, wp, wpt] = sums as [number, number, number, number, number];
    const det = w * wtt - wt * wt;
    if (!(det > 1e-9 * w * w)) return null;
    a = (wtt * wp - wt * wpt) / det;
    b = (w * wpt - wt * wp) / det;
  }
  // What the places really scatter, in units of what each was trusted for.
  let chi = 0;
  let sum = 0;
  steps.forEach((s, i) => {
    chi += weights[i]! * trust[i]! * (s.place - a - b * s.t) ** 2;
    sum += weights[i]!;
  });
  const inflate = Math.max(1, chi / Math.max(1, sum - 2));
  const m = [0, 0, 0];
  steps.forEach((s, i) => [1, s.t, s.t * s.t].forEach((v, k) => (m[k]! += (weights[i]! * trust[i]! * v) / inflate)));
  const det = m[0]! * m[2]! - m[1]! * m[1]!;
  return det > 0 ? { a, b, weights, covariance: [m[2]! / det, -m[1]! / det, m[0]! / det] } : null;
}

/** Of the lines through pairs of places, the one with most weight within half a px: random sample consensus, over all pairs of a few. */
function startLine(steps: readonly (StepFit & { t: number })[]): { a: number; b: number } {
  const every = Math.max(1, Math.floor(steps.length / 24));
  const few = steps.filter((_, i) => i % every === 0);
  let best = { a: median(steps.map((s) => s.place)), b: 0 };
  let most = -1;
  for (const p of few) {
    for (const q of few) {
      if (q.t - p.t < 0.25) continue;
      const b = (q.place - p.place) / (q.t - p.t);
      const a = p.place - b * p.t;
      const votes = steps.reduce(
        (sum, s) => sum + Math.max(0, 1 - Math.abs(s.place - a - b * s.t) / 0.5) / (1 + s.deviation),
        0,
      );
      if (votes > most) [best, most] = [{ a, b }, votes];
    }
  }
  return best;
}
