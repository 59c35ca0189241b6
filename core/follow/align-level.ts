import { applyToPoint, compose, determinant, type Homography } from '../geometry/homography.ts';
import { factorCholesky, substitute } from '../geometry/linear-solve.ts';
import { composeWarp, DEGREES_OF_FREEDOM, warpDerivatives, warpFromParameters, type Motion } from '../geometry/motion-model.ts';
import { kernels, type GradientPlane } from '../kernels/index.ts';
import { blurTemplate, createBlurredTemplate, type BlurredTemplate, type FrameMotion } from './blurred-template.ts';
import { huberWeight, residualScale, tukeyWeight } from './robust-weights.ts';
import type { TemplateLevel } from './template.ts';

/** The brightness change between reference and picture: picture = gain · reference + offset. */
export interface Light {
  gain: number;
  offset: number;
}

/** A level of the picture being registered, with the pixels that may be used. */
export interface PictureLevel {
  readonly plane: GradientPlane;
  /** 0 under fixed keep-outs; null when every pixel may be used. Full-picture resolution. */
  readonly allowed: { mask: Uint8Array; width: number } | null;
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
}

/** Working memory of one template level; reused from frame to frame. */
export interface LevelScratch {
  readonly blurred: BlurredTemplate;
  readonly value: Float32Array;
  readonly dx: Float32Array;
  readonly dy: Float32Array;
  readonly inside: Uint8Array;
  readonly residual: Float32Array;
  /** Residuals of the usable points only. */
  readonly compact: Float32Array;
  /** Rows of the normal equations: only points that have a say. */
  readonly rows: { template: Float32Array; residual: Float32Array; weight: Float32Array; jacobian: Float32Array };
}

export function createScratch(count: number): LevelScratch {
  const plane = () => new Float32Array(count);
  return {
    blurred: createBlurredTemplate(count), value: plane(), dx: plane(), dy: plane(), inside: new Uint8Array(count),
    residual: plane(), compact: plane(),
    rows: { template: plane(), residual: plane(), weight: plane(), jacobian: new Float32Array(count * 8) },
  };
}

export interface LevelResult {
  homography: Homography;
  light: Light;
  /** Robust standard deviation of the residuals. */
  scale: number;
  /** How many points had their place inside the picture. */
  visible: number;
}

/**
 * Samples the picture at every template point under `h` and forms the residuals
 * picture − (gain·template + offset). Returns the number of usable points; the others have inside = 0.
 */
export function computeResiduals(level: TemplateLevel, picture: PictureLevel, h: Homography, light: Light, s: LevelScratch): number {
  kernels().sampleWarped(picture.plane, h, level.xs, level.ys, level.count, s.value, s.dx, s.dy, s.inside);
  if (picture.allowed) excludeFixed(level, picture.allowed, h, s.inside);
  let visible = 0;
  for (let i = 0; i < level.count; i++) {
    if (s.inside[i] === 0 || s.blurred.complete[i] === 0) {
      s.inside[i] = 0;
      s.residual[i] = 0;
      continue;
    }
    const r = s.value[i]! - (light.gain * s.blurred.value[i]! + light.offset);
    s.residual[i] = r;
    s.compact[visible++] = r;
  }
  return visible;
}

function excludeFixed(level: TemplateLevel, allowed: { mask: Uint8Array; width: number }, h: Homography, inside: Uint8Array): void {
  for (let i = 0; i < level.count; i++) {
    if (inside[i] === 0) continue;
    const [u, v] = applyToPoint(h, [level.xs[i]!, level.ys[i]!]);
    if (allowed.mask[(Math.round(v) << level.level) * allowed.width + (Math.round(u) << level.level)] !== 1) inside[i] = 0;
  }
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
  level: TemplateLevel, picture: PictureLevel, start: Homography, startLight: Light, settings: AlignSettings, s: LevelScratch,
): LevelResult {
  const dof = DEGREES_OF_FREEDOM[settings.motion];
  const n = dof + 2;
  const matrix = new Float64Array(n * n);
  const rightSide = new Float64Array(n);
  const step = new Float64Array(n);
  let h = facing(start, level);
  const light = { ...startLight };
  let scale = 0, visible = 0;
  let blurredFor: Homography | null = null;

  for (let iteration = 0; iteration < settings.iterations; iteration++) {
    if (!blurredFor || cornerShift(level, blurredFor, h) > 0.25) {
      blurTemplate(level, settings.motionAt(h), settings.shutter, s.blurred);
      blurredFor = h;
    }
    visible = computeResiduals(level, picture, h, light, s);
    if (visible < 4 * n) break;
    scale = residualScale(s.compact, visible);
    const redescending = iteration >= 2;
    const count = fillRows(level, settings.motion, light.gain, scale, redescending, s);
    kernels().accumulateNormalEquations({ count, dof, stride: level.count, ...s.rows }, matrix, rightSide);
    for (let k = 0; k < n; k++) matrix[k * n + k]! *= 1 + 1e-6;
    if (!factorCholesky(matrix, n)) break;
    substitute(matrix, rightSide, step, n);
    const limited = limitedWarp(level, settings, step, h);
    light.gain = Math.min(5, Math.max(0.2, light.gain + step[dof]!));
    light.offset += step[dof + 1]!;
    h = limited.homography;
    if (limited.moved < settings.tolerance && redescending) break;
  }
  return { homography: h, light, scale, visible };
}

