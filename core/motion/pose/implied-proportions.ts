import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { compose, translation } from '../../base/geometry/homography.ts';
import { UNIT_SQUARE, type Quad } from '../../base/geometry/quad.ts';

/** Proportions that devices have: the longer side over the shorter. */
export const KNOWN_PROPORTIONS = [
  { name: '16:9', ratio: 16 / 9 },
  { name: '16:10', ratio: 1.6 },
  { name: '4:3', ratio: 4 / 3 },
  { name: '3:2', ratio: 1.5 },
  { name: '18:9', ratio: 2 },
  { name: '19.5:9', ratio: 19.5 / 9 },
  { name: '20:9', ratio: 20 / 9 },
  { name: '21:9', ratio: 21 / 9 },
] as const;

export interface Implied {
  /** Width over height of the surface. */
  readonly ratio: number;
  /** Focal length, px. */
  readonly focal: number;
  /** One standard deviation of the ratio over the frames, relative. */
  readonly spread: number;
}

/** Focal lengths that are tried, in longer sides of the picture. */
const SHORTEST = 0.35;
const LONGEST = 8;
const STEPS = 160;

/**
 * What proportions a surface must have for its corners to be those of one rectangle, seen by one camera that looks through the middle of
 * the picture: of all focal lengths the one at which the sides are most nearly at right angles and their ratio most nearly the same on
 * all frames. Null where no frame shows a quad.
 *
 * Source: Z. Zhang, L.-W. He, Whiteboard scanning and image enhancement, Digital Signal Processing 17(2), 2007, §3 (a rectangle's ratio
 * from its picture: h₁ᵀωh₂ = 0, ratio² = h₁ᵀωh₁ / h₂ᵀωh₂), over many frames.
 */
export function impliedProportions(quads: readonly Quad[], width: number, height: number): Implied | null {
  const columns = quads.flatMap((quad) => {
    const h = homographyBetweenQuads(UNIT_SQUARE, quad);
    if (!h) return [];
    const m = compose(translation(-width / 2, -height / 2), h);
    return [{ first: [m[0]!, m[3]!, m[6]!] as const, second: [m[1]!, m[4]!, m[7]!] as const }];
  });
  if (columns.length === 0) return null;
  const unit = Math.max(width, height);
  let best: (Implied & { cost: number }) | null = null;
  for (let k = 0; k <= STEPS; k++) {
    const focal = unit * SHORTEST * (LONGEST / SHORTEST) ** (k / STEPS);
    const f2 = focal * focal;
    let skew = 0;
    const logs = columns.map(({ first: [a, b, c], second: [d, e, f] }) => {
      const aa = (a * a + b * b) / f2 + c * c;
      const dd = (d * d + e * e) / f2 + f * f;
      const ad = (a * d + b * e) / f2 + c * f;
      skew += (ad * ad) / (aa * dd);
      return 0.5 * Math.log(aa / dd);
    });
    const middle = logs.reduce((s, v) => s + v, 0) / logs.length;
    const variance = logs.reduce((s, v) => s + (v - middle) ** 2, 0) / logs.length;
    const cost = skew / logs.length + variance;
    if (!best || cost < best.cost) best = { ratio: Math.exp(middle), focal, spread: Math.sqrt(variance), cost };
  }
  return best && { ratio: best.ratio, focal: best.focal, spread: best.spread };
}

/** The known proportions next to a ratio, standing or lying, with how far off it is (relative, signed). */
export function nearestProportions(ratio: number): { name: string; ratio: number; mismatch: number } {
  const upright = ratio < 1;
  const long = upright ? 1 / ratio : ratio;
  const nearest = KNOWN_PROPORTIONS.reduce((a, b) =>
    Math.abs(Math.log(long / a.ratio)) <= Math.abs(Math.log(long / b.ratio)) ? a : b,
  );
  const known = upright ? 1 / nearest.ratio : nearest.ratio;
  return {
    name: upright ? nearest.name.split(':').reverse().join(':') : nearest.name,
    ratio: known,
    mismatch: ratio / known - 1,
  };
}
