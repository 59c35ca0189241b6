import { clamp } from '../../base/geometry/clamp.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { FitterCache } from './border-line.ts';
import type { LightPicture } from '../../base/image/light-sampler.ts';
import { sideOf, type SideLine } from './sides.ts';
import { bordersNear, offsetAt } from './snap.ts';

/** A straight border that moves with the surface, beside or on one of its sides. */
export interface EdgeRail {
  /** Of the quad: 0 top … 3 left. */
  readonly side: number;
  readonly line: SideLine;
  /** Whether it is the side's own border and not one further out. */
  readonly own: boolean;
}

/** How far from a side its own border is looked for, px; others further out, in mean lengths of the sides, px at least and at most. */
const NEAR = 6;
const OUTWARD = 0.14;
const LEAST = 10;
const MOST = 90;
/** What a border must have to be listened to. */
const SUPPORT = 0.45;
const BOUND = 0.35;
/** How far the margin may stray from the picture's scale along it (logarithm). */
const ALONG = 0.08;
const MOST_PER_SIDE = 2;

/**
 * Borders along the sides of a quad on the reference: that of the screen, and those of the device around it, which run along it as the
 * picture's scale does. Which of them really move with the surface shows in the other frames.
 */
export function findRails(picture: LightPicture, quad: Quad): EdgeRail[] {
  const sides = [0, 1, 2, 3].map((k) => sideOf(quad, k));
  const mean = sides.reduce((sum, s) => sum + s.length, 0) / 4;
  const fitters = new FitterCache();
  return sides.flatMap((line, side) => {
    const near = Math.min(NEAR, line.length / 6);
    const wide = clamp(OUTWARD * mean, LEAST, MOST);
    const expected = Math.log(sides[(side + 1) % 4]!.length / sides[(side + 3) % 4]!.length);
    const good = (inward: number, outward: number) =>
      bordersNear(picture, line, inward, outward, fitters)
        .filter((b) => b.support > SUPPORT && b.bounds[1] < BOUND)
        .sort((a, b) => b.support - a.support);
    const own = good(near, near).slice(0, 1);
    const further = good(-(near + 2), wide).filter(({ line: border, bounds }) => {
      const from = offsetAt(line, border, 0);
      const to = offsetAt(line, border, 1);
      return (
        from > 0 && to > 0 && Math.abs(Math.log(to / from) - expected) < ALONG + (bounds[0] + bounds[2]) / (from + to)
      );
    });
    return [...own, ...further.slice(0, MOST_PER_SIDE)].map((b): EdgeRail => ({
      side,
      line: b.line,
      own: own.includes(b),
    }));
  });
}
