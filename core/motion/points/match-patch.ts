import { clamp } from '../../base/geometry/clamp.ts';
import { MAD_TO_DEVIATION } from '../../base/image/statistics.ts';
import { compose, type Homography, type Point } from '../../base/geometry/homography.ts';
import { factorCholesky, substitute } from '../../base/geometry/linear-solve.ts';
import { PATCH_PLANES } from '../../base/kernels/index.ts';
import type { LightWindow } from './light-window.ts';
import { patchMemory } from './patch-memory.ts';
import { drawPatch, type DrawnPatch, type Patch } from './patch.ts';

/**
 * How light may differ between the pattern and the picture: not at all; by one factor and offset; or by a factor and a smooth field of the second degree,
 * as a reflection lays one over a corner.
 */
export type LightModel = 'same' | 'even' | 'field';
const TERMS = { same: 0, even: 2, field: 7 } as const satisfies Readonly<Record<LightModel, number>>;

export interface MatchSettings {
  readonly light: LightModel;
  /** The way during the exposure, px. */
  readonly smear: Point;
  /** Whether turn and size are looked for as well as place. */
  readonly turns: boolean;
  /** Residual spread of an ordinary frame, in roots of light. */
  readonly noise: number;
}

export interface PatchMatch {
  readonly at: Point;
  /** The pattern's offsets to those on this frame, as found. */
  readonly map: Homography;
  /** 0…1: the share of the pattern's own variation that the picture shows there, as a correlation. */
  readonly score: number;
  /** Share of the pattern's samples that agree. */
  readonly agrees: number;
  /** Standard deviations, px, along the best and the worst direction, and the direction of the worst, radians. */
  readonly sure: number;
  readonly unsure: number;
  readonly along: number;
  readonly noise: number;
  /** Mean squared residual with gross ones capped. */
  readonly misfit: number;
}

const DARK = 0.005;
const ROUNDS = 14;
const SETTLED = 0.006;
const LONGEST_STEP = 2;
/** Noise never counts as smaller than this. */
const LEAST_NOISE = 0.003;
/** Neighbouring samples of the smoothed light repeat each other: so many count as one. */
const CORRELATED = 3.4;
/** A damping of the unknown light, so that a flat pattern does not turn into any picture; in samples. */
const LIGHT_DAMPING = 1e-4;
/** Light over light of the pattern: not less and not more than this. */
const LEAST_GAIN = 0.3;
const MOST_GAIN = 3.5;
/** What a pattern explains must be more than noise explains by chance, in noises: a sum over all its samples. */
const TELLS_FROM = 40;

/**
 * Moves a pattern from `start` to where it fits best: Gauss–Newton with the mean of the pattern's and the picture's slopes, light fitted along, gross errors
 * left out by Huber's, then Tukey's weights. Residuals count in roots of light. Null where too little of it lies in the window.
 *
 * Sources: B. Lucas, T. Kanade, An iterative image registration technique, 1981; S. Benhimane, E. Malis, Real-time image-based tracking of planes using
 * efficient second-order minimization, 2004 (mean of slopes); weights as in core/motion/follow/robust-weights.ts.
 */
