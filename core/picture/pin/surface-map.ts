import { roundCorners, type RoundRow } from './round-corners.ts';
import { applyToPoint, compose, invert, type Homography } from '../../base/geometry/homography.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { signedArea, UNIT_SQUARE, type Quad } from '../../base/geometry/quad.ts';
import type { BentSurface } from '../../base/geometry/inverse-mesh.ts';
import type { FlatMap, RowPlaces } from '../../base/kernels/composite-kernels.ts';

export function rowPlaces(width: number): RowPlaces {
  return {
    plain: new Float32Array(width),
    u: new Float32Array(width),
    v: new Float32Array(width),
    su: new Float32Array(width),
    sv: new Float32Array(width),
    covered: new Float32Array(width),
  };
}

/** How the surface on one frame is laid over the picture. */
export interface SurfaceLaid {
  readonly quad: Quad;
  /** Surface (unit square) to content pixels. */
  readonly placement: Homography;
  /** Fades inward from the top, right, bottom and left side, px. */
  readonly feather: readonly number[];
  /** So far inside of its sides the surface ends, px, in the same order. */
  readonly crop?: readonly number[] | undefined;
  /** Of rounded corners, in heights of the surface. */
  readonly radius?: number | undefined;
  /** Width over height of the surface, where its corners are round. */
  readonly ratio?: number | undefined;
  /** Bends the surface, by its own shape or by the lens; flat when null. */
  readonly mesh: BentSurface | null;
  /** The outline through which the content is seen, where that is not the quad it is laid on: it lies behind the surface. */
  readonly window?: Quad | undefined;
  /** Pixels by which the outline lies further out; what is seen there repeats the content's outermost pixels. */
  readonly outset?: number | undefined;
}

/** Fills the places of the pixels from column `from` to before `to` of a row, looked at (dx, dy) within each. */
export type FillRow = (row: number, from: number, to: number, dx: number, dy: number, out: RowPlaces) => void;

/** How the rows of a surface are filled: by a flat map, or by a function of their own. Null when the surface is seen edge on. */
export function surfaceRows(laid: SurfaceLaid): FlatMap | FillRow | null {
  const toPicture = homographyBetweenQuads(UNIT_SQUARE, laid.quad);
  const toUnit = toPicture && invert(toPicture);
  if (!toUnit) return null;
  return laid.mesh
    ? bentRows(orient(toUnit, laid.quad), laid, laid.mesh)
    : {
        toContent: orient(compose(laid.placement, toUnit), laid.quad),
        sides: edgeLines(laid.window ?? laid.quad, laid.feather, laid.outset ?? 0, laid.crop ?? []),
      };
}

/** Takes the surface's rounded corners out of the weights of its rows; null where they are square, or it is bent. */
export function cornersOf({ quad, radius = 0, ratio = 1, mesh, window }: SurfaceLaid): RoundRow | null {
  const outline = window ?? quad;
  const toPicture = radius > 0 && !mesh ? homographyBetweenQuads(UNIT_SQUARE, outline) : null;
  const toUnit = toPicture && invert(toPicture);
  return toUnit && roundCorners(toUnit, (u, v) => applyToPoint(toPicture, [u, v]), ratio, radius);
}

/** The same map with a positive denominator over the quad. */
function orient(h: Homography, quad: Quad): Homography {
  const [x, y] = [(quad[0][0] + quad[2][0]) / 2, (quad[0][1] + quad[2][1]) / 2];
  return h[6]! * x + h[7]! * y + h[8]! < 0 ? h.map((v) => -v) : h;
}

function edgeLines(quad: Quad, feather: readonly number[], outset: number, crop: readonly number[]): FlatMap['sides'] {
  const inward = signedArea(quad) > 0 ? 1 : -1;
  return quad.map(([x, y], i) => {
    const [nx, ny] = quad[(i + 1) % 4]!;
    const length = Math.hypot(nx - x, ny - y) || 1;
    const a = (-(ny - y) / length) * inward;
    const b = ((nx - x) / length) * inward;
    return { a, b, c: outset - (crop[i] ?? 0) - (a * x + b * y), feather: feather[i] ?? 0 };
  });
}

/** What a side leaves of a pixel whose centre is `inside` px within it. */
function shareInside(inside: number, feather: number): number {
  if (inside <= -0.5) return 0;
  if (feather <= 0) return inside < 0.5 ? inside + 0.5 : 1;
  const t = inside <= 0 ? 0 : inside >= feather ? 1 : inside / feather;
  return t * t * (3 - 2 * t);
}

