import type { Point } from '../geometry/homography.ts';
import { bounds } from '../geometry/quad.ts';
import type { LightPicture } from '../image/picture.ts';
import type { PlateColour } from '../image/plate-colour.ts';
import { boxWithin, lightOfRegion } from '../matte/light-region.ts';
import type { FrontFrame } from '../matte/measure-front.ts';
import { flattenSurface } from '../measure/flatten-surface.ts';
import type { CleanFix } from './clean-fix.ts';
import { findSpots } from './find-spots.ts';

/** Pixels across the flattened surface in which marks are looked for. */
const ACROSS = 480;

/** Of the surface: what reaches so near to its border belongs to what holds it. Marks are made alike: sides within this factor of each other, where so many are. */
const RIM = 0.02, ALIKE = 1.4, A_SET = 4;

/**
 * A set of marks, without what else stays in its place on most frames (a hand that holds the device, what is left along its border); all where there is no set. Of several sets the one that
 * is largest in all: crumbs may be many.
 */
function alike(outlines: readonly Point[][]): Point[][] {
  const inner = outlines.map((outline) => ({ outline, box: bounds(outline) })).filter(({ box }) => box.left > RIM && box.top > RIM && box.right < 1 - RIM && box.bottom < 1 - RIM);
  const wide = inner.map(({ box }) => box.right - box.left), high = inner.map(({ box }) => box.bottom - box.top), near = (a: number, b: number) => a < ALIKE * b && b < ALIKE * a;
  const sets = inner.map((_, k) => inner.filter((__, i) => near(wide[i]!, wide[k]!) && near(high[i]!, high[k]!))), of = (set: typeof inner) => (set.length < A_SET ? 0 : set.reduce((sum, { box }) => sum + Math.hypot(box.right - box.left, box.bottom - box.top), 0)), best = sets.reduce((a, b) => (of(b) > of(a) ? b : a), []);
  return (of(best) > 0 ? best : inner).map(({ outline }) => outline);
}

/** Fixes of the marks that ride with a surface, found on some frames of it; `ratio` is its width over its height. */
export function foundFixes(frames: readonly FrontFrame[], ratio: number, colour: PlateColour): CleanFix[] {
  const size = { width: ACROSS, height: Math.max(16, Math.round(ACROSS / ratio)) };
  const flat = frames.flatMap(({ picture, quad, lens }): LightPicture[] => {
    const box = boxWithin(bounds(quad), 8, picture), one = box && flattenSurface(lightOfRegion(picture, box, colour), quad, size, lens);
    return one ? [one] : [];
  });
  return alike(findSpots(flat)).map((outline, i): CleanFix => ({ name: `Mark ${i + 1}`, method: 'smooth', outline: outline.map(([u, v]): [number, number] => [Number(u.toFixed(5)), Number(v.toFixed(5))]) }));
}
