import type { Point } from '../../base/geometry/homography.ts';

/**
 * A lens that bends the picture about its centre. A point seen without the lens at c + f·(x, y) is filmed at c + f·d·(x, y),
 * d = 1 + k1·r² + k2·r⁴ + k3·r⁶, r² = x² + y²; lengths in px of the plate, continuous.
 * Source: D. Brown, Close-range camera calibration, Photogrammetric Engineering 37(8), 1971 (radial terms; A. Conrady, 1919).
 */
export interface Lens {
  readonly k1: number;
  readonly k2: number;
  readonly k3: number;
  readonly centre: Point;
  readonly focal: number;
}

const ROUNDS = 30;
const NEAR_ENOUGH = 1e-13;

export function isStraight(lens: Lens): boolean {
  return lens.k1 === 0 && lens.k2 === 0 && lens.k3 === 0;
}

/** Where a point is filmed that would be seen at `p` without the lens. */
export function bend(lens: Lens, [px, py]: Point): [number, number] {
  const x = (px - lens.centre[0]) / lens.focal;
  const y = (py - lens.centre[1]) / lens.focal;
  const d = lens.focal * factor(lens, x * x + y * y);
  return [lens.centre[0] + d * x, lens.centre[1] + d * y];
}

/** How `bend` changes at a straight place: [∂x/∂x, ∂x/∂y, ∂y/∂x, ∂y/∂y]. */
export function bendSlopes({ k1, k2, k3, centre, focal }: Lens, [px, py]: Point): [number, number, number, number] {
  const x = (px - centre[0]) / focal;
  const y = (py - centre[1]) / focal;
  const r2 = x * x + y * y;
  const d = 1 + r2 * (k1 + r2 * (k2 + r2 * k3));
  const slope = 2 * (k1 + r2 * (2 * k2 + 3 * r2 * k3));
  return [d + slope * x * x, slope * x * y, slope * x * y, d + slope * y * y];
}

/**
 * Where a point that is filmed at `p` would be seen without the lens; infinite where the lens films nothing there (beyond the circle at which a
 * strong barrel folds back). By Newton's method on the radius.
 */
export function straighten(lens: Lens, [px, py]: Point): [number, number] {
  const x = (px - lens.centre[0]) / lens.focal;
  const y = (py - lens.centre[1]) / lens.focal;
  const r = straightRadius(lens, Math.hypot(x, y));
  const s = lens.focal * (r.seen === 0 ? 1 / factor(lens, 0) : r.straight / r.seen);
  return [lens.centre[0] + s * x, lens.centre[1] + s * y];
}

/** The radius (in focal lengths) that is filmed at `seen`. */
function straightRadius(lens: Lens, seen: number): { seen: number; straight: number } {
  let r = seen;
  for (let round = 0; round < ROUNDS; round++) {
    const r2 = r * r;
    const slope = 1 + r2 * (3 * lens.k1 + r2 * (5 * lens.k2 + r2 * 7 * lens.k3));
    if (!(slope > 1e-6)) return { seen, straight: Infinity };
    const step = (r * factor(lens, r2) - seen) / slope;
    // Near the fold a whole step would leap over it.
    r -= Math.max(-0.3 * (r + 0.1), Math.min(0.3 * (r + 0.1), step));
    if (Math.abs(step) < NEAR_ENOUGH * (1 + r)) break;
  }
  return { seen, straight: Math.abs(r * factor(lens, r * r) - seen) < 1e-9 * (1 + seen) ? r : Infinity };
}

function factor({ k1, k2, k3 }: Lens, r2: number): number {
  return 1 + r2 * (k1 + r2 * (k2 + r2 * k3));
}
