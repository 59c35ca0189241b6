import { clamp } from '../../base/geometry/clamp.ts';
import { mapTuple } from '../../base/geometry/map-tuple.ts';
import {
  applyToPoint,
  applyToPoints,
  compose,
  IDENTITY,
  invert,
  scaling,
  translation,
  type Homography,
  type Point,
} from '../../base/geometry/homography.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { quadFault, UNIT_SQUARE, type Quad } from '../../base/geometry/quad.ts';

/** How content meets the surface's proportions. */
export type Fit = 'stretch' | 'fit' | 'fill';

/** How content lies on the surface, beyond its fit. Everything is optional and neutral when absent. */
export interface Place {
  /** Content pixels cut off the left, top, right and bottom side. */
  readonly crop?: readonly [number, number, number, number] | undefined;
  /** Quarter turns clockwise. */
  readonly quarters?: number | undefined;
  /** Swapped left to right, top to bottom. */
  readonly mirror?: readonly [boolean, boolean] | undefined;
  /** Shares of the surface's width and height, right and down. */
  readonly offset?: readonly [number, number] | undefined;
  /** Factors across and down, about the middle of the surface. */
  readonly scale?: readonly [number, number] | undefined;
  /** Degrees clockwise. */
  readonly turn?: number | undefined;
  /** Degrees by which uprights lean to the right and levels fall to the right. */
  readonly shear?: readonly [number, number] | undefined;
  /** How far each corner of the content is moved, shares of the surface's width and height. */
  readonly perspective?: readonly (readonly [number, number])[] | undefined;
}

export interface Size {
  readonly width: number;
  readonly height: number;
}

/** Size of what is left of a picture when its sides are cut; at least one pixel. */
export function croppedSize({ width, height }: Size, crop: Place['crop']): Size {
  const [left, top, right, bottom] = wholeCrop({ width, height }, crop);
  return { width: right - left, height: bottom - top };
}

/** The part that is left, as its left, top, right and bottom border: whole pixels, right and bottom exclusive. */
export function wholeCrop({ width, height }: Size, crop: Place['crop']): [number, number, number, number] {
  const [l, t, r, b] = crop ?? [0, 0, 0, 0];
  const left = clamp(Math.round(l), 0, width - 1);
  const top = clamp(Math.round(t), 0, height - 1);
  return [
    left,
    top,
    Math.max(left + 1, width - Math.max(0, Math.round(r))),
    Math.max(top + 1, height - Math.max(0, Math.round(b))),
  ];
}

/** Degrees as radians. */
const radians = (degrees: number): number => (degrees * Math.PI) / 180;

/**
 * Where the content's corners lie on the surface, in shares of its width and height. `ratio` is the surface's width over
 * height in the world, `content` the size of what is left after cropping.
 */
export function contentCorners(fit: Fit, place: Place, ratio: number, content: Size): Quad {
  const { width, height } = content;
  return applyToPoints(contentToSurface(fit, place, ratio, content), [
    [0, 0],
    [width, 0],
    [width, height],
    [0, height],
  ]);
}

/**
 * Content pixels to the surface's unit square. In order: quarter turns and mirror, fit, scale, shear, turn, offset, perspective.
 * With `fit` all of the content is shown and bars are left, with `fill` the surface is covered and the content cut; both keep it centred.
 */
export function contentToSurface(fit: Fit, place: Place, ratio: number, { width, height }: Size): Homography {
  const quarters = (((place.quarters ?? 0) % 4) + 4) % 4;
  const [mirrorX, mirrorY] = place.mirror ?? [false, false];
  const upright = quarters % 2 === 0;
  const relative = ratio / (upright ? width / height : height / width);
  // How much of the surface the content spans across and down.
  let across = 1;
  let down = 1;
  if (fit !== 'stretch') {
    const widthLeads = fit === 'fill' ? relative > 1 : relative < 1;
    if (widthLeads) down = relative;
    else across = 1 / relative;
  }
  const [cos, sin] = [
    [1, 0],
    [0, 1],
    [-1, 0],
    [0, -1],
  ][quarters]! as [number, number];
  // About the middle: content of size 1 in each direction, turned by quarters, then spanning its share of a surface `ratio` wide and 1 high.
  const centred = compose(
    [mirrorX ? -1 : 1, 0, 0, 0, mirrorY ? -1 : 1, 0, 0, 0, 1],
    [cos, -sin, 0, sin, cos, 0, 0, 0, 1],
    scaling(1 / width, 1 / height),
    translation(-width / 2, -height / 2),
  );
  const [sx, sy] = place.scale ?? [1, 1];
  const [leanX, leanY] = place.shear ?? [0, 0];
  const turn = radians(place.turn ?? 0);
  const [dx, dy] = place.offset ?? [0, 0];
  const placed = compose(
    translation(0.5 + dx, 0.5 + dy),
    scaling(1 / ratio, 1),
    [Math.cos(turn), -Math.sin(turn), 0, Math.sin(turn), Math.cos(turn), 0, 0, 0, 1],
    [1, -Math.tan(radians(leanX)), 0, Math.tan(radians(leanY)), 1, 0, 0, 0, 1],
    scaling(sx * across * ratio, sy * down),
    centred,
  );
  if (!place.perspective) return placed;
  const before = applyToPoints(placed, [
    [0, 0],
    [width, 0],
    [width, height],
    [0, height],
  ]);
  const after = mapTuple(before, ([x, y], i): Point => [x + place.perspective![i]![0], y + place.perspective![i]![1]]);
  return compose(homographyBetweenQuads(before, after) ?? IDENTITY, placed);
}

/** Where a point of the surface (unit square) lies in the content, in pixels of what is left after cropping; null when the content is folded to nothing. */
export function surfaceToContent(fit: Fit, place: Place, ratio: number, content: Size): Homography | null {
  return invert(contentToSurface(fit, place, ratio, content));
}

/**
 * Which sides of the content (left, top, right, bottom) run through the surface, so that beyond them the screen's black is
 * seen. A side along the surface's own border, or beyond it, is none.
 */
export function visibleSides(toContent: Homography, { width, height }: Size): [boolean, boolean, boolean, boolean] {
  const at = UNIT_SQUARE.map((corner) => applyToPoint(toContent, corner));
  const slack = 1e-6 * Math.max(width, height);
  return [
    at.some(([x]) => x < -slack),
    at.some(([, y]) => y < -slack),
    at.some(([x]) => x > width + slack),
    at.some(([, y]) => y > height + slack),
  ];
}

/** What is wrong with a placement, in words, or null: content that is scaled or leaned to nothing, or folded over itself. */
export function placeFault(fit: Fit, place: Place, ratio: number, content: Size): string | null {
  const [sx, sy] = place.scale ?? [1, 1];
  if (Math.abs(sx) < 1e-4 || Math.abs(sy) < 1e-4) return 'the content is scaled to nothing';
  const corners = contentCorners(fit, place, ratio, content);
  const size = 1e4;
  if (!corners.every(([x, y]) => Number.isFinite(x) && Number.isFinite(y))) return 'the content is leaned over flat';
  const fault = quadFault(mapTuple(corners, ([x, y]): Point => [x * size, y * size]));
  return fault === null ? null : 'its corners are moved past each other';
}
