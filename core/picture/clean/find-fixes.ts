import { bounds } from '../../base/geometry/quad.ts';
import type { LightPicture } from '../../base/image/picture.ts';
import { median } from '../../base/image/statistics.ts';
import type { PlateColour } from '../../base/image/plate-colour.ts';
import { boxWithin, lightOfRegion } from '../../base/image/light-region.ts';
import type { FrontFrame } from '../matte/measure-front.ts';
import { flattenSurface } from '../pin/flatten-surface.ts';
import type { CleanFix } from '../look/clean-fix.ts';
import { lieUnderGlass } from './tell-glass.ts';
import { findSpots, spotsOnFrame, type Spot } from './find-spots.ts';

/** Pixels across the flattened surface in which marks are looked for. */
const ACROSS = 480;

/** Of the surface: what reaches so near to its border belongs to what holds it. Marks are made alike: sides and contrast within these factors of each other, where so many are. */
const RIM = 0.02;
const ALIKE = 1.4;
const AS_STRONG = 1.5;
const A_SET = 4;
/** A mark of a set that is hidden on most frames is found on so many of the others. */
const GLIMPSES = 2;

interface Found extends Spot {
  readonly box: Bounds;
}
type Bounds = ReturnType<typeof bounds>;

const within = (a: number, b: number, factor: number) => a < factor * b && b < factor * a;
const wide = ({ box }: Found) => box.right - box.left;
const high = ({ box }: Found) => box.bottom - box.top;
const likeEachOther = (a: Found, b: Found) =>
  within(wide(a), wide(b), ALIKE) &&
  within(high(a), high(b), ALIKE) &&
  a.contrast * b.contrast > 0 &&
  within(Math.abs(a.contrast), Math.abs(b.contrast), AS_STRONG);
const insideOf = (spots: readonly Spot[]) =>
  spots
    .map((spot): Found => ({ ...spot, box: bounds(spot.outline) }))
    .filter(({ box }) => box.left > RIM && box.top > RIM && box.right < 1 - RIM && box.bottom < 1 - RIM);
const samePlace = (a: Found, b: Found) =>
  Math.abs(a.box.left + a.box.right - b.box.left - b.box.right) < wide(a) &&
  Math.abs(a.box.top + a.box.bottom - b.box.top - b.box.bottom) < high(a);

/**
 * A set of marks, without what else stays in its place on most frames (a hand that holds the device, what is left along its border); all where there is no set. Of several sets the one that
 * is largest in all: crumbs may be many.
 */
function marksOf(usual: readonly Spot[], flat: readonly LightPicture[]): Spot[] {
  const inner = insideOf(usual);
  const sets = inner.map((one) => inner.filter((other) => likeEachOther(one, other)));
  const size = (set: readonly Found[]) =>
    set.length < A_SET ? 0 : set.reduce((sum, one) => sum + Math.hypot(wide(one), high(one)), 0);
  const best = sets.reduce<Found[]>((a, b) => (size(b) > size(a) ? b : a), []);
  if (size(best) === 0) return inner;
  const typical = best.reduce((a, b) =>
    Math.abs(wide(b) - median(best.map(wide))) < Math.abs(wide(a) - median(best.map(wide))) ? b : a,
  );
  const glimpsed: Found[][] = [];
  for (const one of flat)
    for (const spot of insideOf(spotsOnFrame(one))) {
      if (!likeEachOther(spot, typical) || best.some((mark) => samePlace(mark, spot))) continue;
      const there = glimpsed.find(([other]) => samePlace(other!, spot));
      if (there) there.push(spot);
      else glimpsed.push([spot]);
    }
  return [...best, ...glimpsed.filter((seen) => seen.length >= GLIMPSES).map((seen) => seen[0]!)];
}

/** Fixes of the marks that ride with a surface, found on some frames of it; `ratio` is its width over its height. What is mirrored over marks is kept where it tells that they lie under glass. */
export function foundFixes(frames: readonly FrontFrame[], ratio: number, colour: PlateColour): CleanFix[] {
  const size = { width: ACROSS, height: Math.max(16, Math.round(ACROSS / ratio)) };
  const flat = frames.flatMap(({ picture, quad, lens }): LightPicture[] => {
    const box = boxWithin(bounds(quad), 8, picture);
    const one = box && flattenSurface(lightOfRegion(picture, box, colour), quad, size, lens);
    return one ? [one] : [];
  });
  const marks = marksOf(findSpots(flat), flat);
  const method = lieUnderGlass(
    flat,
    marks.map(({ outline }) => outline),
  )
    ? 'glass'
    : 'smooth';
  return marks.map(({ outline }, i): CleanFix => ({
    name: `Mark ${i + 1}`,
    method,
    outline: outline.map(([u, v]): [number, number] => [Number(u.toFixed(5)), Number(v.toFixed(5))]),
  }));
}
