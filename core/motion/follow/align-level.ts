import { applyToPoint, applyToPoints, compose, determinant, type Homography } from '../../base/geometry/homography.ts';
import { factorCholesky, substitute } from '../../base/geometry/linear-solve.ts';
import {
  composeWarp,
  DEGREES_OF_FREEDOM,
  motionBasis,
  warpFromParameters,
  type Motion,
} from '../../base/geometry/motion-model.ts';
import {
  EQUATION_ENTRIES,
  RESIDUAL_BINS,
  UNKNOWNS,
  type KernelSet,
  type TexelPlane,
} from '../../base/kernels/index.ts';
import { blurTemplate, type FrameMotion } from './motion-blurred-template.ts';
import type { PictureLevels } from './image-pyramid.ts';
import { scaleFromHistogram, toleranceFromHistogram } from './robust-weights.ts';
import { addShapePrior, type ShapePrior } from './shape-prior.ts';
import { addPosePrior, type PosePrior } from './pose-memory.ts';
import { homographyFromLevel, toLevel, type TemplateLevel } from './template.ts';

/** The brightness change between reference and picture: picture = gain · reference + offset. */
export interface Light {
  gain: number;
  offset: number;
}

export interface AlignSettings {
  readonly motion: Motion;
  readonly iterations: number;
  /** Stop when no corner of the region moves further than this many samples. */
  readonly tolerance: number;
  /** No corner of the region moves further than this in one step, in samples. */
  readonly stepLimit: number;
  /** How the reference moves under the picture for a candidate map, in this level's indices. */
  readonly motionAt: (h: Homography) => FrameMotion;
  /** Fraction of the frame's time that the shutter is open. */
  readonly shutter: number;
  /** Least and greatest gain. */
  readonly gains: readonly [number, number];
  /** What the region's shape is expected to be, in sample indices; null when nothing is known. */
  readonly expected?: ShapePrior | null;
  /** From which iteration on gross errors have no say at all (Tukey's weights in place of Huber's); 2 unless given. */
  readonly redescendFrom?: number;
  /** What one plane seen by one camera obeys; null when it is not asked for. */
  readonly pose?: PosePrior | null;
}

/** Template's and picture's derivatives in equal parts. */
export const MEAN_MIX = 0.5;

/** Working memory of one template level; reused from frame to frame. Planes as the kernels describe them. */
export interface LevelScratch {
  readonly blurred: Float32Array;
  readonly sampled: Float32Array;
  readonly histogram: Uint32Array;
  /** Each piece's share of the normal equations, as last accumulated; one after the other, and each by itself. */
  readonly equations: Float64Array;
  readonly pieces: Float64Array[];
}

export function createScratch(set: KernelSet, level: TemplateLevel): LevelScratch {
  const pieceCount = level.pieceStarts.length - 1;
  const equations = set.doubles(pieceCount * EQUATION_ENTRIES);
  return {
    blurred: set.floats(4 * level.count),
    sampled: set.floats(4 * level.count),
    histogram: new Uint32Array(2 * RESIDUAL_BINS),
    equations,
    pieces: Array.from({ length: pieceCount }, (_, i) =>
      equations.subarray(i * EQUATION_ENTRIES, (i + 1) * EQUATION_ENTRIES),
    ),
  };
}

export interface LevelResult {
  homography: Homography;
  light: Light;
  /** Robust standard deviation of the residuals. */
  scale: number;
  /** How many points had their place inside the picture. */
  visible: number;
  /** True when the residuals left behind are, within the tolerance, those of the map. */
  settled: boolean;
}

/** Sees to it that the picture's texels are there and forms the residuals of all points; returns how many are usable. */
export function computeResiduals(
  level: TemplateLevel,
  picture: PictureLevels,
  h: Homography,
  light: Light,
  s: LevelScratch,
): number {
  picture.need(level.level, applyToPoints(h, level.box), 2);
  return picture.set.residuals(
    picture.levels[level.level] as TexelPlane,
    level,
    s.blurred,
    h,
    light.gain,
    light.offset,
    level.steep,
    s.histogram,
    s.sampled,
  );
}

/** Fills `s.pieces` from the residuals that are in `s`. */
export function accumulatePieces(
  set: KernelSet,
  level: TemplateLevel,
  gain: number,
  scale: number,
  tolerance: number,
  mix: number,
  redescending: boolean,
  s: LevelScratch,
): void {
  const [scaleX, , offsetX, , scaleY, offsetY] = level.toUnit as [number, number, number, number, number, number];
  const settings = { scaleX, offsetX, scaleY, offsetY, gain, tolerance, scale, mix, redescending };
  set.accumulate(level, level.pieceStarts, s.blurred, s.sampled, settings, s.equations);
}

/**
 * Registers one level of a picture to the template by Gauss–Newton on robustly weighted residuals.
 * The derivative is the mean of the template's and the warped picture's (efficient second-order
 * minimisation); gain and offset are solved together with the motion.
 *
 * Source: S. Benhimane, E. Malis, Homography-based 2D visual tracking and servoing, Int. J. Robotics
 * Research 26(7), 2007, for the derivative; robust weighting as in robust-weights.ts.
 */
