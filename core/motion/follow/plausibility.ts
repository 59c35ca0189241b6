import { clamp } from '../../base/geometry/clamp.ts';
import { applyToPoints, keepsInFront, type Homography, type Point } from '../../base/geometry/homography.ts';
import { signedArea } from '../../base/geometry/quad.ts';
import { shapeBetween, sizeOfChange } from './shape-prior.ts';

/** How much a surface's shape changes beyond expectation in a frame, even when it is thrown. */
const ORDINARY = { shape: 0.04, perspective: 0.02 };
/** In so many frames or more a surface may turn any way. */
const LONGEST_GAP = 24;
/** Changes of shape, in units of that, that begin to be doubted, and that are not believed. */
const SURPRISING = 1.2;
const AMAZING = 3;

/**
 * How far a map is believed, 0…1, beside those that were expected: less where the surface's shape would change more than
 * surfaces do in so many frames.
 */
export function believable(h: Homography, expected: readonly Homography[], frames: number, toUnit: Homography): number {
  const surprise =
    Math.min(
      ...expected.map((map) => {
        const change = shapeBetween(map, h, toUnit);
        return change ? sizeOfChange(change, ORDINARY) : Infinity;
      }),
    ) / Math.min(LONGEST_GAP, frames);
  return clamp((1 / surprise - 1 / AMAZING) / (1 / SURPRISING - 1 / AMAZING), 0, 1);
}

/** True when the region would change its area, or shrink to nothing, more than a device in a hand does in so many frames. */
export function jumps(h: Homography, nearest: Homography, frames: number, box: readonly Point[]): boolean {
  if (!keepsInFront(h, box) || h.some((v) => !Number.isFinite(v))) return true;
  const mapped = applyToPoints(h, box);
  const now = signedArea(mapped);
  const ratio = now / signedArea(applyToPoints(nearest, box));
  const limit = Math.min(6, 1.7 ** Math.min(frames, 4));
  const whole = signedArea(box);
  const turns = mapped.map((p, i) => turnAt(p, mapped[(i + 1) % 4]!, mapped[(i + 2) % 4]!));
  return !(ratio > 1 / limit && ratio < limit && now / whole > 0.01 && now / whole < 100) || !turns.every((t) => t > 0);
}

/** Twice the area of a triangle, positive when it runs clockwise on the picture. */
function turnAt(a: Point, b: Point, c: Point): number {
  return (b[0] - a[0]) * (c[1] - b[1]) - (b[1] - a[1]) * (c[0] - b[0]);
}
