import {
  applyToPoint,
  compose,
  invert,
  jacobianAt,
  type Homography,
  type Point,
} from '../../base/geometry/homography.ts';
import { factorCholesky, substitute } from '../../base/geometry/linear-solve.ts';
import { DEGREES_OF_FREEDOM, MOTIONS, warpDerivatives, type Motion } from '../../base/geometry/motion-model.ts';
import { EQUATION_ENTRIES } from '../../base/kernels/index.ts';
import { reduceEquations, sumPieces } from './align-level.ts';
import type { ShapeTolerance } from './shape-prior.ts';

/**
 * How sure a frame's map is: the covariance of the parameters of a small warp in the region's unit coordinates, applied
 * before the map (H·U⁻¹·W·U).
 */
export interface Certainty {
  readonly motion: Motion;
  /** Continuous reference pixels to unit coordinates: a scaling with a shift, or from another frame any map. */
  readonly toUnit: Homography;
  /** dof × dof, row-major. */
  readonly covariance: readonly number[];
  /** How far off in its own time the frame may be seen, px: a smear tells the way, but less well when on it. */
  readonly timing?: number | undefined;
}

/** Neighbouring samples of the smoothed signal repeat each other: so many of them count as one. */
const CORRELATED_SAMPLES = 5;

/**
 * The covariance of a map solved from pieces' normal equations: the sum of what the residuals' spread says (σ²·A⁻¹) and
 * of what the pieces' disagreement says (A⁻¹·B·A⁻¹ with B = Σ g·gᵀ over the pieces' right-hand sides), since residuals
 * of one piece go together (interpolation, reflections, blur). `scale` is the residuals' spread, `prior` adds what else
 * is known to the summed equations. With the step that the pieces would still like to make. Null when the equations
 * leave the map open.
 *
 * Source: the cluster-robust "sandwich" of K.-Y. Liang, S. Zeger, Longitudinal data analysis using generalized linear
 * models, Biometrika 73(1), 1986.
 */
export function certaintyFrom(
  motion: Motion,
  pieces: readonly Float64Array[],
  scale: number,
  toUnit: Homography,
  prior: (total: Float64Array) => void = () => {},
): { certainty: Certainty; step: Float64Array } | null {
  const dof = DEGREES_OF_FREEDOM[motion];
  const n = dof + 2;
  const total = new Float64Array(EQUATION_ENTRIES);
  const factor = new Float64Array(n * n);
  const right = new Float64Array(n);
  const step = new Float64Array(n);
  const active = pieces.filter((piece) => piece[65]! > 0);
  sumPieces(active, total);
  const spread = total[66]! / Math.max(1e-9, total[65]!);
  prior(total);
  reduceEquations(total, motion, factor, right);
  for (let k = 0; k < n; k++) factor[k * n + k]! *= 1 + 1e-6;
  if (active.length === 0 || !factorCholesky(factor, n)) return null;
  substitute(factor, right, step, n);
  const variance = Math.max(spread, 0.25 * scale * scale) * CORRELATED_SAMPLES;
  const covariance = new Float64Array(dof * dof);
  const column = new Float64Array(n);
  const unit = new Float64Array(n);
  const scratch = new Float64Array(n * n);
  for (let k = 0; k < dof; k++) {
    unit.fill(0);
    unit[k] = variance;
    substitute(factor, unit, column, n);
    for (let i = 0; i < dof; i++) covariance[i * dof + k] = column[i]!;
  }
  const correction = active.length / Math.max(1, active.length - n / 2);
  for (const piece of active) {
    reduceEquations(piece, motion, scratch, right);
    substitute(factor, right, column, n);
    for (let i = 0; i < dof; i++)
      for (let k = 0; k < dof; k++) covariance[i * dof + k]! += correction * column[i]! * column[k]!;
  }
  return { certainty: { motion, toUnit, covariance: [...covariance] }, step };
}

/** Radius, px, of the circle about a corner (continuous reference pixels) that holds it with 95 % by the covariance alone. */
export function cornerSpread({ motion, toUnit, covariance }: Certainty, h: Homography, corner: Point): number {
  const dof = DEGREES_OF_FREEDOM[motion];
  const [x, y] = applyToPoint(toUnit, corner);
  warpDerivatives(motion, x, y, du, dv);
  const [a, b, c, d] = jacobianAt(compose(h, invert(toUnit)!), [x, y]);
  let uu = 0;
  let uv = 0;
  let vv = 0;
  for (let i = 0; i < dof; i++) {
    const ui = a * du[i]! + b * dv[i]!;
    const vi = c * du[i]! + d * dv[i]!;
    for (let k = 0; k < dof; k++) {
      const s = covariance[i * dof + k]!;
      const uk = a * du[k]! + b * dv[k]!;
      const vk = c * du[k]! + d * dv[k]!;
      uu += s * ui * uk;
      uv += s * ui * vk;
      vv += s * vi * vk;
    }
  }
  const middle = (uu + vv) / 2;
  const apart = Math.hypot((uu - vv) / 2, uv);
  // Exact for a round spread (χ² of two) and for a line (χ² of one), between them close enough.
  return Math.sqrt(Math.max(0, 3.84 * (middle + apart) + 2.15 * (middle - apart)));
}
const du = new Float64Array(8);
const dv = new Float64Array(8);