export function matchPatch(
  patch: Patch,
  map: Homography,
  window: LightWindow,
  start: Point,
  settings: MatchSettings,
): PatchMatch | null {
  const { set, equations } = patchMemory(Math.max(window.data.length, patch.window.data.length));
  const half = Math.max(...patch.size) / 2;
  let warp = map;
  let drawn = drawPatch(patch, warp, settings.smear);
  let [x, y] = start;
  if (!drawn) return null;
  const geometric = settings.turns ? 4 : 2;
  const terms = TERMS[settings.light];
  const size = geometric + terms;
  const n = patch.xs.length;
  const entries = (size * (size + 1)) / 2;
  const light = new Float64Array(Math.max(1, terms));
  light[0] = 1;
  const normal = new Float64Array(size * size);
  const right = new Float64Array(size);
  const step = new Float64Array(size);
  let noise: number;
  let last = false;
  for (let round = 0; ; round++) {
    const count = lookAt(drawn, window, x, y, light, settings.light);
    if (count < Math.max(12, 0.4 * n)) return null;
    noise = Math.max(LEAST_NOISE, MAD_TO_DEVIATION * medianMagnitude(drawn));
    const scale = Math.max(noise, 0.6 * settings.noise);
    set.patchEquations(drawn.planes, drawn.count, geometric, terms, light[0], scale, round > 0, equations);
    for (let a = 0, from = 0; a < size; a++) for (let b = 0; b <= a; b++) normal[a * size + b] = equations[from++]!;
    for (let a = 0; a < size; a++) right[a] = equations[entries + a]!;
    for (let a = 0; a < size; a++)
      normal[a * size + a]! += (a < geometric ? 1e-9 : LIGHT_DAMPING) * (1 + normal[a * size + a]!);
    if (!factorCholesky(normal, size)) return null;
    if (last || round >= ROUNDS) break;
    substitute(normal, right, step, size);
    const length = Math.hypot(step[0]!, step[1]!);
    const short = Math.min(1, LONGEST_STEP / Math.max(1e-9, length));
    x += short * step[0]!;
    y += short * step[1]!;
    for (let k = 0; k < terms; k++) light[k]! += step[geometric + k]!;
    // A pattern that light has swallowed is any picture's.
    if (terms > 0) light[0] = clamp(light[0], LEAST_GAIN, MOST_GAIN);
    if (geometric === 4) {
      const grow = 1 + clamp(step[2]! / half, -0.1, 0.1);
      const turn = clamp(step[3]! / half, -0.15, 0.15);
      warp = compose([grow, -turn, 0, turn, grow, 0, 0, 0, 1], warp);
      drawn = drawPatch(patch, warp, settings.smear) ?? drawn;
    }
    last = length < SETTLED && round >= 2;
  }
  return { at: [x, y], map: warp, ...judged(drawn, n, normal, size, settings, noise) };
}

/** Fills in what is seen, picture less pattern, and what a change of light counts there; how many samples lie in the window. */
function lookAt(
  { count, xs, ys, light: pattern, known, planes }: DrawnPatch,
  window: LightWindow,
  x: number,
  y: number,
  light: Float64Array,
  model: LightModel,
): number {
  const memory = patchMemory(window.data.length);
  const { sampled } = memory;
  const { RESIDUAL, ROOT, SEEN_X, SEEN_Y, USED, U, V } = PATCH_PLANES;
  memory.set.sampleCubic(
    memory.window('picture', window),
    xs,
    ys,
    count,
    x - window.left - 0.5,
    y - window.top - 0.5,
    [0, 0],
    1,
    sampled,
  );
  const gain = light[0]!;
  const offset = model === 'same' ? 0 : light[1]!;
  const field = model === 'field';
  let seen = 0;
  for (let i = 0; i < count; i++) {
    const used = known[i]! * sampled[i + 3 * count]!;
    const value = sampled[i]!;
    let expected = gain * pattern[i]! + offset;
    if (field) {
      const u = planes[U * count + i]!;
      const v = planes[V * count + i]!;
      expected += light[2]! * u + light[3]! * v + light[4]! * u * u + light[5]! * u * v + light[6]! * v * v;
    }
    const root = 1 / (2 * Math.sqrt(Math.max(0, value) + DARK));
    planes[ROOT * count + i] = root;
    planes[RESIDUAL * count + i] = (value - expected) * root;
    planes[USED * count + i] = used;
    seen += used;
  }
  planes.set(sampled.subarray(count, 2 * count), SEEN_X * count);
  planes.set(sampled.subarray(2 * count, 3 * count), SEEN_Y * count);
  return seen;
}

/** Width and number of the bins in which residuals are counted. */
const BIN = 0.0005;
const BINS = 512;
const bins = new Uint32Array(BINS);

