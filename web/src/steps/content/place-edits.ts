import {
  contentCorners,
  contentToSurface,
  placeFault,
  type Fit,
  type Place,
  type Size,
} from '../../../../core/picture/content/content-fit.ts';
import { homographyBetweenQuads } from '../../../../core/base/geometry/estimate-homography.ts';
import { applyToPoint, invert, type Point } from '../../../../core/base/geometry/homography.ts';
import { bounds, type Quad } from '../../../../core/base/geometry/quad.ts';
import type { ContentPlace } from '../../../../core/base/schemas/types.ts';
import { snapped } from './board-edits.ts';

/** What a placement is given against. */
export interface PlaceSetting {
  readonly fit: Fit;
  /** The surface's width over its height in the world. */
  readonly ratio: number;
  /** What is left of the content after cropping, px. */
  readonly content: Size;
}

const round = (v: number, digits: number): number => Number(v.toFixed(digits));

/** Where the content's corners lie on the surface before corners of its own are moved. */
function straight({ fit, ratio, content }: PlaceSetting, place: Place): Quad {
  return contentCorners(fit, { ...place, perspective: undefined }, ratio, content);
}

/** A point of the surface as it was before corners were moved. */
function straightened(setting: PlaceSetting, place: Place, at: Point): Point {
  if (!place.perspective) return at;
  const before = straight(setting, place);
  const after = contentCorners(setting.fit, place, setting.ratio, setting.content);
  const back = homographyBetweenQuads(after, before);
  return back ? applyToPoint(back, at) : at;
}

/** A point of the surface as seen from the content's middle, with the content's own turn and lean taken back: across and down, in surface heights. */
function fromMiddle(setting: PlaceSetting, place: Place, at: Point): Point {
  const upright = {
    ...place,
    perspective: undefined,
    scale: [1, 1] as const,
    quarters: 0,
    mirror: [false, false] as const,
  };
  const back = invert(contentToSurface('stretch', upright, setting.ratio, { width: 1, height: 1 }))!;
  const [x, y] = applyToPoint(back, straightened(setting, place, at));
  return [(x - 0.5) * setting.ratio, y - 0.5];
}

/** Takes a changed placement where it does not fold the content; says whether it did. */
function take(place: ContentPlace, changed: ContentPlace, { fit, ratio, content }: PlaceSetting): boolean {
  if (placeFault(fit, changed, ratio, content) !== null) return false;
  Object.assign(place, changed);
  return true;
}

/** Shifts content by shares of the surface. With `near`, its sides and middle are drawn to those of the surface, within so many shares of its height. */
export function shift(place: ContentPlace, setting: PlaceSetting, by: Point, near = 0): boolean {
  const box = bounds(contentCorners(setting.fit, place, setting.ratio, setting.content));
  const wide = setting.ratio;
  const [dx, dy] =
    near > 0
      ? snapped(
          { left: box.left * wide, right: box.right * wide, top: box.top, bottom: box.bottom },
          [by[0] * wide, by[1]],
          [{ left: 0, top: 0, right: wide, bottom: 1 }],
          near,
        )
      : [by[0] * wide, by[1]];
  const [x, y] = place.offset ?? [0, 0];
  return take(place, { ...place, offset: [round(x + dx / wide, 5), round(y + dy, 5)] }, setting);
}

/** Scales content about its middle so that a point of the surface goes from one place to another: `both` alike, or each way by itself, or one way. */
export function scaleTo(
  place: ContentPlace,
  setting: PlaceSetting,
  from: Point,
  to: Point,
  how: 'both' | 'each' | 'across' | 'down',
): boolean {
  const [ax, ay] = fromMiddle(setting, place, from);
  const [bx, by] = fromMiddle(setting, place, to);
  const [sx, sy] = place.scale ?? [1, 1];
  const alike = (ax * bx + ay * by) / (ax * ax + ay * ay);
  const [fx, fy] = how === 'both' ? [alike, alike] : [how === 'down' ? 1 : bx / ax, how === 'across' ? 1 : by / ay];
  if (![fx, fy].every((f) => Number.isFinite(f) && f > 0.01 && f < 100)) return false;
  return take(place, { ...place, scale: [round(sx * fx, 5), round(sy * fy, 5)] }, setting);
}

/** Turns are drawn to whole quarters within so many degrees. */
const UPRIGHT = 1.5;

/** Turns content about its middle so that a point of the surface goes from one direction to another. */
export function turnTo(place: ContentPlace, setting: PlaceSetting, from: Point, to: Point, free = false): boolean {
  const [mx, my] = middleOf(setting, place);
  const angle = ([x, y]: Point) => Math.atan2(y - my, (x - mx) * setting.ratio);
  const by = ((angle(straightened(setting, place, to)) - angle(straightened(setting, place, from))) * 180) / Math.PI;
  let turn = (place.turn ?? 0) + by;
  turn -= 360 * Math.round(turn / 360);
  const quarter = 90 * Math.round(turn / 90);
  if (!free && Math.abs(turn - quarter) < UPRIGHT) turn = quarter;
  return take(place, { ...place, turn: round(turn, 3) }, setting);
}

function middleOf(setting: PlaceSetting, place: Place): Point {
  const quad = straight(setting, place);
  return [(quad[0][0] + quad[2][0]) / 2, (quad[0][1] + quad[2][1]) / 2];
}

/** Moves one corner of the content by shares of the surface; the others stay. */
export function moveCorner(place: ContentPlace, setting: PlaceSetting, corner: number, by: Point): boolean {
  const moved = [0, 1, 2, 3].map((i): [number, number] => {
    const [x, y] = place.perspective?.[i] ?? [0, 0];
    return i === corner ? [round(x + by[0], 5), round(y + by[1], 5)] : [x, y];
  });
  return take(place, { ...place, perspective: moved as ContentPlace['perspective'] }, setting);
}
