import { clamp } from '../../base/geometry/clamp.ts';
import { quadFault, type Quad } from '../../base/geometry/quad.ts';
import { fitBorder, FitterCache, type BorderLine } from './border-line.ts';
import { searchBorders } from './border-search.ts';
import type { LightPicture } from '../../base/image/light-sampler.ts';
import { quadOfSides, shiftedSide, sideOf, type SideLine } from './sides.ts';

/** Which border the corners are put on where there are several. */
export type Border = 'inner' | 'outer';

export interface SnappedSide {
  /** Null where no border was found: the side stays where it was drawn. */
  readonly border: BorderLine | null;
  /** All that were found, from the inside outward; `border` is one of them. */
  readonly choices: readonly BorderLine[];
}

export interface Snap {
  readonly quad: Quad;
  /** In order: top, right, bottom, left. */
  readonly sides: readonly SnappedSide[];
  /** 95 % bound of each corner, px; null next to a side without a border. */
  readonly bounds: readonly (number | null)[];
}

/** How far the drawn sides may be from the borders, px. */
export const SNAP_REACH = 14;
/** A border that is looked for inside or outside must have this share of the best one's support, and be known as well within this factor or these px. */
const AS_GOOD = 0.6;
const AS_SURE = 3;
const SURE = 0.13;
/** How wide a device's frame may be, in lengths of the side, and how far its margin may stray from the picture's scale (logarithm). */
const OUTLINE = 0.14;
const ALONG = 0.1;
/** Borders whose middles are closer are the same. */
const SAME = 0.8;

/**
 * Puts a rough quad onto the straight borders near its sides. Each side is searched within `reach` px, every border found there is
 * fitted closely, the inner or outer one of the well supported is taken, and corners lie where neighbouring lines meet.
 * A side without a border stays as drawn.
 */
export function snapQuad(picture: LightPicture, rough: Quad, wanted: Border, reach = SNAP_REACH): Snap {
  const fitters = new FitterCache();
  const sides = [0, 1, 2, 3].map((k) => snapSide(picture, rough, k, wanted, reach, fitters));
  // Drawn too far along, a side's ends lie beyond the corners: what lies between them now is looked at once more.
  for (let round = 0; round < 2; round++) {
    const quad = quadOfSides(sides.map((side, k) => side.border?.line ?? sideOf(rough, k)));
    if (!quad || quadFault(quad)) break;
    sides.forEach((side, k) => {
      const border = side.border && fitBorder(picture, sideOf(quad, k), endsOf(sideOf(quad, k)), fitters);
      if (border)
        sides[k] = { border, choices: side.choices.map((choice) => (choice === side.border ? border : choice)) };
    });
  }
  const quad = quadOfSides(sides.map((side, k) => side.border?.line ?? sideOf(rough, k)));
  const kept = quad && !quadFault(quad) ? quad : rough;
  return {
    quad: kept,
    sides,
    bounds: [0, 1, 2, 3].map((k) => cornerBoundOf(sides[(k + 3) % 4]!.border, sides[k]!.border)),
  };
}

/** Rounded corners and what a neighbour's border blurs over: so much of each end is not looked at. */
function endsOf(line: SideLine): number {
  return Math.min(0.2, 0.04 + 4 / line.length);
}

function snapSide(
  picture: LightPicture,
  rough: Quad,
  k: number,
  wanted: Border,
  reach: number,
  fitters: FitterCache,
): SnappedSide {
  const line = sideOf(rough, k);
  const choices = bordersNear(picture, line, reach, reach, fitters);
  const parallel = wanted === 'inner' ? alongOutline(picture, rough, k, choices, fitters) : choices;
  const support = Math.max(0, ...parallel.map((c) => c.support));
  const bound = Math.min(...parallel.map((c) => c.bounds[1]));
  const good = parallel.filter((c) => c.support >= AS_GOOD * support && c.bounds[1] <= Math.max(SURE, AS_SURE * bound));
  return { border: (wanted === 'inner' ? good[0] : good.at(-1)) ?? null, choices };
}

/** All borders in a strip about a line, from the inside outward. */
export function bordersNear(
  picture: LightPicture,
  line: SideLine,
  inward: number,
  outward: number,
  fitters: FitterCache,
): BorderLine[] {
  const found: BorderLine[] = [];
  for (const rough of searchBorders(picture, line, inward, outward)) {
    const border = fitBorder(picture, shiftedSide(line, rough.atFrom, rough.atTo), endsOf(line), fitters);
    const at = border && offsetAt(line, border.line, 0.5);
    if (
      at !== null &&
      at <= outward + 2 &&
      at >= -inward - 2 &&
      !found.some((c) => Math.abs(offsetAt(line, c.line, 0.5) - at) < SAME)
    )
      found.push(border!);
  }
  return found.sort((a, b) => offsetAt(line, a.line, 0.5) - offsetAt(line, b.line, 0.5));
}

/**
 * Of several borders, those that the device's own outline runs along: the margin between them changes from end to end as the picture's
 * scale does. What is reflected in the glass has straight borders too, but lies otherwise. All of them where no outline is seen.
 */
function alongOutline(
  picture: LightPicture,
  rough: Quad,
  k: number,
  choices: readonly BorderLine[],
  fitters: FitterCache,
): BorderLine[] {
  if (choices.length === 0) return [];
  const line = sideOf(rough, k);
  const before = sideOf(rough, (k + 3) % 4).length;
  const after = sideOf(rough, (k + 1) % 4).length;
  const outermost = offsetAt(line, choices.at(-1)!.line, 0.5);
  const wide = outermost + clamp((OUTLINE * (before + after)) / 2, 12, 90);
  const outline = bordersNear(picture, line, -(outermost + 4), wide, fitters)
    .filter((b) => b.support > 0.6 && b.bounds[1] < SURE)
    .sort((a, b) => Math.abs(b.contrast) - Math.abs(a.contrast))[0];
  if (!outline) return [...choices];
  const along = choices.filter(({ line: inner, bounds }) => {
    const [from, to] = [offsetAt(inner, outline.line, 0), offsetAt(inner, outline.line, 1)];
    if (Math.max(Math.abs(from), Math.abs(to)) < SAME) return true;
    const doubt = (bounds[0] + bounds[2]) / Math.max(1, from + to);
    return from > 0 && to > 0 && Math.abs(Math.log(to / from) - Math.log(after / before)) < ALONG + doubt;
  });
  return along.length > 0 ? along : [...choices];
}

/** How far outward of `line` a border lies at the line's share t, px. */
export function offsetAt(line: SideLine, border: SideLine, t: number): number {
  const x = line.from[0] + (line.to[0] - line.from[0]) * t - border.from[0];
  const y = line.from[1] + (line.to[1] - line.from[1]) * t - border.from[1];
  const { normal } = border;
  const cos = line.normal[0] * normal[0] + line.normal[1] * normal[1];
  return -(x * normal[0] + y * normal[1]) / cos;
}

/** The corner between two sides: both bounds, as the angle between them stretches them. */
function cornerBoundOf(before: BorderLine | null, after: BorderLine | null): number | null {
  if (!before || !after) return null;
  const [ax, ay] = before.line.normal;
  const [bx, by] = after.line.normal;
  const sine = Math.max(0.1, Math.abs(ax * by - ay * bx));
  return (1.25 * Math.hypot(before.bounds[2], after.bounds[0])) / sine;
}