/** Fills a row of a flat surface. */
export function fillFlatRow(
  { toContent, sides }: FlatMap,
  row: number,
  from: number,
  to: number,
  dx: number,
  dy: number,
  { u, v, su, sv, covered, plain }: RowPlaces,
): void {
  const [h0, h1, h2, h3, h4, h5, h6, h7, h8] = toContent as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const faded = sides.some((side) => side.feather > 0);
  for (let col = from, i = 0; col < to; col++, i++) {
    let share = 1;
    let whole = 1;
    for (let k = 0; k < 4 && whole > 0; k++) {
      const side = sides[k]!;
      const inside = side.a * (col + 0.5) + side.b * (row + 0.5) + side.c;
      whole *= shareInside(inside, 0);
      if (faded) share *= shareInside(inside, side.feather);
    }
    if (!faded || whole === 0) share = whole;
    covered[i] = share;
    plain[i] = whole;
    if (share === 0) continue;
    const x = col + dx;
    const y = row + dy;
    const w = h6 * x + h7 * y + h8;
    if (w < 1e-12) {
      covered[i] = 0;
      continue;
    }
    const inverse = 1 / w;
    const pu = (h0 * x + h1 * y + h2) * inverse;
    const pv = (h3 * x + h4 * y + h5) * inverse;
    const ux = h0 - pu * h6;
    const uy = h1 - pu * h7;
    const vx = h3 - pv * h6;
    const vy = h4 - pv * h7;
    u[i] = pu;
    v[i] = pv;
    // (Math.hypot is ten times slower.)
    su[i] = Math.sqrt(ux * ux + uy * uy) * inverse;
    sv[i] = Math.sqrt(vx * vx + vy * vy) * inverse;
  }
}

/** Through the mesh: picture to the flat surface, from there to the bent one's own coordinates, to the content. */
function bentRows(
  toUnit: Homography,
  { placement: p, feather, outset = 0, crop = [] }: SurfaceLaid,
  mesh: BentSurface,
): FillRow {
  const [h0, h1, h2, h3, h4, h5, h6, h7, h8] = toUnit as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const looked = new Float64Array(6);
  const sides = [feather[3] ?? 0, feather[1] ?? 0, feather[0] ?? 0, feather[2] ?? 0];
  return (row, from, to, dx, dy, { u, v, su, sv, covered, plain }) => {
    for (let col = from, i = 0; col < to; col++, i++) {
      covered[i] = plain[i] = 0;
      const x = col + dx;
      const y = row + dy;
      const w = h6 * x + h7 * y + h8;
      if (w < 1e-12) continue;
      const inverse = 1 / w;
      const pu = (h0 * x + h1 * y + h2) * inverse;
      const pv = (h3 * x + h4 * y + h5) * inverse;
      if (!mesh.look(pu, pv, looked)) continue;
      const ux = (h0 - pu * h6) * inverse;
      const uy = (h1 - pu * h7) * inverse;
      const vx = (h3 - pv * h6) * inverse;
      const vy = (h4 - pv * h7) * inverse;
      const s = looked[0]!;
      const t = looked[1]!;
      const sx = looked[2]! * ux + looked[3]! * vx;
      const sy = looked[2]! * uy + looked[3]! * vy;
      const tx = looked[4]! * ux + looked[5]! * vx;
      const ty = looked[4]! * uy + looked[5]! * vy;
      const perS = 1 / (Math.sqrt(sx * sx + sy * sy) || 1e-12);
      const perT = 1 / (Math.sqrt(tx * tx + ty * ty) || 1e-12);
      // Distances in pixels from the bent sides, to first order; the look within the pixel is carried back to its centre.
      const cs = s + sx * (0.5 - dx) + sy * (0.5 - dy);
      const ct = t + tx * (0.5 - dx) + ty * (0.5 - dy);
      const inside = [
        cs * perS + outset - (crop[3] ?? 0),
        (1 - cs) * perS + outset - (crop[1] ?? 0),
        ct * perT + outset - (crop[0] ?? 0),
        (1 - ct) * perT + outset - (crop[2] ?? 0),
      ] as const;
      plain[i] =
        shareInside(inside[0], 0) * shareInside(inside[1], 0) * shareInside(inside[2], 0) * shareInside(inside[3], 0);
      const share =
        shareInside(inside[0], sides[0]!) *
        shareInside(inside[1], sides[1]!) *
        shareInside(inside[2], sides[2]!) *
        shareInside(inside[3], sides[3]!);
      if (share === 0) continue;
      covered[i] = share;
      const q = p[6]! * s + p[7]! * t + p[8]!;
      const cu = (p[0]! * s + p[1]! * t + p[2]!) / q;
      const cv = (p[3]! * s + p[4]! * t + p[5]!) / q;
      u[i] = cu;
      v[i] = cv;
      const us = (p[0]! - cu * p[6]!) / q;
      const ut = (p[1]! - cu * p[7]!) / q;
      const vs = (p[3]! - cv * p[6]!) / q;
      const vt = (p[4]! - cv * p[7]!) / q;
      su[i] = Math.hypot(us * sx + ut * tx, us * sy + ut * ty);
      sv[i] = Math.hypot(vs * sx + vt * tx, vs * sy + vt * ty);
    }
  };
}
