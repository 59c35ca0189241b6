import { median } from '../../base/image/statistics.ts';
import { luminanceOf, type PlaneCells } from './plane-cells.ts';

/** Stops by which a frame is brighter than the one it is compared with, and how many of the places agree. */
export interface StopsFound {
  readonly stops: number;
  /** Share of the places that were compared within `AGREE` of it. */
  readonly agree: number;
  readonly places: number;
}

/** Places darker than this, or brighter, tell no exposure: noise, and clipping. Light. */
const DARK = 0.003;
const BRIGHT = 0.92;
const FEWEST = 24;
/** Half the width of the window in which most places must lie, stops. */
const WINDOW = 0.06;
const AGREE = 0.1;
const STEP = 0.01;

/**
 * How much brighter one frame is than another by places of the plane: the ratio on which most of them agree. Where something else is seen there
 * than before (what lies behind the surface shifts, something crosses) ratios are spread widely, and have no say.
 */
export function stopsBetween(
  cells: PlaneCells,
  from: Float32Array,
  to: Float32Array,
  inside: 0 | 1,
): StopsFound | null {
  const ratios: number[] = [];
  for (let i = 0; i < cells.u.length; i++) {
    if (cells.inside[i] !== inside) continue;
    const a = luminanceOf(from, i);
    const b = luminanceOf(to, i);
    if (a < DARK || b < DARK * 0.05 || a > BRIGHT || b > BRIGHT) continue;
    ratios.push(Math.log2(b / a));
  }
  if (ratios.length < FEWEST) return null;
  ratios.sort((a, b) => a - b);
  let best = median(ratios);
  let most = -1;
  // Of all windows the one with the most ratios in it, then the mean of those.
  for (let at = ratios[0]!, low = 0, high = 0; at <= ratios.at(-1)! + STEP; at += STEP) {
    while (low < ratios.length && ratios[low]! < at - WINDOW) low++;
    while (high < ratios.length && ratios[high]! <= at + WINDOW) high++;
    if (high - low > most) [best, most] = [at, high - low];
  }
  const near = ratios.filter((r) => Math.abs(r - best) <= WINDOW * 1.5);
  const stops = near.reduce((s, r) => s + r, 0) / near.length;
  return {
    stops,
    agree: ratios.filter((r) => Math.abs(r - stops) <= AGREE).length / ratios.length,
    places: ratios.length,
  };
}

/** Single frames that stand out from both neighbours are taken for the middle of the three. */
export function withoutSpikes(values: readonly number[]): number[] {
  return values.map((v, i) => (i === 0 || i === values.length - 1 ? v : median([values[i - 1]!, v, values[i + 1]!])));
}

/** The fewest keys between which straight lines stay within `tolerance` of values at frames (U. Ramer, 1972; D. Douglas, T. Peucker, 1973). */
export function sparseKeys(
  points: readonly (readonly [frame: number, value: number])[],
  tolerance: number,
): [number, number][] {
  if (points.length < 3) return points.map(([f, v]) => [f, v]);
  const keep = new Set([0, points.length - 1]);
  const spans: [number, number][] = [[0, points.length - 1]];
  for (let span = spans.pop(); span; span = spans.pop()) {
    const [a, b] = span;
    const [fa, va] = points[a]!;
    const [fb, vb] = points[b]!;
    let worst = -1;
    let far = tolerance;
    for (let i = a + 1; i < b; i++) {
      const [f, v] = points[i]!;
      const off = Math.abs(v - (va + ((f - fa) / (fb - fa)) * (vb - va)));
      if (off > far) [worst, far] = [i, off];
    }
    if (worst < 0) continue;
    keep.add(worst);
    spans.push([a, worst], [worst, b]);
  }
  return [...keep].sort((a, b) => a - b).map((i) => [points[i]![0], points[i]![1]]);
}
