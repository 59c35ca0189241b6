import type { Homography, Point } from '../geometry/homography.ts';
import type { LightWindow } from './light-window.ts';
import { drawOnPixels, type Patch } from './patch.ts';

/** A place that resembles a pattern. */
export interface Candidate {
  readonly at: Point;
  /** Zero-mean normalised cross-correlation, −1…1. */
  readonly correlation: number;
}

/** Samples of a pattern that a search looks at. */
const SEARCH_SAMPLES = 220;
const DARK = 0.005;

/**
 * Places within a search box (half sizes, px) about `expected` that resemble a pattern, to the whole pixel, the best first, at most `most`, each at least
 * two px from the others. Roots of light are compared: noise is about even in them.
 *
 * Source: J. P. Lewis, Fast normalized cross-correlation, 1995 (the definition; here summed directly, patterns being small).
 */
export function searchPatch(patch: Patch, map: Homography, smear: Point, window: LightWindow, expected: Point, reach: readonly [number, number], most: number): Candidate[] {
  const scores = correlationMap(patch, map, smear, window, expected, reach);
  return scores ? peaksOf(scores, most) : [];
}

/** Correlations by whole pixels about a place: −1 where nothing can be told. */
export interface CorrelationMap {
  /** The middle of the pixel about which they lie. */
  readonly middle: Point;
  readonly reach: readonly [number, number];
  readonly scores: Float32Array;
}

/** The correlations of all places within a search box; null where the pattern is too small to tell. */
export function correlationMap(patch: Patch, map: Homography, smear: Point, window: LightWindow, expected: Point, reach: readonly [number, number]): CorrelationMap | null {
  const drawn = drawOnPixels(patch, map, smear, SEARCH_SAMPLES);
  if (!drawn) return null;
  const { dx, dy } = drawn, n = dx.length, template = drawn.light.map((v) => Math.sqrt(v + DARK)), mean = template.reduce((a, b) => a + b, 0) / n;
  let energy = 0;
  for (let k = 0; k < n; k++) energy += (template[k]! - mean) ** 2;
  const roots = new Float32Array(window.data.length);
  for (let i = 0; i < roots.length; i++) roots[i] = Math.sqrt(window.data[i]! + DARK);
  const cx = Math.floor(expected[0]) - window.left, cy = Math.floor(expected[1]) - window.top, rx = Math.max(1, Math.round(reach[0])), ry = Math.max(1, Math.round(reach[1]));
  const across = 2 * rx + 1, scores = new Float32Array(across * (2 * ry + 1)).fill(-1);
  for (let j = -ry; j <= ry; j++) {
    for (let i = -rx; i <= rx; i++) {
      let sum = 0, square = 0, cross = 0, seen = 0;
      for (let k = 0; k < n; k++) {
        const x = cx + i + dx[k]!, y = cy + j + dy[k]!;
        if (x < 0 || y < 0 || x >= window.width || y >= window.height) continue;
        const v = roots[y * window.width + x]!;
        sum += v;
        square += v * v;
        cross += v * (template[k]! - mean);
        seen++;
      }
      // What lies outside the picture is not known: such a place must show three quarters of the pattern.
      if (seen < 0.75 * n) continue;
      const spread = (square - (sum * sum) / seen) * energy;
      scores[(j + ry) * across + i + rx] = spread > 1e-14 ? cross / Math.sqrt(spread) : -1;
    }
  }
  // A pixel's middle is half a pixel from where its offset is counted.
  return { middle: [window.left + cx + 0.5, window.top + cy + 0.5], reach: [rx, ry], scores };
}

/** The highest places of a map, at least two px from each other. */
export function peaksOf({ middle, reach: [rx, ry], scores: given }: CorrelationMap, most: number): Candidate[] {
  const found: Candidate[] = [], scores = given.slice(), across = 2 * rx + 1;
  while (found.length < most) {
    let best = 0, at = -1;
    for (let k = 0; k < scores.length; k++) if (scores[k]! > best) [best, at] = [scores[k]!, k];
    if (at < 0) break;
    const i = at % across, j = Math.floor(at / across);
    found.push({ at: [middle[0] + i - rx, middle[1] + j - ry], correlation: best });
    for (let y = Math.max(0, j - 2); y <= Math.min(2 * ry, j + 2); y++) for (let x = Math.max(0, i - 2); x <= Math.min(2 * rx, i + 2); x++) scores[y * across + x] = -1;
  }
  return found;
}
