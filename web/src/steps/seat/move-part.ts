import { mapTuple } from '../../../../core/base/geometry/map-tuple.ts';
import type { Point } from '../../../../core/base/geometry/homography.ts';
import type { Quad } from '../../../../core/base/geometry/quad.ts';
import { sideOf } from '../../../../core/surface/seat/sides.ts';

/** Parts of a quad that can be picked: 0–3 corners, 4–7 sides, 8 all of it. */
export const WHOLE = 8;

/** The quad after a part of it was moved by a shift; a side goes along its normal only, its ends along the neighbours. */
export function movePart(quad: Quad, part: number, [dx, dy]: Point): Quad {
  if (part === WHOLE) return mapTuple(quad, ([x, y]) => [x + dx, y + dy]);
  if (part < 4) return mapTuple(quad, ([x, y], i) => (i === part ? [x + dx, y + dy] : [x, y]));
  const { normal } = sideOf(quad, part - 4);
  const out = dx * normal[0] + dy * normal[1];
  return mapTuple(quad, ([x, y], i) =>
    i === part - 4 || i === (part - 3) % 4 ? [x + out * normal[0], y + out * normal[1]] : [x, y],
  );
}

export function middleOf(quad: Quad): [number, number] {
  return [quad.reduce((s, c) => s + c[0], 0) / 4, quad.reduce((s, c) => s + c[1], 0) / 4];
}

/** Turned by radians (clockwise on the picture) and scaled about its middle. */
export function turnQuad(quad: Quad, angle: number, scale: number): Quad {
  const [cx, cy] = middleOf(quad);
  const cos = scale * Math.cos(angle);
  const sin = scale * Math.sin(angle);
  return mapTuple(quad, ([x, y]) => [cx + cos * (x - cx) - sin * (y - cy), cy + sin * (x - cx) + cos * (y - cy)]);
}

/** Where a part is taken hold of. */
export function gripOf(quad: Quad, part: number): Point {
  if (part < 4) return quad[part]!;
  if (part === WHOLE) return middleOf(quad);
  const a = quad[part - 4]!;
  const b = quad[(part - 3) % 4]!;
  return [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
}
