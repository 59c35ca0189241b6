import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint, invert, jacobianAt, type Homography, type Point } from '../../base/geometry/homography.ts';
import type { BentSurface } from '../../base/geometry/inverse-mesh.ts';
import { meshAt, type PatchMesh } from '../../base/geometry/patch-mesh.ts';
import { UNIT_SQUARE, type Quad } from '../../base/geometry/quad.ts';
import { bend, bendSlopes, straighten, type Lens } from './lens.ts';

/** From the unit square to where a flat surface with corners filmed at `quad` would be seen without the lens; null beyond what the lens films, or edge on. */
export function straightMap(lens: Lens, quad: Quad): Homography | null {
  const straight = quad.map((c) => straighten(lens, c));
  return straight.every(([x, y]) => Number.isFinite(x) && Number.isFinite(y))
    ? homographyBetweenQuads(UNIT_SQUARE, straight)
    : null;
}

/** Where places (u, v) of a flat surface are filmed, its corners at `quad`: through the lens where there is one. Null where there is no map. */
export function placesOnSurface(quad: Quad, lens: Lens | undefined): ((u: number, v: number) => Point) | null {
  const map = lens ? straightMap(lens, quad) : homographyBetweenQuads(UNIT_SQUARE, quad);
  return map && (lens ? (u, v) => bend(lens, applyToPoint(map, [u, v])) : (u, v) => applyToPoint(map, [u, v]));
}

/** The way back: (u, v) of the surface from a filmed place. */
export function surfaceFromPlace(quad: Quad, lens: Lens | undefined): ((at: Point) => Point) | null {
  const map = lens ? straightMap(lens, quad) : homographyBetweenQuads(UNIT_SQUARE, quad);
  const back = map && invert(map);
  return back && (lens ? (at) => applyToPoint(back, straighten(lens, at)) : (at) => applyToPoint(back, at));
}

/**
 * How a lens bends a surface whose corners are filmed at `quad`: from the flat surface between these corners to what is filmed there, with slopes, exactly.
 * `own` is the surface's own bend (curved glass), if any. @throws RangeError where no map is
 */
export class LensSurface implements BentSurface {
  private readonly filmed: Homography;
  private readonly back: Homography;

  constructor(
    private readonly lens: Lens,
    quad: Quad,
    private readonly own: BentSurface | null,
  ) {
    const filmed = homographyBetweenQuads(UNIT_SQUARE, quad);
    const ideal = straightMap(lens, quad);
    const back = ideal && invert(ideal);
    if (!filmed || !back) throw new RangeError('the lens films no surface there');
    this.filmed = filmed;
    this.back = back;
  }

  look(u: number, v: number, out: Float64Array): boolean {
    const { lens, filmed, back, own } = this;
    const at = applyToPoint(filmed, [u, v]);
    const straight = straighten(lens, at);
    if (!Number.isFinite(straight[0])) return false;
    const [fa, fb, fc, fd] = jacobianAt(filmed, [u, v]);
    const [ba, bb, bc, bd] = bendSlopes(lens, straight);
    const det = ba * bd - bb * bc;
    const [ia, ib, ic, id] = jacobianAt(back, straight);
    if (!(det > 1e-9)) return false;
    // straight = bend⁻¹(filmed(u, v)); (s, t) = back(straight).
    const sa = (bd * fa - bb * fc) / det;
    const sb = (bd * fb - bb * fd) / det;
    const sc = (ba * fc - bc * fa) / det;
    const sd = (ba * fd - bc * fb) / det;
    const place = applyToPoint(back, straight);
    const a = ia * sa + ib * sc;
    const b = ia * sb + ib * sd;
    const c = ic * sa + id * sc;
    const d = ic * sb + id * sd;
    if (!own) {
      out[0] = place[0];
      out[1] = place[1];
      out[2] = a;
      out[3] = b;
      out[4] = c;
      out[5] = d;
      return true;
    }
    if (!own.look(place[0], place[1], out)) return false;
    const [, , su = 0, sv = 0, tu = 0, tv = 0] = out;
    out[2] = su * a + sv * c;
    out[3] = su * b + sv * d;
    out[4] = tu * a + tv * c;
    out[5] = tu * b + tv * d;
    return true;
  }
}

/** Steps along each side of the outline. */
const STEPS = 24;

/** The outline of a surface as a lens films it, as a polygon; its corners alone where no map is. */
export function lensOutline(lens: Lens, quad: Quad, mesh: PatchMesh | null): readonly Point[] {
  const ideal = straightMap(lens, quad);
  if (!ideal) return quad;
  const at = (s: number, t: number): Point => {
    const [u, v] = mesh ? meshAt(mesh, s, t) : [s, t];
    return bend(lens, applyToPoint(ideal, [u, v]));
  };
  const along = (of: (part: number) => Point) => Array.from({ length: STEPS }, (_, i) => of(i / STEPS));
  return [
    ...along((p) => at(p, 0)),
    ...along((p) => at(1, p)),
    ...along((p) => at(1 - p, 1)),
    ...along((p) => at(0, 1 - p)),
  ];
}
