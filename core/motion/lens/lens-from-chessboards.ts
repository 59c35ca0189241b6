import { estimateHomography } from '../../base/geometry/estimate-homography.ts';
import type { Homography, Point } from '../../base/geometry/homography.ts';
import { distance } from '../../base/geometry/quad.ts';
import { dampDiagonal, Damping } from '../../base/geometry/damped-least-squares.ts';
import { factorCholesky, inverseOfFactor, substitute } from '../../base/geometry/linear-solve.ts';
import { robustDeviation } from '../../base/image/statistics.ts';
import { poseFromHomography } from '../pose/plane-pose.ts';
import { vectorFromRotation } from '../pose/rotation.ts';
import type { ChessboardPoint } from './find-chessboard.ts';
import { bend, type Lens } from './lens.ts';
import { SHARED, OWN, lensOf, filmed, residualsOf } from './chessboard-residuals.ts';

export interface BoardsFit {
  readonly lens: Lens;
  /** How many terms of the distortion the views tell: k1; k1 and k2; all three. */
  readonly terms: 1 | 2 | 3;
  /** Distances of the crossings from where board and lens put them, root mean square, px: over all views, and view by view. */
  readonly rms: number;
  readonly perView: readonly number[];
  /** Standard deviation of the focal length, px: large where all boards are seen from the front. */
  readonly focalSpread: number;
  /** How far off the lens may be at the picture's corners, px; at 95 %, by the crossings' own spread. */
  readonly bound: number;
  /** How far out crossings were seen, of the way from the middle to the picture's corners. */
  readonly reach: number;
}
const ROUNDS = 60;
const TUKEY = 4.685;
const SMALLEST_GAIN = 1e-9;
const STEP = 1e-6;
/** What lenses have, so that what the views do not tell stays there: middle (in focal lengths), each k, logarithm of the focal length. */
const USUAL_MIDDLE = 0.05;
const USUAL_K = 1;
const USUAL_FOCAL = 0.7;
const COMMON_FOCAL = 1.1;
const LEAST_FOCAL = 0.3;
const MOST_FOCAL = 4;
/** At the start nothing is far off for good, px; round by round less is forgiven. */
const FORGIVING = 4;
const STRICTER = 0.6;
/** From so many views and crossings on all three terms are looked for, as calibrations commonly do: fewer terms are stiffer beyond where boards were seen, not truer. With less, a further term has to be worth it. */
const MANY_VIEWS = 3;
const MANY = 150;
/** A number of terms that is worse by more than this, by the Bayesian criterion, is no alternative. */
const UNLIKELY = 10;

/**
 * The lens, its middle and its focal length that chessboards tell, seen in one view or many (a view is a still, or a frame). `size` is the picture's, px. Null where no view has enough crossings.
 * Source: Z. Zhang, A flexible new technique for camera calibration, IEEE Trans. PAMI 22(11), 2000 (start and refinement; radial terms); which terms: G. Schwarz, 1978.
 */
export function lensFromChessboards(
  views: readonly (readonly ChessboardPoint[])[],
  { width, height }: { readonly width: number; readonly height: number },
): BoardsFit | null {
  const middle: Point = [width / 2, height / 2];
  const maps = views.map((view) => homographyOf(view));
  const told = startingFocal(maps, middle) ?? 0;
  const focal = told > LEAST_FOCAL * width && told < MOST_FOCAL * width ? told : COMMON_FOCAL * width;
  const usable = views.flatMap((points, index) => {
    const map = maps[index];
    const pose = map && poseFromHomography(map, { focal, cx: middle[0], cy: middle[1], ratio: 1 });
    return pose ? [{ points, index, pose: [...vectorFromRotation(pose.rotation), ...pose.position] }] : [];
  });
  if (usable.length === 0) return null;
  const boards = usable.map(({ points }) => points);
  const start = [0, 0, 0, 0, 0, 0, ...usable.flatMap(({ pose }) => pose)];
  const fits = ([1, 2, 3] as const).flatMap((terms) => fit(boards, middle, focal, terms, start) ?? []);
  const many = boards.length >= MANY_VIEWS && boards.flat().length >= MANY;
  const best = many ? fits.at(-1) : [...fits].sort((a, b) => worthOf(a) - worthOf(b))[0];
  if (!best) return null;
  const { unknowns, residuals, covariance, terms } = best;
  const whole = lensOf(unknowns, middle, focal);
  const lens = { ...whole, k2: terms > 1 ? whole.k2 : 0, k3: terms > 2 ? whole.k3 : 0 };
  const perView = views.map(() => NaN);
  let at = 0;
  boards.forEach((points, k) => {
    perView[usable[k]!.index] = rms(residuals.subarray(2 * at, 2 * (at += points.length)));
  });
  // With one term more or less the picture's corners, where no board may have been, come out elsewhere: they are not surer than that.
  const corners: Point[] = [
    [0, 0],
    [width, 0],
    [width, height],
    [0, height],
  ];
  const near = fits.filter((other) => Math.abs(other.terms - terms) === 1 && worthOf(other) < worthOf(best) + UNLIKELY);
  const others = near.map((other) =>
    Math.max(...corners.map((p) => distance(bend(lensOf(other.unknowns, middle, focal), p), bend(lens, p)))),
  );
  const corner = distance(middle, [0, 0]);
  const reach = Math.min(1, Math.max(...boards.flat().map((p) => distance(p.at, middle))) / corner);
  return {
    lens,
    terms,
    rms: rms(residuals),
    perView,
    focalSpread: lens.focal * Math.sqrt(covariance[0]!),
    bound: Math.max(spreadAt(unknowns, middle, focal, covariance, corners), ...others),
    reach,
  };
}

