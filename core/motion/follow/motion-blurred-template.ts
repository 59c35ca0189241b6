import { clamp } from '../../base/geometry/clamp.ts';
import { applyToPoint, jacobianAt, type Homography } from '../../base/geometry/homography.ts';
import { MOST_TAPS, type KernelSet } from '../../base/kernels/index.ts';
import type { TemplateLevel } from './template.ts';

/**
 * How the reference moves under a picture pixel during one frame, as maps of reference sample indices
 * of a level: `back` takes a point to what the same pixel saw one frame earlier, `ahead` one later.
 */
export interface FrameMotion {
  readonly back: Homography | null;
  readonly ahead: Homography | null;
}

export const NO_MOTION: FrameMotion = { back: null, ahead: null };

/** Displacement of a reference point over one frame, towards the past: mean of both sides where both are known. */
function displacement({ back, ahead }: FrameMotion, x: number, y: number): [number, number] {
  let dx = 0;
  let dy = 0;
  if (back) {
    const w = 1 / (back[6]! * x + back[7]! * y + back[8]!);
    dx = (back[0]! * x + back[1]! * y + back[2]!) * w - x;
    dy = (back[3]! * x + back[4]! * y + back[5]!) * w - y;
  }
  if (ahead) {
    const w = 1 / (ahead[6]! * x + ahead[7]! * y + ahead[8]!);
    dx -= (ahead[0]! * x + ahead[1]! * y + ahead[2]!) * w - x;
    dy -= (ahead[3]! * x + ahead[4]! * y + ahead[5]!) * w - y;
  }
  const share = back && ahead ? 0.5 : 1;
  return [dx * share, dy * share];
}

/** The longest way over the shutter among the region's corners, in samples of the level. */
export function blurLength(level: TemplateLevel, motion: FrameMotion, shutter: number): number {
  return shutter * Math.max(...level.box.map(([x, y]) => Math.hypot(...displacement(motion, x, y))));
}

/** Samples of a smear between two sub-positions: the signal has no detail finer than this. */
const TAP_EVERY = 1.7;
/** Most sub-positions of a shutter. */
const LONGEST = 48;
/** Variance, px², of what lens, pixel and the signal's 1-2-1 smear of a sharp picture: an in-focus lens (σ 0.6), 1/12, 1/2. */
const PICTURE_SPREAD = 0.36 + 1 / 12 + 0.5;
/** Variance that the pyramid's 1-4-6-4-1 adds before it halves the picture, samples². */
const BINOMIAL_SPREAD = 1;
/** Less missing resolution than this is not made good, samples². */
const LEAST_SPREAD = 0.04;

/**
 * The template as this picture would show it: smeared by the shutter (fraction of a frame, centred on it) and by what
 * the picture's smaller scale loses, as planes [value, ∂/∂x, ∂/∂y, 1 where the whole smear lies inside the region].
 * `h` maps the level's sample indices. Ways shorter than half a sample are not smeared.
 */
export function blurTemplate(
  set: KernelSet,
  level: TemplateLevel,
  h: Homography,
  motion: FrameMotion,
  shutter: number,
  out: Float32Array,
): void {
  const length = blurLength(level, motion, shutter);
  const moves = length >= 0.5;
  const steps = moves ? clamp(Math.ceil(length / TAP_EVERY) + 1, 3, LONGEST) : 1;
  const tapCount = writeTaps(steps, shutter, lostResolution(level, h));
  set.blurTemplate(level.plane, level, moves ? motion.back : null, moves ? motion.ahead : null, taps, tapCount, out);
}
const taps = new Float32Array(4 * MOST_TAPS);

/** Gauss–Hermite quadrature with three points: exact for polynomials of degree 5. M. Abramowitz, I. Stegun, Handbook of Mathematical Functions, table 25.10. */
const NODES = [
  [0, 2 / 3],
  [Math.sqrt(3), 1 / 6],
  [-Math.sqrt(3), 1 / 6],
] as const;

/** Fills `taps` with sub-positions of the shutter, spread by a gaussian along two axes; returns how many. */
function writeTaps(steps: number, shutter: number, axes: readonly (readonly [number, number])[]): number {
  const offsets = axes.reduce<readonly (readonly [number, number, number])[]>(
    (all, [ax, ay]) =>
      all.flatMap(([x, y, w]) => NODES.map(([node, weight]) => [x + node * ax, y + node * ay, w * weight] as const)),
    [[0, 0, 1]],
  );
  // Beside a long smear the lost resolution hardly counts; it is left out when there is no room for both.
  const whole = steps * offsets.length <= MOST_TAPS;
  let n = 0;
  for (let k = 0; k < steps; k++) {
    const t = ((k + 0.5) / steps - 0.5) * shutter;
    for (const [x, y, w] of whole ? offsets : [[0, 0, 1] as const]) {
      taps.set([t, x, y, w / steps], 4 * n++);
    }
  }
  return n;
}

/**
 * The gaussian by which the template is sharper than the picture, as up to two axes of one standard deviation in the
 * level's reference samples: the picture's own spread carried back through the map at the region's middle, less the same
 * spread of the reference.
 */
function lostResolution(level: TemplateLevel, h: Homography): (readonly [number, number])[] {
  const [a, b, c, d] = jacobianAt(h, applyToPoint(level.fromUnit, [0, 0]));
  const det = a * d - b * c;
  if (!(Math.abs(det) > 1e-6)) return [];
  const spread = spreadOf(level.level);
  // J⁻¹·J⁻ᵀ·spread − spread, symmetric 2×2.
  const xx = spread * ((d * d + b * b) / (det * det) - 1);
  const xy = (-spread * (d * c + a * b)) / (det * det);
  const yy = spread * ((c * c + a * a) / (det * det) - 1);
  const middle = (xx + yy) / 2;
  const apart = Math.hypot((xx - yy) / 2, xy);
  const angle = 0.5 * Math.atan2(2 * xy, xx - yy);
  return [
    [middle + apart, angle],
    [middle - apart, angle + Math.PI / 2],
  ]
    .filter(([variance]) => variance! > LEAST_SPREAD)
    .map(([variance, turn]) => {
      const sigma = Math.sqrt(Math.min(9, variance!));
      return [sigma * Math.cos(turn!), sigma * Math.sin(turn!)] as const;
    });
}

/** The spread of a sharp point on a level, samples². */
function spreadOf(level: number): number {
  let spread = PICTURE_SPREAD;
  for (let l = 0; l < level; l++) spread = (spread + BINOMIAL_SPREAD) / 4;
  return spread;
}
