import { clamp } from '../../base/geometry/clamp.ts';
import { applyToPoint, type Homography, type Point } from '../../base/geometry/homography.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { outlineAt, type HandlePair, type Outline, STRAIGHT } from '../../base/geometry/outline.ts';
import { numberAt } from '../../base/time/keyframes.ts';
import { quadAt, type QuadMotion } from '../pin/shutter-path.ts';
import type { FrontShape } from '../../base/schemas/types.ts';
import { emptyMatte } from './coverage.ts';
import { touchedPixels, type PixelBox } from '../../base/image/pixel-box.ts';
import { shapeMatte, type SoftOutline } from './shape-matte.ts';

/** Where the shapes of a frame are looked for. */
export interface ShapeSetting {
  readonly motion: QuadMotion;
  readonly frame: number;
  /** The surface's corners where shapes that ride on it are given; null to take them as they are. */
  readonly reference: Quad | null;
  readonly referenceFrame: number;
  readonly shutter: number;
  readonly phase: number;
  /** Most moments that a smeared shape is made from. */
  readonly mostMoments: number;
}

const PIECE = 1.5;
const MOST_PIECES = 96;

/** An outline carried into the picture and flattened, with its soft edge; curves in pieces of about one and a half pixels. */
export function flattened(
  points: readonly Point[],
  handles: readonly HandlePair[] | undefined,
  widths: (i: number) => readonly [number, number],
  carry: (p: Point) => Point,
): SoftOutline {
  const out = { points: [] as Point[], inner: [] as number[], outer: [] as number[] };
  points.forEach((from, i) => {
    const next = (i + 1) % points.length;
    const to = points[next]!;
    const [, , ox, oy] = handles?.[i] ?? STRAIGHT;
    const [ix, iy] = handles?.[next] ?? STRAIGHT;
    const [ia, oa] = widths(i);
    const [ib, ob] = widths(next);
    const a: Point = [from[0] + ox, from[1] + oy];
    const b: Point = [to[0] + ix, to[1] + iy];
    const straight = ox === 0 && oy === 0 && ix === 0 && iy === 0;
    const length = Math.hypot(ox, oy) + Math.hypot(b[0] - a[0], b[1] - a[1]) + Math.hypot(ix, iy);
    const pieces = straight ? 1 : clamp(Math.ceil(length / PIECE), 3, MOST_PIECES);
    for (let k = 0; k < pieces; k++) {
      const t = k / pieces;
      const s = 1 - t;
      const w = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t] as const;
      out.points.push(
        carry([
          w[0] * from[0] + w[1] * a[0] + w[2] * b[0] + w[3] * to[0],
          w[0] * from[1] + w[1] * a[1] + w[2] * b[1] + w[3] * to[1],
        ]),
      );
      out.inner.push(ia + t * (ib - ia));
      out.outer.push(oa + t * (ob - oa));
    }
  });
  return out;
}

/** How a shape's points get to the picture `time` frames from now; null where the surface is seen edge on. */
function carrier(shape: FrontShape, { motion, reference }: ShapeSetting, time: number): ((p: Point) => Point) | null {
  if (shape.rides === 'plate') return (p) => p;
  const quad = quadAt(motion, time);
  if (!reference) return (p) => p;
  const h: Homography | null = homographyBetweenQuads(reference, quad);
  return h && ((p) => applyToPoint(h, p));
}

/** The shape between its own points, which it has on its home frame, and its keys. */
function outlineOfShape(shape: FrontShape, { referenceFrame }: ShapeSetting, frame: number): Outline {
  return outlineAt(shape, shape.home ?? referenceFrame, frame);
}

function pointsAt(shape: FrontShape, setting: ShapeSetting, time: number): Point[] | null {
  const carry = carrier(shape, setting, time);
  return carry && outlineOfShape(shape, setting, setting.frame + time).points.map(carry);
}

/** A shape as it lies over the picture `time` frames from a frame: the outline between its keys, carried, flattened. */
export function shapeOutline(shape: FrontShape, setting: ShapeSetting, time = 0): SoftOutline | null {
  const carry = carrier(shape, setting, time);
  if (!carry) return null;
  const outline = outlineOfShape(shape, setting, setting.frame + time);
  const soft = shape.soft ?? [0, 0];
  return flattened(outline.points, outline.handles, (i) => shape.softness?.[i] ?? soft, carry);
}