/** The same map, scaled so that points of the region have a positive denominator. */
function facing(h: Homography, level: TemplateLevel): Homography {
  const [x, y] = applyToPoint(level.fromUnit, [0, 0]);
  return h[6]! * x + h[7]! * y + h[8]! < 0 ? h.map((v) => -v) : h;
}

/** Weights, residuals and derivatives of the points that have a say; returns how many they are. */
function fillRows(level: TemplateLevel, motion: Motion, gain: number, scale: number, redescending: boolean, s: LevelScratch): number {
  const [sx, , ox, , sy, oy] = level.toUnit as [number, number, number, number, number, number];
  const { template, residual, weight, jacobian } = s.rows;
  const halfX = 0.5 / sx, halfY = 0.5 / sy, cap = level.gradientCap / gain, stride = level.count;
  const dof = DEGREES_OF_FREEDOM[motion];
  let n = 0;
  for (let i = 0; i < level.count; i++) {
    if (s.inside[i] === 0) continue;
    const r = s.residual[i]!;
    const robust = redescending ? tukeyWeight(r, scale) : huberWeight(r, scale);
    if (robust === 0) continue;
    const tx = s.blurred.dx[i]!, ty = s.blurred.dy[i]!;
    const strength = Math.sqrt(tx * tx + ty * ty);
    weight[n] = strength > cap ? (robust * cap) / strength : robust;
    residual[n] = r;
    template[n] = s.blurred.value[i]!;
    const x = sx * level.xs[i]! + ox, y = sy * level.ys[i]! + oy;
    const gx = (gain * tx + s.dx[i]!) * halfX, gy = (gain * ty + s.dy[i]!) * halfY;
    writeDerivatives(motion, dof, x, y, gx, gy, jacobian, n, stride);
    n++;
  }
  return n;
}

/** Column k of the row gets gx·∂u/∂k + gy·∂v/∂k. The perspective case is written out, because it runs a million times a frame. */
function writeDerivatives(
  motion: Motion, dof: number, x: number, y: number, gx: number, gy: number, jacobian: Float32Array, row: number, stride: number,
): void {
  if (motion === 'perspective') {
    const along = gx * x + gy * y;
    jacobian[row] = gx;
    jacobian[row + stride] = gy;
    jacobian[row + 2 * stride] = gx * x;
    jacobian[row + 3 * stride] = gx * y;
    jacobian[row + 4 * stride] = gy * x;
    jacobian[row + 5 * stride] = gy * y;
    jacobian[row + 6 * stride] = -x * along;
    jacobian[row + 7 * stride] = -y * along;
    return;
  }
  warpDerivatives(motion, x, y, du, dv);
  for (let k = 0; k < dof; k++) jacobian[row + k * stride] = gx * du[k]! + gy * dv[k]!;
}
const du = new Float64Array(8);
const dv = new Float64Array(8);

function limitedWarp(level: TemplateLevel, settings: AlignSettings, step: Float64Array, h: Homography): { homography: Homography; moved: number } {
  let share = 1;
  for (let attempt = 0; attempt < 8; attempt++) {
    const warp = warpFromParameters(settings.motion, step.map((v) => v * share));
    const homography = facing(composeWarp(h, compose(level.fromUnit, warp, level.toUnit)), level);
    const moved = cornerShift(level, h, homography);
    if (Number.isFinite(moved) && moved <= settings.stepLimit && determinant(homography) > 0) return { homography, moved };
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