interface Fitted {
  readonly unknowns: number[];
  readonly residuals: Float64Array;
  readonly cost: number;
  readonly count: number;
  readonly terms: 1 | 2 | 3;
  readonly covariance: Float64Array;
}

const worthOf = ({ count, cost, terms }: Fitted) => count * Math.log(cost / count) + terms * Math.log(count);

function homographyOf(view: readonly ChessboardPoint[]): Homography | null {
  const estimate = estimateHomography(
    view.map((p) => p.square),
    view.map((p) => p.at),
  );
  return estimate.ok ? estimate.homography : null;
}

/** Focal length at which all maps come from square boards, the middle known and pixels square: both constraints of each map are linear in 1/f². */
function startingFocal(maps: readonly (Homography | null)[], [cx, cy]: Point): number | null {
  let a = 0;
  let b = 0;
  for (const map of maps) {
    if (!map) continue;
    const [h0, h1, , h3, h4, , h6, h7] = map as number[];
    const x1 = h0! - cx * h6!;
    const y1 = h3! - cy * h6!;
    const x2 = h1! - cx * h7!;
    const y2 = h4! - cy * h7!;
    const size = Math.hypot(x1, y1, x2, y2);
    for (const [p, q] of [
      [x1 * x2 + y1 * y2, h6! * h7!],
      [(x1 * x1 + y1 * y1 - x2 * x2 - y2 * y2) / 2, (h6! * h6! - h7! * h7!) / 2],
    ] as const) {
      a += (p / size ** 2) ** 2;
      b -= (p * q) / size ** 4;
    }
  }
  const inverse = b / a;
  return inverse > 0 ? 1 / Math.sqrt(inverse) : null;
}

/** Damped least squares with Tukey's weights; slopes by differences, each view's own unknowns touching its own crossings only. */
function fit(
  boards: readonly (readonly ChessboardPoint[])[],
  middle: Point,
  focal: number,
  terms: 1 | 2 | 3,
  start: readonly number[],
): Fitted | null {
  const n = start.length;
  const starts = [0];
  for (const points of boards) starts.push(starts.at(-1)! + 2 * points.length);
  let u = [...start];
  let here = residualsOf(boards, middle, focal, u);
  let scale = spreadOf(here) + FORGIVING;
  const damping = new Damping({ begin: 1e-3, least: 1e-9 });
  const normal = new Float64Array(n * n);
  const damped = new Float64Array(n * n);
  const step = new Float64Array(n);
  if (!here.every(Number.isFinite)) return null;
  const usual = (k: number) => (k === 0 ? USUAL_FOCAL : k < 3 ? USUAL_MIDDLE : k - 3 < terms ? USUAL_K : 1e-9);
  const costOf = (r: Float64Array, unknowns: readonly number[]) => {
    let sum = 0;
    for (const e of r) {
      const q = Math.min(1, (e / (TUKEY * scale)) ** 2);
      sum += ((TUKEY * scale) ** 2 / 3) * (1 - (1 - q) ** 3);
    }
    for (let k = 0; k < SHARED; k++) sum += ((scale * unknowns[k]!) / usual(k)) ** 2;
    return sum;
  };
  let cost = costOf(here, u);
  for (let round = 0; round < ROUNDS; round++) {
    const b = slopes(boards, middle, focal, u, here, starts, scale, normal);
    for (let k = 0; k < SHARED; k++) {
      const w = (scale / usual(k)) ** 2;
      normal[k * n + k]! += w;
      b[k]! -= w * u[k]!;
    }
    let gained = 0;
    damping.untilBetter((share) => {
      dampDiagonal(normal, damped, n, share);
      if (!factorCholesky(damped, n)) return false;
      substitute(damped, b, step, n);
      const next = u.map((v, k) => v + step[k]!);
      const there = residualsOf(boards, middle, focal, next);
      const now = there.every(Number.isFinite) ? costOf(there, next) : Infinity;
      if (!(now < cost)) return false;
      gained = (cost - now) / cost;
      [u, here] = [next, there];
      return true;
    });
    const tighter = spreadOf(here) + FORGIVING * STRICTER ** (round + 1);
    if (gained < SMALLEST_GAIN && Math.abs(tighter - scale) < 0.01 * scale) break;
    scale = tighter;
    cost = costOf(here, u);
  }
  slopes(boards, middle, focal, u, here, starts, scale, normal);
  for (let k = 0; k < SHARED; k++) normal[k * n + k]! += (scale / usual(k)) ** 2;
  if (!factorCholesky(normal, n)) return null;
  const inverse = inverseOfFactor(normal, n);
  const covariance = new Float64Array(SHARED * SHARED);
  for (let r = 0; r < SHARED; r++)
    for (let c = 0; c < SHARED; c++) covariance[r * SHARED + c] = scale * scale * inverse[r * n + c]!;
  return { unknowns: u, residuals: here, cost: costOf(here, u), count: here.length, terms, covariance };
}

