import { clamp } from '../../base/geometry/clamp.ts';
import { ContentPyramid } from '../pin/content-pyramid.ts';
import { quadAt, type QuadMotion } from '../pin/shutter-path.ts';
import { distance, type Quad } from '../../base/geometry/quad.ts';
import type { LightRegion } from '../../base/image/light-region.ts';
import { flattenSurface, grownUnit, layFlat } from '../pin/flatten-surface.ts';

/** Shutter lengths that are tried, fractions of a frame. */
export const TRIALS: readonly number[] = Array.from({ length: 11 }, (_, k) => k / 8);
/** The device's own frame around the screen is taken along, in shares of the screen. */
const MARGIN = 0.05;
const MOST_MOMENTS = 28;
const MOMENTS_PER_PIXEL = 1.25;
/** Of the residuals so many of the smallest count: what crosses the surface, or is mirrored in it, is left out. */
const TRIMMED = 0.85;
/** Pixels that show less of the surface than this are at its rim. */
const WHOLE = 0.995;

/** The device on a frame on which it hardly moves, flattened. */
export function flatReference(region: LightRegion, quad: Quad): ContentPyramid | null {
  const grown = grownUnit(quad, MARGIN);
  const flat = grown && flattenSurface(region, grown);
  return flat && new ContentPyramid(flat, 0);
}

/**
 * How badly the reference, smeared over each of the shutter lengths along the way the surface goes, fits a fast frame: the trimmed mean square of what
 * one gain and one offset leave. `inside` tells whether what the screen shows stays the same; else only the frame around it is compared.
 */
export function smearMisfits(
  reference: ContentPyramid,
  region: LightRegion,
  motion: QuadMotion,
  inside: boolean,
): number[] | null {
  const {
    box,
    planes: [red, green, blue],
  } = region;
  const seen = red.map((v, i) => 0.2126 * v + 0.7152 * green[i]! + 0.0722 * blue[i]!);
  const grownAt = (time: number, margin: number) => grownUnit(quadAt(motion, time), margin);
  const smear = Math.max(...motion.now.map((_, i) => distance(quadAt(motion, -0.5)[i]!, quadAt(motion, 0.5)[i]!)));
  // All lengths are compared over the same pixels: those that the longest smear leaves whole.
  const longest = predicted(
    reference,
    momentsOf(TRIALS.at(-1)!, smear).map((t) => grownAt(t, MARGIN)),
    box,
  );
  const valid: number[] = [];
  if (!longest) return null;
  const screen = inside
    ? null
    : layFlat(
        new ContentPyramid({ width: 2, height: 2, data: new Float32Array(16).fill(1) }, 0),
        momentsOf(TRIALS.at(-1)!, smear).map((t) => grownAt(t, 0.012)!),
        box,
      );
  for (let i = 0; i < seen.length; i++)
    if (longest.data[4 * i + 3]! >= WHOLE && !(screen && screen.data[4 * i + 3]! > 0)) valid.push(i);
  if (valid.length < 400) return null;
  const out: number[] = [];
  for (const open of TRIALS) {
    const there = predicted(
      reference,
      momentsOf(open, smear).map((t) => grownAt(t, MARGIN)),
      box,
    );
    if (!there) return null;
    const light = valid.map(
      (i) => 0.2126 * there.data[4 * i]! + 0.7152 * there.data[4 * i + 1]! + 0.0722 * there.data[4 * i + 2]!,
    );
    out.push(
      misfit(
        light,
        valid.map((i) => seen[i]!),
      ),
    );
  }
  return out;
}

function momentsOf(open: number, smear: number): number[] {
  const count = clamp(Math.ceil(smear * open * MOMENTS_PER_PIXEL), 1, MOST_MOMENTS);
  return Array.from({ length: count }, (_, k) => open * ((k + 0.5) / count - 0.5));
}

function predicted(reference: ContentPyramid, quads: readonly (Quad | null)[], box: LightRegion['box']) {
  return quads.some((q) => !q) ? null : layFlat(reference, quads as Quad[], box);
}

/** The trimmed mean square that a gain and an offset leave; they are fitted again to what is kept. */
function misfit(x: readonly number[], y: readonly number[]): number {
  let keep: readonly number[] = x.map((_, i) => i);
  let left = 0;
  for (let round = 0; round < 3; round++) {
    let sx = 0;
    let sy = 0;
    let sxx = 0;
    let sxy = 0;
    for (const i of keep) {
      sx += x[i]!;
      sy += y[i]!;
      sxx += x[i]! * x[i]!;
      sxy += x[i]! * y[i]!;
    }
    const n = keep.length;
    const det = n * sxx - sx * sx;
    const gain = det > 1e-12 ? (n * sxy - sx * sy) / det : 1;
    const offset = (sy - gain * sx) / n;
    const squares = Float64Array.from(x, (v, i) => (gain * v + offset - y[i]!) ** 2);
    const sorted = squares.slice().sort();
    const limit = sorted[Math.floor(TRIMMED * (sorted.length - 1))]!;
    left =
      sorted.subarray(0, Math.floor(TRIMMED * sorted.length)).reduce((s, v) => s + v, 0) /
      Math.floor(TRIMMED * sorted.length);
    keep = x.map((_, i) => i).filter((i) => squares[i]! <= limit);
  }
  return left;
}

export interface ShutterFound {
  /** Fraction of a frame. */
  readonly open: number;
  /** How far off that may be, likewise. */
  readonly off: number;
  readonly frames: number;
}

/** How much better the best length must fit than none at all, for a smear to be reported. */
const LEAST_GAIN = 1.15;

/** The length on which fast frames agree: each frame's misfits count alike, and the parabola about the least sum has its vertex there. Null where they do not tell. */
export function shutterOf(misfits: readonly (readonly number[])[]): ShutterFound | null {
  const told = misfits.filter((m) => Math.min(...m) > 0 && Math.max(...m) > LEAST_GAIN * Math.min(...m));
  if (told.length === 0) return null;
  const alone = told.map((m) => vertex(m));
  const sums = TRIALS.map((_, k) => told.reduce((s, m) => s + Math.min(6, m[k]! / Math.min(...m)), 0));
  const open = vertex(sums);
  const mean = alone.reduce((s, v) => s + v, 0) / alone.length;
  const spread = Math.sqrt(alone.reduce((s, v) => s + (v - mean) ** 2, 0) / alone.length);
  return {
    open,
    off: Math.max(0.01, spread / Math.sqrt(told.length)) + (told.length < 3 ? 0.03 : 0),
    frames: told.length,
  };
}

function vertex(values: readonly number[]): number {
  let at = 0;
  values.forEach((v, i) => (at = v < values[at]! ? i : at));
  if (at === 0 || at === values.length - 1) return TRIALS[at]!;
  const [before, here, after] = [values[at - 1]!, values[at]!, values[at + 1]!];
  const bend = before - 2 * here + after;
  return TRIALS[at]! + (bend > 0 ? ((before - after) / (2 * bend)) * (TRIALS[1]! - TRIALS[0]!) : 0);
}