export function alignLevel(
  level: TemplateLevel,
  picture: PictureLevels,
  start: Homography,
  startLight: Light,
  settings: AlignSettings,
  s: LevelScratch,
): LevelResult {
  const dof = DEGREES_OF_FREEDOM[settings.motion];
  const n = dof + 2;
  const set = picture.set;
  const total = new Float64Array(EQUATION_ENTRIES);
  const matrix = new Float64Array(n * n);
  const rightSide = new Float64Array(n);
  const step = new Float64Array(n);
  let h = facing(start, level);
  const light = { ...startLight };
  let scale = 0;
  let visible = 0;
  let settled = false;
  let blurredFor: Homography | null = null;

  for (let iteration = 0; iteration < settings.iterations; iteration++) {
    if (!blurredFor || cornerShift(level, blurredFor, h) > 0.25) {
      blurTemplate(set, level, h, settings.motionAt(h), settings.shutter, s.blurred);
      blurredFor = h;
    }
    visible = computeResiduals(level, picture, h, light, s);
    if (visible < 4 * n) break;
    scale = scaleFromHistogram(s.histogram, visible);
    const redescending = iteration >= (settings.redescendFrom ?? 2);
    accumulatePieces(set, level, light.gain, scale, toleranceFromHistogram(s.histogram), MEAN_MIX, redescending, s);
    sumPieces(s.pieces, total);
    addShapePrior(total, settings.expected ?? null, h, level, scale);
    if (settings.pose)
      addPosePrior(
        total,
        settings.pose,
        homographyFromLevel(h, level.level),
        compose(level.toUnit, toLevel(level.level)),
        scale,
      );
    reduceEquations(total, settings.motion, matrix, rightSide);
    for (let k = 0; k < n; k++) matrix[k * n + k]! *= 1 + 1e-6;
    if (!factorCholesky(matrix, n)) break;
    substitute(matrix, rightSide, step, n);
    const limited = limitedWarp(level, settings, step, h);
    light.gain = Math.min(settings.gains[1], Math.max(settings.gains[0], light.gain + step[dof]!));
    light.offset += step[dof + 1]!;
    h = limited.homography;
    settled = limited.moved < settings.tolerance && redescending;
    if (settled) break;
  }
  return { homography: h, light, scale, visible, settled };
}

export function sumPieces(pieces: readonly Float64Array[], total: Float64Array): void {
  total.fill(0);
  for (const piece of pieces) for (let k = 0; k < EQUATION_ENTRIES; k++) total[k]! += piece[k]!;
}

/** Normal equations of the perspective motion as those of a stiffer one: PᵀAP, Pᵀb with P the stiffer motion's derivatives. */
export function reduceEquations(
  entries: Float64Array,
  motion: Motion,
  matrix: Float64Array,
  rightSide: Float64Array,
): void {
  const basis = motionBasis(motion);
  const n = basis.length;
  const at = (a: number, b: number) => entries[a >= b ? (a * (a + 1)) / 2 + b : (b * (b + 1)) / 2 + a]!;
  for (let i = 0; i < n; i++) {
    let right = 0;
    for (const [a, ca] of basis[i]!) right += ca * entries[(UNKNOWNS * (UNKNOWNS + 1)) / 2 + a]!;
    rightSide[i] = right;
    for (let j = 0; j <= i; j++) {
      let sum = 0;
      for (const [a, ca] of basis[i]!) for (const [b, cb] of basis[j]!) sum += ca * cb * at(a, b);
      matrix[i * n + j] = sum;
      matrix[j * n + i] = sum;
    }
  }
}

/** The same map, scaled so that points of the region have a positive denominator. */
function facing(h: Homography, level: TemplateLevel): Homography {
  const [x, y] = applyToPoint(level.fromUnit, [0, 0]);
  return h[6]! * x + h[7]! * y + h[8]! < 0 ? h.map((v) => -v) : h;
}

function limitedWarp(
  level: TemplateLevel,
  settings: AlignSettings,
  step: Float64Array,
  h: Homography,
): { homography: Homography; moved: number } {
  let share = 1;
  for (let attempt = 0; attempt < 8; attempt++) {
    const warp = warpFromParameters(
      settings.motion,
      step.map((v) => v * share),
    );
    const homography = facing(composeWarp(h, compose(level.fromUnit, warp, level.toUnit)), level);
    const moved = cornerShift(level, h, homography);
    if (Number.isFinite(moved) && moved <= settings.stepLimit && determinant(homography) > 0)
      return { homography, moved };
    share *= Number.isFinite(moved) ? Math.min(0.5, settings.stepLimit / moved) : 0.5;
  }
  return { homography: h, moved: 0 };
}

/** The furthest that a corner of the region moves between two maps, in samples. */
export function cornerShift(level: TemplateLevel, a: Homography, b: Homography): number {
  let most = 0;
  for (const corner of level.box) {
    const [ax, ay] = applyToPoint(a, corner);
    const [bx, by] = applyToPoint(b, corner);
    const d = Math.hypot(ax - bx, ay - by);
    if (!(d <= most)) most = d;
  }
  return most;
}
