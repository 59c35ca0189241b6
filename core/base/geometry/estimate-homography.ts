import { Matrix, SingularValueDecomposition } from 'ml-matrix';
import { compose, invert, scaling, translation, type Homography, type Point } from './homography.ts';

/** What came of an estimate: a map with its conditioning, or the reason why there is none. */
export type HomographyEstimate =
  | { ok: true; homography: Homography; conditioning: number; rms: number }
  | { ok: false; reason: 'too-few-points' | 'degenerate' };

/** Below this ratio of the two smallest singular values to the largest, the points do not fix a map. */
const DEGENERATE_RATIO = 1e-7;

/**
 * The homography that takes `from` to `to`, by the normalised direct linear transform.
 *
 * Four points give the exact map, more the least-squares one (algebraic error in coordinates moved to
 * zero mean and mean distance √2). `conditioning` is the second-smallest singular value over the
 * largest: 0 means that the points (three on a line, repeated points) leave the map undetermined.
 * `rms` is the root mean square distance left in the target, in pixels.
 *
 * Source: R. Hartley, A. Zisserman, Multiple View Geometry in Computer Vision, 2nd ed. 2004,
 * algorithm 4.2; normalisation §4.4.4.
 */
export function estimateHomography(from: readonly Point[], to: readonly Point[]): HomographyEstimate {
  if (from.length !== to.length) throw new RangeError(`${from.length} source points but ${to.length} target points`);
  if (from.length < 4) return { ok: false, reason: 'too-few-points' };
  const source = normalisation(from);
  const target = normalisation(to);
  if (!source || !target) return { ok: false, reason: 'degenerate' };

  const rows = new Matrix(Math.max(9, 2 * from.length), 9);
  for (let i = 0; i < from.length; i++) {
    const [x, y] = source.points[i]!;
    const [u, v] = target.points[i]!;
    rows.setRow(2 * i, [0, 0, 0, -x, -y, -1, v * x, v * y, v]);
    rows.setRow(2 * i + 1, [x, y, 1, 0, 0, 0, -u * x, -u * y, -u]);
  }
  const svd = new SingularValueDecomposition(rows, { computeLeftSingularVectors: false });
  const singular = svd.diagonal;
  const conditioning = singular[7]! / singular[0]!;
  if (!(conditioning > DEGENERATE_RATIO)) return { ok: false, reason: 'degenerate' };
  const solution = svd.rightSingularVectors.getColumn(8);
  const back = invert(target.map);
  if (!back || !invert(solution)) return { ok: false, reason: 'degenerate' };
  const homography = compose(back, solution, source.map);
  return { ok: true, homography, conditioning, rms: transferRms(homography, from, to) };
}

/**
 * The exact map between two quads, or null when either has three corners on a line. @throws RangeError unless there are four corners each
 *
 * Source: both are taken as projective frames, three base points and a unit point each (Hartley, Zisserman 2004, §2.3; worked out in P. Heckbert,
 * Fundamentals of Texture Mapping and Image Warping, 1989, §2.2).
 */
export function homographyBetweenQuads(from: readonly Point[], to: readonly Point[]): Homography | null {
  if (from.length !== 4 || to.length !== 4)
    throw new RangeError(`a quad has four corners, not ${from.length} or ${to.length}`);
  const source = normalisation(from);
  const target = normalisation(to);
  if (!source || !target) return null;
  const here = projectiveFrame(source.points);
  const there = projectiveFrame(target.points);
  const back = here && invert(here);
  const home = invert(target.map);
  return back && there && home ? compose(home, there, back, source.map) : null;
}

/** The map that takes (1,0,0), (0,1,0), (0,0,1) and (1,1,1) to four points; null where three of them are on a line. */
function projectiveFrame([a, b, c, d]: readonly Point[]): Homography | null {
  const twice = (p: Point, q: Point, r: Point) => (q[0] - p[0]) * (r[1] - p[1]) - (r[0] - p[0]) * (q[1] - p[1]);
  const whole = twice(a!, b!, c!);
  const parts = [twice(d!, b!, c!), twice(a!, d!, c!), twice(a!, b!, d!)] as const;
  if (!(Math.min(Math.abs(whole), ...parts.map(Math.abs)) > DEGENERATE_RATIO)) return null;
  const [u, v, w] = parts;
  return [u * a![0], v * b![0], w * c![0], u * a![1], v * b![1], w * c![1], u, v, w];
}

function normalisation(points: readonly Point[]) {
  const n = points.length;
  const cx = points.reduce((sum, p) => sum + p[0], 0) / n;
  const cy = points.reduce((sum, p) => sum + p[1], 0) / n;
  const meanDistance = points.reduce((sum, p) => sum + Math.hypot(p[0] - cx, p[1] - cy), 0) / n;
  if (!(meanDistance > 1e-9) || !Number.isFinite(meanDistance)) return null;
  const s = Math.SQRT2 / meanDistance;
  const map = compose(scaling(s), translation(-cx, -cy));
  return { map, points: points.map(([x, y]) => [(x - cx) * s, (y - cy) * s] as const) };
}

function transferRms(h: Homography, from: readonly Point[], to: readonly Point[]): number {
  let sum = 0;
  from.forEach(([x, y], i) => {
    const w = h[6]! * x + h[7]! * y + h[8]!;
    const du = (h[0]! * x + h[1]! * y + h[2]!) / w - to[i]![0];
    const dv = (h[3]! * x + h[4]! * y + h[5]!) / w - to[i]![1];
    sum += du * du + dv * dv;
  });
  return Math.sqrt(sum / from.length);
}
