import { mapTuple, type MappedTuple } from './map-tuple.ts';
/**
 * Plane-to-plane projective maps.
 *
 * A homography is nine numbers, row-major 3×3, acting on column vectors (x, y, 1) in continuous
 * pixel coordinates. h22 is 1 wherever the map allows it.
 */
export type Homography = readonly number[];

/** A point in continuous pixel coordinates, x right, y down. */
export type Point = readonly [number, number];

export const IDENTITY: Homography = [1, 0, 0, 0, 1, 0, 0, 0, 1];

/** a·b: first b, then a. */
export function multiply(a: Homography, b: Homography): Homography {
  const out = new Array<number>(9);
  for (let row = 0; row < 3; row++) {
    for (let col = 0; col < 3; col++) {
      out[row * 3 + col] = a[row * 3]! * b[col]! + a[row * 3 + 1]! * b[3 + col]! + a[row * 3 + 2]! * b[6 + col]!;
    }
  }
  return out;
}

/** Several maps composed, the last one applied first. */
export function compose(...maps: Homography[]): Homography {
  return normalise(maps.reduce((left, right) => multiply(left, right)));
}

/** Scales the nine numbers so that h22 = 1; a map whose h22 vanishes is scaled to unit norm instead. */
export function normalise(h: Homography): Homography {
  const norm = Math.hypot(...h);
  const scale = Math.abs(h[8]!) > 1e-12 * norm ? h[8]! : norm;
  return h.map((v) => v / scale);
}

export function determinant(h: Homography): number {
  const [a, b, c, d, e, f, g, i, j] = h as [number, number, number, number, number, number, number, number, number];
  return a * (e * j - f * i) - b * (d * j - f * g) + c * (d * i - e * g);
}

/** The inverse map by the adjugate, or null when the map folds the plane onto a line. */
export function invert(h: Homography): Homography | null {
  const [a, b, c, d, e, f, g, i, j] = h as [number, number, number, number, number, number, number, number, number];
  const adjugate = [
    e * j - f * i,
    c * i - b * j,
    b * f - c * e,
    f * g - d * j,
    a * j - c * g,
    c * d - a * f,
    d * i - e * g,
    b * g - a * i,
    a * e - b * d,
  ];
  const det = determinant(h);
  const size = Math.hypot(...h);
  if (!Number.isFinite(det) || Math.abs(det) < 1e-15 * size ** 3) return null;
  return normalise(adjugate.map((v) => v / det));
}

/**
 * The image of one point. The caller makes sure that it does not lie on the vanishing line;
 * there the result is infinite.
 */
export function applyToPoint(h: Homography, [x, y]: Point): [number, number] {
  const w = h[6]! * x + h[7]! * y + h[8]!;
  return [(h[0]! * x + h[1]! * y + h[2]!) / w, (h[3]! * x + h[4]! * y + h[5]!) / w];
}

/** Where a map leads points; of four corners it is four. */
export function applyToPoints<const T extends readonly Point[]>(
  h: Homography,
  points: T,
): MappedTuple<T, [number, number]> {
  return mapTuple<T, [number, number]>(points, (p) => applyToPoint(h, p));
}

/** True when all points lie on the same side of the line that the map sends to infinity. */
export function keepsInFront(h: Homography, points: readonly Point[]): boolean {
  const sides = points.map(([x, y]) => h[6]! * x + h[7]! * y + h[8]!);
  return sides.every((w) => w > 1e-9) || sides.every((w) => w < -1e-9);
}

export function translation(dx: number, dy: number): Homography {
  return [1, 0, dx, 0, 1, dy, 0, 0, 1];
}

export function scaling(sx: number, sy: number = sx): Homography {
  return [sx, 0, 0, 0, sy, 0, 0, 0, 1];
}

/** A turn by `angle` radians, from x towards y, about a point. */
export function rotationAbout(angle: number, [x, y]: Point): Homography {
  const c = Math.cos(angle);
  const s = Math.sin(angle);
  return [c, -s, x - c * x + s * y, s, c, y - s * x - c * y, 0, 0, 1];
}

/**
 * Moves a map between pixel conventions: coordinates that count from pixel centres at integers are
 * half a pixel smaller than ours, so H' = T(-s)·H·T(s) with s the shift from theirs to ours.
 */
export function shiftOrigin(h: Homography, shift: number): Homography {
  return compose(translation(-shift, -shift), h, translation(shift, shift));
}

/** Partial derivatives of the image point with respect to x and y: [∂u/∂x, ∂u/∂y, ∂v/∂x, ∂v/∂y]. */
export function jacobianAt(h: Homography, [x, y]: Point): [number, number, number, number] {
  const w = h[6]! * x + h[7]! * y + h[8]!;
  const u = (h[0]! * x + h[1]! * y + h[2]!) / w;
  const v = (h[3]! * x + h[4]! * y + h[5]!) / w;
  return [(h[0]! - u * h[6]!) / w, (h[1]! - u * h[7]!) / w, (h[3]! - v * h[6]!) / w, (h[4]! - v * h[7]!) / w];
}
