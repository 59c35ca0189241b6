import { clamp } from '../../base/geometry/clamp.ts';
import type { CleanSurface } from '../pin/clean-surface.ts';
import { convolveSeparable, gaussianKernel } from '../../base/filters/gaussian.ts';
import { MAD_TO_DEVIATION, median } from '../../base/image/statistics.ts';
import { layFlat } from '../pin/flatten-surface.ts';
import { FINE_STEPS, quadAt, shutterTimes, type QuadMotion } from '../pin/shutter-path.ts';
import type { DifferenceMatte } from '../../base/schemas/types.ts';
import { DIFFERENCE_DEFAULTS } from './difference-matte.ts';
import { coarseFill } from './coarse-fill.ts';
import { grownMatte } from './grow-matte.ts';
import type { LightRegion } from '../../base/image/light-region.ts';

/** Softer than this, px, differences are not reported. */
const CALM = 0.9;
/** The plate differs from the clean surface by no less than this of itself, in the root of light; and by what its detail would show were it so far off, px. */
const LEAST_SPREAD = 0.005;
const OFF = 0.3;
const MOST_MOMENTS = 32;
/** A pixel that shows less of the surface than this is at its border, where the plate tells nothing. */
const WHOLE = 0.98;

/** How a frame is seen: where the surface is while the shutter is open, and how much brighter it is than the clean surface. */
export interface DifferenceView {
  readonly motion: QuadMotion;
  readonly motionBlur: { readonly shutter: number; readonly phase: number };
  readonly light: number;
}

/**
 * What stands before a lit surface that is known clean: the clean surface is laid over the frame, smeared and as bright as the surface is there, and what then
 * differs by many times its noise is in front. Values are compared as roots of light, in which a camera's noise is nearly the same for bright and dark; where
 * the surface has detail more is allowed.
 */
export function cleanDifference(
  region: LightRegion,
  { pyramid }: CleanSurface,
  { motion, motionBlur, light }: DifferenceView,
  { floor = DIFFERENCE_DEFAULTS.floor, ceiling = DIFFERENCE_DEFAULTS.ceiling, grow = 0, blur = 0 }: DifferenceMatte,
): Float32Array {
  const { box, width, height, planes } = region;
  const n = width * height;
  const out = new Float32Array(n);
  const there = layFlat(
    pyramid,
    shutterTimes(motion, motionBlur, { ...FINE_STEPS, most: MOST_MOMENTS }).map((time) => quadAt(motion, time)),
    box,
  );
  if (!there) return out;
  const calm = (plane: Float32Array) => convolveSeparable(plane, width, height, 1, gaussianKernel(CALM), 'repeat');
  const whole = new Uint8Array(n);
  const off = new Float32Array(n);
  const detail = new Float32Array(n);
  for (let i = 0; i < n; i++) whole[i] = there.data[4 * i + 3]! >= WHOLE ? 1 : 0;
  for (let c = 0; c < 3; c++) {
    const clean = calm(Float32Array.from({ length: n }, (_, i) => light * there.data[4 * i + c]!));
    const seen = calm(planes[c as 0 | 1 | 2]);
    for (let i = 0; i < n; i++) {
      if (whole[i] === 0) continue;
      const root = Math.sqrt(Math.max(0, clean[i]!));
      off[i] = Math.max(off[i]!, Math.abs(Math.sqrt(Math.max(0, seen[i]!)) - root));
      const right = i % width < width - 1 ? Math.sqrt(Math.max(0, clean[i + 1]!)) - root : 0;
      const below = i + width < n ? Math.sqrt(Math.max(0, clean[i + width]!)) - root : 0;
      detail[i] = Math.max(detail[i]!, Math.abs(right) + Math.abs(below));
    }
  }
  const usual = usualOff(off, whole);
  const spread = Math.max(LEAST_SPREAD, Math.min(3 * LEAST_SPREAD, MAD_TO_DEVIATION * usual));
  const times = new Float32Array(n);
  for (let i = 0; i < n; i++) {
    times[i] = whole[i] === 1 ? off[i]! / (spread + OFF * detail[i]!) : 0;
    if (times[i]! >= ceiling) out[i] = 1;
  }
  growFrom(out, times, floor / 2, width);
  fillHoles(out, times, whole, width);
  const solved = softened(out, planes, there.data, light, whole, width, height);
  growOverBorder(solved, whole, there.data, width, height);
  const grown = grownMatte(solved, width, height, grow);
  return blur ? convolveSeparable(grown, width, height, 1, gaussianKernel(blur), 'repeat') : grown;
}