/** How much of each pixel of a box a shape covers on a frame, its smear, inversion and opacity counted. */
export function shapeOnFrame(shape: FrontShape, setting: ShapeSetting, box: PixelBox): Float32Array {
  const { part, data } = shapePart(shape, setting, box);
  const beyond = shape.invert ? numberAt(shape.opacity ?? 1, setting.frame) : 0;
  const out = emptyMatte(box, beyond).data;
  const across = part.right - part.left;
  const width = box.right - box.left;
  for (let row = part.top, i = 0; row < part.bottom; row++, i += across)
    out.set(data.subarray(i, i + across), (row - box.top) * width + part.left - box.left);
  return out;
}

/** The part of a box that a shape can touch, and how much it covers of each pixel there; beyond it the shape covers nothing, or all where it is inverted. */
function shapePart(shape: FrontShape, setting: ShapeSetting, box: PixelBox): { part: PixelBox; data: Float32Array } {
  const times = momentsOf(shape, setting);
  const opacity = numberAt(shape.opacity ?? 1, setting.frame);
  const outlines = times.flatMap((time) => {
    const outline = shapeOutline(shape, setting, time);
    const own = outline && partOf(box, outline);
    return own ? [{ outline, own }] : [];
  });
  if (outlines.length === 0)
    return { part: { left: box.left, top: box.top, right: box.left, bottom: box.top }, data: new Float32Array(0) };
  const part = {
    left: Math.min(...outlines.map((o) => o.own.left)),
    top: Math.min(...outlines.map((o) => o.own.top)),
    right: Math.max(...outlines.map((o) => o.own.right)),
    bottom: Math.max(...outlines.map((o) => o.own.bottom)),
  };
  const width = part.right - part.left;
  const out = emptyMatte(part).data;
  const share = 1 / times.length;
  for (const { outline, own } of outlines) {
    const { data } = shapeMatte(outline, own);
    const across = own.right - own.left;
    for (let row = own.top, i = 0; row < own.bottom; row++)
      for (let at = (row - part.top) * width + own.left - part.left, end = at + across; at < end; at++, i++)
        out[at]! += data[i]! * share;
  }
  for (let i = 0; i < out.length; i++) out[i] = (shape.invert ? 1 - out[i]! : out[i]!) * opacity;
  return { part, data: out };
}

/** Takes a shape as it is on a frame into a matte of what is in front over a box, in place. */
export function takeShape(matte: Float32Array, shape: FrontShape, setting: ShapeSetting, box: PixelBox): void {
  // One that is inverted, or bounds, changes all of the box.
  if (shape.invert || shape.does === 'within') return applyShape(matte, shapeOnFrame(shape, setting, box), shape.does);
  const { part, data } = shapePart(shape, setting, box);
  const across = part.right - part.left;
  const width = box.right - box.left;
  const removes = shape.does === 'remove';
  for (let row = part.top, i = 0; row < part.bottom; row++) {
    for (let at = (row - box.top) * width + part.left - box.left, end = at + across; at < end; at++, i++)
      matte[at] = removes ? matte[at]! * (1 - data[i]!) : matte[at]! + data[i]! * (1 - matte[at]!);
  }
}

/** The part of a box that an outline with its soft edge can touch; null when there is none. */
function partOf(box: PixelBox, { points, outer }: SoftOutline): PixelBox | null {
  return touchedPixels(points, Math.max(0, ...outer) + 1, box);
}

/** Moments of the shutter, frames from now: one where nothing moves or is to be smeared. */
export function momentsOf(shape: FrontShape, setting: ShapeSetting): number[] {
  const open = setting.shutter / 360;
  const middle = setting.phase / 360;
  if (!shape.blur || open <= 0) return [0];
  const a = pointsAt(shape, setting, middle - open / 2);
  const b = pointsAt(shape, setting, middle + open / 2);
  if (!a || !b) return [middle];
  const smear = Math.max(...a.map((p, i) => Math.hypot(p[0] - b[i]![0], p[1] - b[i]![1])));
  // An edge that is soft by itself needs fewer to be even.
  const least = Math.min(...(shape.softness ?? [shape.soft ?? [0, 0]]).map(([inner, outer]) => inner + outer));
  const moments = clamp(Math.ceil((1.5 * smear) / Math.max(1, least / 2)), 1, setting.mostMoments);
  return Array.from({ length: moments }, (_, k) => middle + open * ((k + 0.5) / moments - 0.5));
}

/** Takes a shape into a matte of what is in front, in place. */
export function applyShape(matte: Float32Array, shape: Float32Array, does: FrontShape['does']): void {
  switch (does ?? 'keep') {
    case 'keep':
      for (let i = 0; i < matte.length; i++) matte[i]! += shape[i]! * (1 - matte[i]!);
      return;
    case 'remove':
      for (let i = 0; i < matte.length; i++) matte[i]! *= 1 - shape[i]!;
      return;
    case 'within':
      for (let i = 0; i < matte.length; i++) matte[i]! *= shape[i]!;
      return;
  }
}