/** A certainty whose bounds are so many times as wide. */
export function widened(certainty: Certainty, times: number): Certainty {
  return { ...certainty, covariance: certainty.covariance.map((v) => v * times * times) };
}

/** How well the shape is known: standard deviations as `ShapeTolerance` counts them, of the least known direction. */
export function shapeSpread({ motion, covariance }: Certainty): ShapeTolerance {
  const dof = DEGREES_OF_FREEDOM[motion];
  const at = (i: number, k: number) => covariance[i * dof + k]!;
  if (dof < 6) return { shape: 0, perspective: 0 };
  const stretch = at(2, 2) + at(5, 5) - 2 * at(2, 5);
  const shear = at(3, 3) + at(4, 4) + 2 * at(3, 4);
  return {
    shape: Math.sqrt(Math.max(0, stretch, shear)),
    perspective: dof < 8 ? 0 : Math.sqrt(Math.max(at(6, 6), at(7, 7))),
  };
}

/** Beyond what residuals can tell (interpolation, the lens), px; what the reference's own noise adds makes the factor. Calibrated on generated plates: docs/accuracy.md. */
const FLOOR = 0.02;
const FACTOR = 2;
/** Of a smear, the share that its middle may be off; and likewise of the difference between how long it is and should be. */
const SMEAR_OFF = 0.02;
const UNEVEN_OFF = 0.08;

/**
 * The part of a bound that comes from a smear: its length as seen, and as the neighbours' motion would make it, px. With
 * a small share of the region in the picture the corners are far from what is seen.
 */
export function timingOf(seen: number, expected: number, visibility = 1): number {
  return Math.hypot(SMEAR_OFF * seen, UNEVEN_OFF * (seen - expected)) / Math.max(0.05, visibility);
}

/** The stated bound of a corner, px: the spread by the covariance and the smear, widened as calibrated. */
export function cornerBound(certainty: Certainty, h: Homography, corner: Point): number {
  return Math.hypot(FLOOR, FACTOR * cornerSpread(certainty, h, corner), certainty.timing ?? 0);
}

/**
 * The certainty of the same surface's maps when they lead from another frame: `there` maps that frame's pixels to those
 * of the frame that they led from, `off` is how far off (px) that map itself may be.
 */
export function certaintyFromElsewhere(certainty: Certainty, there: Homography, off: number): Certainty {
  return { ...certainty, toUnit: compose(certainty.toUnit, there), timing: Math.hypot(certainty.timing ?? 0, off) };
}

const short = (v: number) => Number(v.toPrecision(7));
/** Numbers before the covariance: scale and offsets of the unit coordinates and the timing, or all nine of a map. */
const PLAIN = 4;
const FROM_ELSEWHERE = 10;

/**
 * A certainty as plain numbers to be kept with a frame: scale and offsets of the unit coordinates (all nine of their map where it is
 * not such a one), the timing, then the covariance's lower triangle row by row; seven digits are more than it is known to.
 */
export function packCertainty({ toUnit, motion, covariance, timing = 0 }: Certainty): number[] {
  const [a, b, x, c, d, y, p, q, r] = toUnit as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const plain = a === d && b === 0 && c === 0 && p === 0 && q === 0 && r === 1;
  const dof = DEGREES_OF_FREEDOM[motion];
  const packed = plain ? [a, x, y, short(timing)] : [...toUnit, short(timing)];
  for (let i = 0; i < dof; i++) for (let k = 0; k <= i; k++) packed.push(short(covariance[i * dof + k]!));
  return packed;
}

/** The certainty that was packed; null where the numbers are of no motion. */
export function unpackCertainty(packed: readonly number[]): Certainty | null {
  for (const head of [PLAIN, FROM_ELSEWHERE]) {
    const motion = MOTIONS.find(
      (m) => packed.length === head + (DEGREES_OF_FREEDOM[m] * (DEGREES_OF_FREEDOM[m] + 1)) / 2,
    );
    if (!motion) continue;
    const dof = DEGREES_OF_FREEDOM[motion];
    const covariance = new Array<number>(dof * dof);
    const [scale, x, y] = packed as [number, number, number];
    let at = head;
    for (let i = 0; i < dof; i++)
      for (let k = 0; k <= i; k++) covariance[i * dof + k] = covariance[k * dof + i] = packed[at++]!;
    return {
      motion,
      toUnit: head === PLAIN ? [scale, 0, x, 0, scale, y, 0, 0, 1] : packed.slice(0, 9),
      covariance,
      timing: packed[head - 1]!,
    };
  }
  return null;
}
