import type { Homography, Point } from '../../base/geometry/homography.ts';
import type { LightWindow } from './light-window.ts';
import { patchMemory } from './patch-memory.ts';
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
export function searchPatch(
  patch: Patch,
  map: Homography,
  smear: Point,
  window: LightWindow,
  expected: Point,
  reach: readonly [number, number],
  most: number,
): Candidate[] {
  const scores = correlationMap(patch, map, smear, window, expected, reach);
  return scores ? peaksOf(scores, most) : [];
}

/** Correlations by whole pixels about a place: −1 where nothing can be determined. */
export interface CorrelationMap {
  /** The middle of the pixel about which they lie. */
  readonly middle: Point;
  /** Places to each side, and how far they are apart, px. */
  readonly reach: readonly [number, number];
  readonly step: number;
  readonly scores: Float32Array;
}

/**
 * The correlations of the places within a search box, every `step` px; null where the pattern is too small to tell. Coarser steps look at as much less of
 * the pattern and of the picture.
 */
export function correlationMap(
  patch: Patch,
  map: Homography,
  smear: Point,
  window: LightWindow,
  expected: Point,
  reach: readonly [number, number],
  step = 1,
): CorrelationMap | null {
  const drawn = drawOnPixels(patch, map, smear, SEARCH_SAMPLES, step);
  if (!drawn) return null;
  const n = drawn.light.length;
  const template = drawn.light.map((v) => Math.sqrt(v + DARK));
  const mean = template.reduce((a, b) => a + b, 0) / n;
  const energy = template.reduce((sum, v) => sum + (v - mean) ** 2, 0);
  const cx = Math.floor(expected[0]) - window.left;
  const cy = Math.floor(expected[1]) - window.top;
  const rx = Math.max(1, Math.round(reach[0] / step));
  const ry = Math.max(1, Math.round(reach[1] / step));
  // Of the picture every `step`th sample, so that the middle's is one of them.
  const firstX = ((cx % step) + step) % step;
  const firstY = ((cy % step) + step) % step;
  const width = Math.max(0, Math.ceil((window.width - firstX) / step));
  const height = Math.max(0, Math.ceil((window.height - firstY) / step));
  const across = 2 * rx + 1;
  const down = 2 * ry + 1;
  const scores = new Float32Array(across * down).fill(-1);
  const memory = patchMemory(Math.max(window.data.length, (across + 3) * down));
  const { grid } = memory;
  let total = 0;
  for (let j = 0, k = 0; j < height; j++)
    for (let i = 0; i < width; i++, k++)
      total += grid[k] = Math.sqrt(
        Math.max(0, window.data[(firstY + j * step) * window.width + firstX + i * step]!) + DARK,
      );
  // About their mean, so that single precision is enough for the sums of squares.
  const middle = total / Math.max(1, width * height);
  for (let k = 0; k < width * height; k++) grid[k]! -= middle;
  const dx = drawn.dx.map((v) => v / step);
  const dy = drawn.dy.map((v) => v / step);
  const x0 = Math.floor(cx / step);
  const y0 = Math.floor(cy / step);
  for (let k = 0; k < n; k++) {
    memory.offsets[k] = dy[k]! * width + dx[k]!;
    memory.values[k] = template[k]! - mean;
  }
  // Places at which the whole pattern lies in the window go the fast way, the others one by one.
  const from = (low: number, offsets: readonly number[], r: number) => Math.max(-r, -low - Math.min(...offsets));
  const to = (low: number, size: number, offsets: readonly number[], r: number) =>
    Math.min(r, size - 1 - low - Math.max(...offsets));
  const left = from(x0, dx, rx);
  const top = from(y0, dy, ry);
  const bottom = to(y0, height, dy, ry);
  const wide = Math.max(0, Math.floor((to(x0, width, dx, rx) - left + 1) / 4) * 4);
  const high = Math.max(0, bottom - top + 1);
  if (wide > 0 && high > 0) {
    memory.set.correlateBox(
      { data: grid, width, height },
      memory.offsets,
      memory.values,
      n,
      energy,
      x0 + left,
      y0 + top,
      wide,
      high,
      memory.scores,
    );
    for (let j = 0; j < high; j++)
      scores.set(memory.scores.subarray(j * wide, (j + 1) * wide), (top + j + ry) * across + left + rx);
  }
  for (let j = -ry; j <= ry; j++) {
    for (let i = -rx; i <= rx; i++) {
      if (i >= left && i < left + wide && j >= top && j < top + high) continue;
      let sum = 0;
      let square = 0;
      let cross = 0;
      let seen = 0;
      for (let k = 0; k < n; k++) {
        const x = x0 + i + dx[k]!;
        const y = y0 + j + dy[k]!;
        if (x < 0 || y < 0 || x >= width || y >= height) continue;
        const v = grid[y * width + x]!;
        sum += v;
        square += v * v;
        cross += v * memory.values[k]!;
        seen++;
      }
      // What lies outside the picture is not known: such a place must show three quarters of the pattern.
      if (seen < 0.75 * n) continue;
      const spread = (square - (sum * sum) / seen) * energy;
      scores[(j + ry) * across + i + rx] = spread > 1e-12 ? cross / Math.sqrt(spread) : -1;
    }
  }
  // A pixel's middle is half a pixel from where its offset is counted.
  return { middle: [window.left + cx + 0.5, window.top + cy + 0.5], reach: [rx, ry], step, scores };
}

/** Scores of a map where each place has the best within `radius` places of it: what may be a little off. Separable, as a maximum is. */
export function spread({ reach: [rx, ry], scores }: CorrelationMap, radius: number): Float32Array {
  const across = 2 * rx + 1;
  const down = 2 * ry + 1;
  const rows = new Float32Array(scores.length);
  const out = new Float32Array(scores.length);
  for (let j = 0; j < down; j++)
    for (let i = 0; i < across; i++) {
      let best = -1;
      for (let k = Math.max(0, i - radius); k <= Math.min(across - 1, i + radius); k++)
        best = Math.max(best, scores[j * across + k]!);
      rows[j * across + i] = best;
    }
  for (let j = 0; j < down; j++)
    for (let i = 0; i < across; i++) {
      let best = -1;
      for (let k = Math.max(0, j - radius); k <= Math.min(down - 1, j + radius); k++)
        best = Math.max(best, rows[k * across + i]!);
      out[j * across + i] = best;
    }
  return out;
}

/** The highest places of a map, at least two steps from each other. */
export function peaksOf({ middle, reach: [rx, ry], step, scores: given }: CorrelationMap, most: number): Candidate[] {
  const found: Candidate[] = [];
  const scores = given.slice();
  const across = 2 * rx + 1;
  while (found.length < most) {
    let best = 0;
    let at = -1;
    for (let k = 0; k < scores.length; k++) if (scores[k]! > best) [best, at] = [scores[k]!, k];
    if (at < 0) break;
    const i = at % across;
    const j = Math.floor(at / across);
    found.push({ at: [middle[0] + (i - rx) * step, middle[1] + (j - ry) * step], correlation: best });
    for (let y = Math.max(0, j - 2); y <= Math.min(2 * ry, j + 2); y++)
      for (let x = Math.max(0, i - 2); x <= Math.min(2 * rx, i + 2); x++) scores[y * across + x] = -1;
  }
  return found;
}