/** The median of the residuals' magnitudes, to within a bin. */
function medianMagnitude({ planes, count }: DrawnPatch): number {
  bins.fill(0);
  let seen = 0;
  for (let i = 0; i < count; i++) {
    if (planes[PATCH_PLANES.USED * count + i] === 0) continue;
    bins[Math.min(BINS - 1, Math.floor(Math.abs(planes[PATCH_PLANES.RESIDUAL * count + i]!) / BIN))]!++;
    seen++;
  }
  let below = 0;
  for (let k = 0; k < BINS; k++) {
    if (2 * (below + bins[k]!) >= seen) return BIN * (k + (seen / 2 - below) / bins[k]!);
    below += bins[k]!;
  }
  return BIN * BINS;
}

/** Mean squared difference of the picture, where it was last looked at, from light alone, without any pattern: from a constant, or from a smooth field. Roots of light. */
function withoutPattern({ planes, count }: DrawnPatch, field: boolean): number {
  const size = field ? 6 : 1;
  const normal = new Float64Array(size * size);
  const right = new Float64Array(size);
  const fit = new Float64Array(size);
  const row = new Float64Array(6);
  const { sampled } = patchMemory();
  const { USED, U, V } = PATCH_PLANES;
  let seen = 0;
  let square = 0;
  for (let i = 0; i < count; i++) {
    if (planes[USED * count + i] === 0) continue;
    const value = Math.sqrt(Math.max(0, sampled[i]!) + DARK);
    row[0] = 1;
    if (field) {
      const u = planes[U * count + i]!;
      const v = planes[V * count + i]!;
      row[1] = u;
      row[2] = v;
      row[3] = u * u;
      row[4] = u * v;
      row[5] = v * v;
    }
    for (let a = 0; a < size; a++) {
      right[a]! += row[a]! * value;
      for (let b = 0; b <= a; b++) normal[a * size + b]! += row[a]! * row[b]!;
    }
    square += value * value;
    seen++;
  }
  for (let a = 0; a < size; a++) normal[a * size + a]! += 1e-9;
  if (seen === 0 || !factorCholesky(normal, size)) return 0;
  substitute(normal, right, fit, size);
  let explained = 0;
  for (let a = 0; a < size; a++) explained += fit[a]! * right[a]!;
  return Math.max(0, square - explained) / seen;
}

function judged(
  drawn: DrawnPatch,
  n: number,
  factor: Float64Array,
  size: number,
  settings: MatchSettings,
  noise: number,
): Omit<PatchMatch, 'at' | 'map'> {
  const usual = settings.noise ** 2;
  const cap = 9 * Math.max(noise ** 2, usual);
  const { planes, count } = drawn;
  let seen = 0;
  let agree = 0;
  let left = 0;
  for (let i = 0; i < count; i++) {
    if (planes[PATCH_PLANES.USED * count + i] === 0) continue;
    const r = planes[PATCH_PLANES.RESIDUAL * count + i]! ** 2;
    seen++;
    if (r < 20 * usual) agree++;
    left += Math.min(r, cap);
  }
  const misfit = left / Math.max(1, seen);
  const agrees = agree / Math.max(1, n);
  const without = withoutPattern(drawn, settings.light === 'field');
  const tells = ((without - misfit) * seen) / CORRELATED / usual > TELLS_FROM;
  const score = tells
    ? Math.sqrt(Math.max(0, 1 - Math.max(0, misfit - usual) / Math.max(1e-9, without - Math.min(usual, misfit)))) *
      Math.min(1, agrees / 0.7)
    : 0;
  // The covariance of the place: the first two columns of the inverse.
  const unit = new Float64Array(size);
  const column = new Float64Array(size);
  const variance = Math.max(noise, 0.5 * settings.noise) ** 2 * CORRELATED;
  const inverse = [0, 1].map((k) => {
    unit.fill(0);
    unit[k] = 1;
    substitute(factor, unit, column, size);
    return [column[0]! * variance, column[1]! * variance] as const;
  });
  const a = inverse[0]![0];
  const b = inverse[0]![1];
  const c = inverse[1]![1];
  const middle = (a + c) / 2;
  const apart = Math.hypot((a - c) / 2, b);
  return {
    score,
    agrees,
    sure: Math.sqrt(Math.max(0, middle - apart)),
    unsure: Math.sqrt(middle + apart),
    along: 0.5 * Math.atan2(2 * b, a - c),
    noise,
    misfit,
  };
}
