import type { CleanSurface } from '../blend/clean-surface.ts';
import { convolveSeparable, gaussianKernel } from '../image/gaussian.ts';
import { median } from '../image/statistics.ts';
import { layFlat } from '../measure/flatten-surface.ts';
import { quadAt, shutterTimes, type QuadMotion } from '../composite/shutter-path.ts';
import type { DifferenceMatte } from '../schemas/types.ts';
import { DIFFERENCE_DEFAULTS } from './difference-matte.ts';
import { grownMatte } from './grow-matte.ts';
import type { LightRegion } from './light-region.ts';

/** Softer than this, px, differences are not told. */
const CALM = 0.9;
/** The plate differs from the clean surface by no less than this of itself, in the root of light; and by what its detail would show were it so far off, px. */
const LEAST_SPREAD = 0.005, OFF = 0.3;
/** Holes in what stands in front that are no wider than this, px, are closed. */
const CLOSED = 3;
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
export function cleanDifference(region: LightRegion, { pyramid }: CleanSurface, { motion, motionBlur, light }: DifferenceView, { floor = DIFFERENCE_DEFAULTS.floor, ceiling = DIFFERENCE_DEFAULTS.ceiling, grow = 0, blur = 0 }: DifferenceMatte): Float32Array {
  const { box, width, height, planes } = region, n = width * height, out = new Float32Array(n), there = layFlat(pyramid, shutterTimes(motion, motionBlur, MOST_MOMENTS).map((time) => quadAt(motion, time)), box);
  if (!there) return out;
  const calm = (plane: Float32Array) => convolveSeparable(plane, width, height, 1, gaussianKernel(CALM), 'repeat'), whole = new Uint8Array(n), off = new Float32Array(n), detail = new Float32Array(n);
  for (let i = 0; i < n; i++) whole[i] = there.data[4 * i + 3]! >= WHOLE ? 1 : 0;
  for (let c = 0; c < 3; c++) {
    const clean = calm(Float32Array.from({ length: n }, (_, i) => light * there.data[4 * i + c]!)), seen = calm(planes[c as 0 | 1 | 2]);
    for (let i = 0; i < n; i++) {
      if (whole[i] === 0) continue;
      const root = Math.sqrt(Math.max(0, clean[i]!));
      off[i] = Math.max(off[i]!, Math.abs(Math.sqrt(Math.max(0, seen[i]!)) - root));
      const right = i % width < width - 1 ? Math.sqrt(Math.max(0, clean[i + 1]!)) - root : 0, below = i + width < n ? Math.sqrt(Math.max(0, clean[i + width]!)) - root : 0;
      detail[i] = Math.max(detail[i]!, Math.abs(right) + Math.abs(below));
    }
  }
  const usual = usualOff(off, whole), spread = Math.max(LEAST_SPREAD, Math.min(3 * LEAST_SPREAD, 1.4826 * usual)), reach = Math.max(1e-3, ceiling - floor);
  for (let i = 0; i < n; i++) if (whole[i] === 1) out[i] = Math.min(1, Math.max(0, (off[i]! / (spread + OFF * detail[i]!) - floor) / reach));
  // The surface's outermost pixels go with those within: content and frame mix there.
  const closed = grownMatte(grownMatte(out, width, height, CLOSED), width, height, -CLOSED);
  for (let i = 0; i < n; i++) if (whole[i] === 0 && there.data[4 * i + 3]! <= 0) closed[i] = 0;
  const grown = grownMatte(closed, width, height, grow);
  return blur ? convolveSeparable(grown, width, height, 1, gaussianKernel(blur), 'repeat') : grown;
}

/** The middle of what most pixels are off by. */
function usualOff(off: Float32Array, whole: Uint8Array): number {
  const some: number[] = [], step = Math.max(1, Math.floor(off.length / 20000));
  for (let i = 0; i < off.length; i += step) if (whole[i] === 1) some.push(off[i]!);
  return some.length > 0 ? median(some) : 0;
}
