import { IDENTITY } from '../../base/geometry/homography.ts';
import { drawPatch, type Patch } from './patch.ts';

/** What a pattern can hold on to: a place, only the place across one edge, or nothing. */
export type Hold = 'corner' | 'edge' | 'flat';

export interface CornerQuality {
  readonly hold: Hold;
  /** Standard deviations of the place that an ordinary frame's noise would leave, px: in the best and in the worst direction. */
  readonly best: number;
  readonly worst: number;
  /** The direction in which it can slide, radians from x towards y. */
  readonly along: number;
}

const DARK = 0.005;
/** Noise of an ordinary plate in roots of light; neighbouring samples that repeat each other count as one. */
const NOISE = 0.011;
const CORRELATED = 3.4;
/** What noise leaves open by more than this, px, is not held; and a direction that is so many times worse than the other is an edge's. */
const HELD_TO = 0.35;
const SLIDES = 9;

/**
 * Tells, before anything is followed, how well a pattern fixes its point: the structure tensor of its light, as the covariance that noise would leave.
 * Source: W. Förstner, E. Gülch, A fast operator for detection and precise location of distinct points, corners and centres of circular features, 1987.
 */
export function cornerQuality(patch: Patch): CornerQuality {
  const drawn = drawPatch(patch, IDENTITY, [0, 0])!;
  let xx = 0;
  let xy = 0;
  let yy = 0;
  for (let i = 0; i < drawn.count; i++) {
    const root = 1 / (2 * Math.sqrt(Math.max(0, drawn.light[i]!) + DARK));
    const gx = root * drawn.dx[i]!;
    const gy = root * drawn.dy[i]!;
    if (drawn.known[i] === 0) continue;
    xx += gx * gx;
    xy += gx * gy;
    yy += gy * gy;
  }
  const middle = (xx + yy) / 2;
  const apart = Math.hypot((xx - yy) / 2, xy);
  const sd = (energy: number) => NOISE * Math.sqrt(CORRELATED / Math.max(1e-12, energy));
  // Noise has slopes of its own, which hold nothing.
  const noise = patch.xs.length * (0.25 * NOISE) ** 2;
  const best = sd(middle + apart - noise);
  const worst = sd(middle - apart - noise);
  return {
    hold: best > HELD_TO ? 'flat' : worst > HELD_TO || worst > SLIDES * best ? 'edge' : 'corner',
    best,
    worst,
    along: 0.5 * Math.atan2(2 * xy, xx - yy) + Math.PI / 2,
  };
}