/** From what surely stands in front on to all that is joined to it and differs by `least`: parts of it have the surface's colour nearly. In place. */
function growFrom(matte: Float32Array, times: Float32Array, least: number, width: number): void {
  const n = matte.length;
  const stack: number[] = [];
  for (let i = 0; i < n; i++) if (matte[i] === 1) stack.push(i);
  for (let at = stack.pop(); at !== undefined; at = stack.pop()) {
    const col = at % width;
    for (const [next, there] of [
      [at - 1, col > 0],
      [at + 1, col < width - 1],
      [at - width, at >= width],
      [at + width, at + width < n],
    ] as const) {
      if (!there || matte[next] === 1 || times[next]! < least) continue;
      matte[next] = 1;
      stack.push(next);
    }
  }
}

/** From the matte's outline inward all is taken for front, and outward for clean, from so far on, px. */
const INNER = 2.5;
const OUTER = 1.5;
const BLOCK = 2;
/** Front and clean surface that are nearer than this in light tell no share. */
const LEAST_APART = 4e-4;

/**
 * Along the outline how much of a pixel is in front is solved from P = α·F + (1 − α)·B: B is the clean surface, F is grown outward from what is surely in
 * front. (A threshold takes every pixel for front of which a little is.)
 */
function softened(
  matte: Float32Array,
  planes: LightRegion['planes'],
  clean: Float32Array,
  light: number,
  whole: Uint8Array,
  width: number,
  height: number,
): Float32Array {
  const solid = grownMatte(matte, width, height, -INNER).map((v) => (v > 0.98 ? 1 : 0));
  const band = grownMatte(matte, width, height, OUTER);
  const out = matte.slice();
  if (!solid.includes(1)) return out;
  const front = coarseFill(planes, solid, width, height, BLOCK);
  for (let i = 0; i < out.length; i++) {
    if (whole[i] === 0 || solid[i] === 1 || band[i]! <= 0) continue;
    let dot = 0;
    let apart = 0;
    for (let c = 0; c < 3; c++) {
      const b = light * clean[4 * i + c]!;
      const d = front[c]![i]! - b;
      dot += (planes[c as 0 | 1 | 2][i]! - b) * d;
      apart += d * d;
    }
    if (apart > LEAST_APART) out[i] = clamp(dot / apart, 0, 1);
  }
  return out;
}

/** Of the surface so small a part, and one that differs this many times its noise in the mean, is a hole in what stands in front and not the surface seen through it. */
const HOLE = 0.012;
const HOLE_OFF = 1.2;

/** Fills what the matte leaves open inside of what is in front where it has the surface's colour by chance; takes out specks as small as that. In place. */
function fillHoles(matte: Float32Array, times: Float32Array, whole: Uint8Array, width: number): void {
  const n = matte.length;
  const seen = new Uint8Array(n);
  const area = whole.reduce((s, v) => s + v, 0);
  const stack: number[] = [];
  for (let start = 0; start < n; start++) {
    if (seen[start] === 1 || whole[start] === 0) continue;
    const inFront = matte[start]! >= 0.5;
    const part: number[] = [];
    let sum = 0;
    seen[start] = 1;
    stack.push(start);
    for (let at = stack.pop(); at !== undefined; at = stack.pop()) {
      part.push(at);
      sum += times[at]!;
      const col = at % width;
      for (const [next, there] of [
        [at - 1, col > 0],
        [at + 1, col < width - 1],
        [at - width, at >= width],
        [at + width, at + width < n],
      ] as const) {
        if (!there || seen[next] === 1 || whole[next] === 0 || matte[next]! >= 0.5 !== inFront) continue;
        seen[next] = 1;
        stack.push(next);
      }
    }
    if (part.length > HOLE * area) continue;
    if (inFront ? part.length < HOLE * area * 0.04 : sum / part.length > HOLE_OFF || part.length < HOLE * area * 0.04)
      for (const i of part) matte[i] = inFront ? 0 : 1;
  }
}

/** At the surface's border, where frame and surface mix, what is in front goes on as it is just within. In place. */
function growOverBorder(
  matte: Float32Array,
  whole: Uint8Array,
  laid: Float32Array,
  width: number,
  height: number,
): void {
  const grown = coarseFill([matte], Float32Array.from(whole), width, height, BLOCK)[0]!;
  for (let i = 0; i < matte.length; i++)
    if (whole[i] === 0) matte[i] = laid[4 * i + 3]! > 0 ? clamp(grown[i]!, 0, 1) : 0;
}

/** The middle of what most pixels are off by. */
function usualOff(off: Float32Array, whole: Uint8Array): number {
  const some: number[] = [];
  const step = Math.max(1, Math.floor(off.length / 20000));
  for (let i = 0; i < off.length; i += step) if (whole[i] === 1) some.push(off[i]!);
  return some.length > 0 ? median(some) : 0;
}
