import { clamp } from '../../base/geometry/clamp.ts';
import { Damping } from '../../base/geometry/damped-least-squares.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { impliedProportions } from './implied-proportions.ts';
import { cornersOfPose, poseOfQuad, type SurfaceCamera } from './plane-pose.ts';

export interface CameraFit {
  readonly camera: SurfaceCamera;
  /** Root mean square distance of the corners from those of one rectangle seen by this camera, px. */
  readonly rms: number;
}

export interface KnownOfCamera {
  /** Focal length, px, where it is known. */
  readonly focal?: number | undefined;
  /** Width over height of the surface, where it is known. */
  readonly ratio?: number | undefined;
}

/** Quads that are looked at unless said otherwise; more tell no more. */
const MOST_QUADS = 16;
/** What is taken for the focal length at first, in longer sides of the picture, and how far off it may be (its logarithm); a corner's own error, px. */
const USUAL_FOCAL = 1.1;
const FOCAL_OFF = 0.45;
const CORNER_OFF = 0.5;
const ROUNDS = 12;

/**
 * Focal length and proportions with which quads of one rigid rectangle, seen by one camera that looks through the middle of the picture, fit best.
 * Where the quads do not tell the focal length, it stays near what cameras have. Null where no quad is a rectangle's picture.
 *
 * Source: variable projection over the poses (G. Golub, V. Pereyra, Separable nonlinear least squares, Inverse Problems 19, 2003), begun at Zhang and He's
 * closed form (core/motion/pose/implied-proportions.ts).
 */
export function fitCamera(
  quads: readonly Quad[],
  width: number,
  height: number,
  known: KnownOfCamera = {},
  most = MOST_QUADS,
): CameraFit | null {
  const few = spread(quads, most);
  const implied = impliedProportions(few, width, height);
  if (!implied) return null;
  const unit = Math.max(width, height);
  const usual = Math.log(USUAL_FOCAL * unit);
  const cameraOf = ([logFocal, logRatio]: readonly [number, number]): SurfaceCamera => ({
    focal: known.focal ?? Math.exp(logFocal),
    ratio: known.ratio ?? Math.exp(logRatio),
    cx: width / 2,
    cy: height / 2,
  });
  const residuals = (at: readonly [number, number]): Float64Array | null => {
    const camera = cameraOf(at);
    const out = new Float64Array(8 * few.length + 1);
    for (const [i, quad] of few.entries()) {
      const pose = poseOfQuad(quad, camera)?.pose;
      const there = pose && cornersOfPose(pose, camera);
      if (!there) return null;
      there.forEach(([x, y], c) => {
        out[8 * i + 2 * c] = (x - quad[c]![0]) / CORNER_OFF;
        out[8 * i + 2 * c + 1] = (y - quad[c]![1]) / CORNER_OFF;
      });
    }
    out[8 * few.length] = known.focal === undefined ? (at[0] - usual) / FOCAL_OFF : 0;
    return out;
  };
  const sum = (r: Float64Array | null) => (r ? r.reduce((s, v) => s + v * v, 0) : Infinity);
  let best: readonly [number, number] | null = null;
  let least = Infinity;
  for (const focal of [implied.focal, USUAL_FOCAL * unit]) {
    const at = descend(
      [Math.log(Math.min(6 * unit, Math.max(0.4 * unit, focal))), Math.log(implied.ratio)],
      residuals,
      sum,
    );
    const cost = sum(residuals(at));
    if (cost < least) [best, least] = [at, cost];
  }
  const left = best && residuals(best);
  return left && best
    ? {
        camera: cameraOf(best),
        rms: CORNER_OFF * Math.sqrt(left.subarray(0, 8 * few.length).reduce((s, v) => s + v * v, 0) / (4 * few.length)),
      }
    : null;
}

/** Damped least squares over two numbers, derivatives by differences. */
function descend(
  start: readonly [number, number],
  residuals: (at: readonly [number, number]) => Float64Array | null,
  sum: (r: Float64Array | null) => number,
): readonly [number, number] {
  let at = start;
  let here = residuals(at);
  const damping = new Damping({ begin: 1e-3, grow: 10, least: 0, attempts: 6 });
  const h = 1e-4;
  for (let round = 0; round < ROUNDS && here; round++) {
    const a = residuals([at[0] + h, at[1]]);
    const b = residuals([at[0], at[1] + h]);
    if (!a || !b) break;
    let aa = 0;
    let ab = 0;
    let bb = 0;
    let ar = 0;
    let br = 0;
    for (let i = 0; i < here.length; i++) {
      const da = (a[i]! - here[i]!) / h;
      const db = (b[i]! - here[i]!) / h;
      aa += da * da;
      ab += da * db;
      bb += db * db;
      ar += da * here[i]!;
      br += db * here[i]!;
    }
    let moved = 0;
    damping.untilBetter((share) => {
      const p = aa * (1 + share) + 1e-9;
      const q = bb * (1 + share) + 1e-9;
      const det = p * q - ab * ab;
      const step = [clamp(-(q * ar - ab * br) / det, -0.4, 0.4), clamp(-(p * br - ab * ar) / det, -0.4, 0.4)] as const;
      const next = [at[0] + step[0], at[1] + step[1]] as const;
      const there = residuals(next);
      if (!there || !(sum(there) < sum(here))) return false;
      [at, here, moved] = [next, there, Math.hypot(...step)];
      return true;
    });
    if (moved < 1e-5) break;
  }
  return at;
}

/** At most so many of a list, evenly. */
function spread<T>(items: readonly T[], most: number): T[] {
  if (items.length <= most) return [...items];
  return Array.from({ length: most }, (_, i) => items[Math.round((i * (items.length - 1)) / (most - 1))]!);
}