/** Fills the normal matrix; returns its right side. */
function slopes(
  boards: readonly (readonly ChessboardPoint[])[],
  middle: Point,
  focal: number,
  u: readonly number[],
  here: Float64Array,
  starts: readonly number[],
  scale: number,
  normal: Float64Array,
): Float64Array {
  const n = u.length;
  const b = new Float64Array(n);
  const row = new Float64Array(SHARED + OWN);
  normal.fill(0);
  boards.forEach((points, v) => {
    const pose = u.slice(SHARED + OWN * v, SHARED + OWN * (v + 1));
    const names = [...Array(SHARED).keys(), ...Array.from({ length: OWN }, (_, k) => SHARED + OWN * v + k)];
    const moved = names.map((name) => {
      const all = u.slice();
      all[name]! += STEP;
      const lens = lensOf(all, middle, focal);
      const own = name < SHARED ? pose : all.slice(SHARED + OWN * v, SHARED + OWN * (v + 1));
      return points.map(({ square }) => filmed(lens, own, square));
    });
    points.forEach(({ at }, i) => {
      for (const axis of [0, 1] as const) {
        const e = here[starts[v]! + 2 * i + axis]!;
        const q = (e / (TUKEY * scale)) ** 2;
        if (q >= 1) continue;
        const w = (1 - q) ** 2;
        for (let k = 0; k < row.length; k++) row[k] = (moved[k]![i]![axis] - at[axis] - e) / STEP;
        for (let r = 0; r < row.length; r++) {
          b[names[r]!]! -= w * row[r]! * e;
          for (let c = 0; c < row.length; c++)
            if (names[c]! <= names[r]!) normal[names[r]! * n + names[c]!]! += w * row[r]! * row[c]!;
        }
      }
    });
  });
  return b;
}

/** What the shared unknowns' covariance makes of the bending at the picture's corners, px; at 95 %. */
function spreadAt(
  u: readonly number[],
  middle: Point,
  focal: number,
  covariance: Float64Array,
  corners: readonly Point[],
): number {
  const here = lensOf(u, middle, focal);
  return (
    1.96 *
    Math.max(
      ...corners.map((p) => {
        const at = bend(here, p);
        const gradient = Array.from({ length: SHARED }, (_, k) => {
          const moved = bend(
            lensOf(
              u.map((v, i) => (i === k ? v + STEP : v)),
              middle,
              focal,
            ),
            p,
          );
          return [(moved[0] - at[0]) / STEP, (moved[1] - at[1]) / STEP] as const;
        });
        let variance = 0;
        for (let r = 0; r < SHARED; r++)
          for (let c = 0; c < SHARED; c++)
            variance +=
              covariance[r * SHARED + c]! * (gradient[r]![0] * gradient[c]![0] + gradient[r]![1] * gradient[c]![1]);
        return Math.sqrt(Math.max(0, variance));
      }),
    )
  );
}

/** Standard deviation of most of the residuals, px; never quite nothing. */
const spreadOf = (r: Float64Array) => Math.max(1e-3, robustDeviation(r));
const rms = (r: Float64Array) => Math.sqrt(r.reduce((sum, e) => sum + e * e, 0) / Math.max(1, r.length / 2));
