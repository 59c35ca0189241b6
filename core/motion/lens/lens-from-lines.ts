import { clamp } from '../../base/geometry/clamp.ts';
import { MAD_TO_DEVIATION, upperMedian } from '../../base/image/statistics.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { solveCholesky } from '../../base/geometry/linear-solve.ts';
import { straighten, type Lens } from './lens.ts';

export interface LinesFit {
  readonly lens: Lens;
  /** Root mean square distance of the points from their lines once straightened, px; and before. */
  readonly rms: number;
  readonly before: number;
  /** Standard deviation of k1 as the points leave it. */
  readonly spread: number;
}

const ROUNDS = 30;
const FEWEST = 4;
const STEP = 1e-5;
const TUKEY = 4.685;
/** What lenses have: where lines tell nothing (all through the middle), this holds it. */
const USUAL = 0.5;

/**
 * The radial distortion with which points that lie on straight lines in the world do so in the straightened picture. `terms` of it are looked for; centre
 * and focal length (its unit) are given. Null where there are too few points.
 * Source: F. Devernay, O. Faugeras, Straight lines have to be straight, Machine Vision and Applications 13, 2001.
 */
export function lensFromLines(
  lines: readonly (readonly Point[])[],
  centre: Point,
  focal: number,
  terms: 1 | 2 = 1,
): LinesFit | null {
  const used = lines.filter((line) => line.length >= FEWEST);
  if (used.reduce((n, line) => n + line.length - 2, 0) < terms + 4) return null;
  const lensAt = (k: ArrayLike<number>): Lens => ({ k1: k[0]!, k2: terms > 1 ? k[1]! : 0, k3: 0, centre, focal });
  const residuals = (k: ArrayLike<number>) =>
    used.flatMap((line) => offLine(line.map((p) => straighten(lensAt(k), p))));
  let k = new Float64Array(terms);
  let here = residuals(k);
  const before = rms(here);
  let spread = Infinity;
  for (let round = 0; round < ROUNDS; round++) {
    const scale = Math.max(1e-3, MAD_TO_DEVIATION * upperMedian(here.map(Math.abs)));
    const a = new Float64Array(terms * terms);
    const b = new Float64Array(terms);
    const step = new Float64Array(terms);
    const slopes = Array.from(k, (_, t) => {
      const moved = k.slice();
      moved[t]! += STEP;
      return residuals(moved).map((v, i) => (v - here[i]!) / STEP);
    });
    here.forEach((e, i) => {
      const q = (e / (TUKEY * scale)) ** 2;
      if (q >= 1) return;
      const w = (1 - q) ** 2;
      for (let r = 0; r < terms; r++) {
        b[r]! -= w * slopes[r]![i]! * e;
        for (let c = 0; c <= r; c++) a[r * terms + c]! += w * slopes[r]![i]! * slopes[c]![i]!;
      }
    });
    for (let t = 0; t < terms; t++) {
      a[t * (terms + 1)]! += (scale / USUAL) ** 2;
      b[t]! -= (scale / USUAL) ** 2 * k[t]!;
    }
    spread = scale / Math.sqrt(a[0]!);
    if (!solveCholesky(a, b, step, terms)) break;
    const next = k.map((v, t) => clamp(v + step[t]!, -0.6, 0.6));
    const there = residuals(next);
    if (!there.every(Number.isFinite)) break;
    const moved = Math.hypot(...next.map((v, t) => v - k[t]!));
    k = next;
    here = there;
    if (moved < 1e-8) break;
  }
  return { lens: lensAt(k), rms: rms(here), before, spread };
}

/** Signed distances of points from their own line of least squares. */
function offLine(points: readonly Point[]): number[] {
  const n = points.length;
  const cx = points.reduce((s, p) => s + p[0], 0) / n;
  const cy = points.reduce((s, p) => s + p[1], 0) / n;
  let xx = 0;
  let xy = 0;
  let yy = 0;
  for (const [x, y] of points) {
    xx += (x - cx) ** 2;
    xy += (x - cx) * (y - cy);
    yy += (y - cy) ** 2;
  }
  const angle = 0.5 * Math.atan2(2 * xy, xx - yy);
  const nx = -Math.sin(angle);
  const ny = Math.cos(angle);
  return points.map(([x, y]) => nx * (x - cx) + ny * (y - cy));
}

const rms = (v: readonly number[]) => Math.sqrt(v.reduce((s, e) => s + e * e, 0) / Math.max(1, v.length));
