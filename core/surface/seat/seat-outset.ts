import { quadFault, signedArea, type Quad, UNIT_SQUARE } from '../../base/geometry/quad.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint } from '../../base/geometry/homography.ts';
import { quadOfSides, shiftedSide, sideOf } from './sides.ts';

/** How far the content reaches out over the four sides (negative: stays within), in order top, right, bottom, left. */
export interface Outset {
  /** px of the reference frame, or hundredths of the surface's own width and height. */
  readonly unit: 'px' | '%';
  readonly sides: readonly [number, number, number, number];
}

/** The corners after an outset; the corners themselves where it would turn the quad inside out. */
export function outsetQuad(quad: Quad, outset: Outset | undefined): Quad {
  if (!outset || outset.sides.every((s) => s === 0)) return quad;
  const [top, right, bottom, left] = outset.sides;
  if (outset.unit === '%') {
    const map = homographyBetweenQuads(UNIT_SQUARE, quad);
    const at = (u: number, v: number) => applyToPoint(map!, [u, v]);
    const [l, t, r, b] = [-left / 100, -top / 100, 1 + right / 100, 1 + bottom / 100];
    return map && l < r && t < b ? checked([at(l, t), at(r, t), at(r, b), at(l, b)], quad) : quad;
  }
  const moved = quadOfSides([0, 1, 2, 3].map((k) => shiftedSide(sideOf(quad, k), outset.sides[k]!, outset.sides[k]!)));
  return moved ? checked(moved, quad) : quad;
}

function checked(moved: Quad, quad: Quad): Quad {
  return quadFault(moved) || signedArea(moved) * signedArea(quad) <= 0 ? quad : moved;
}
