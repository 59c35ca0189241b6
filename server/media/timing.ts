import { clamp } from '../../core/base/geometry/clamp.ts';
import { decimalRate } from '../../core/base/time/frame-rate.ts';

/** How the frames of a clip lie in time. */
export interface Timing {
  rate: [number, number];
  frames: number;
  /** For each output frame the input frame that it shows; null when the rate is constant as it is. */
  plan: number[] | null;
  doubled: number;
  dropped: number;
  notes: string[];
}

const COMMON_RATES: readonly [number, number][] = [
  [24000, 1001],
  [24, 1],
  [25, 1],
  [30000, 1001],
  [30, 1],
  [48, 1],
  [50, 1],
  [60000, 1001],
  [60, 1],
  [100, 1],
  [120, 1],
];
const FASTEST = 1000;

/** Longest plan that is made: a file may state times that are years apart. */
export const MOST_FRAMES = 500_000;

/**
 * Finds a clip's exact rate from its frames' times.
 *
 * @param times presentation times in ticks of `base` seconds, in any order
 * @param stated the rate that the container states, if any
 *
 * The rate is constant when every frame lies within a tick (or a thousandth of a second, to which some containers
 * round) of an even grid. Otherwise it is made constant: the common rate next to the median step is taken, and output
 * frame n shows the last input frame whose time, rounded to the grid, is not later. That doubles frames where
 * the clip pauses and drops them where two fall on one place.
 */
export function timingOf(
  times: readonly number[],
  base: [number, number],
  stated: [number, number] | null,
  given?: [number, number],
): Timing {
  const sorted = [...times].sort((a, b) => a - b);
  const constant = (rate: [number, number], notes: string[] = []): Timing => ({
    rate,
    frames: sorted.length,
    plan: null,
    doubled: 0,
    dropped: 0,
    notes,
  });
  if (sorted.length < 2) return constant(given ?? stated ?? [25, 1]);
  const tick = base[0] / base[1];
  const seconds = (index: number) => (sorted[index]! - sorted[0]!) * tick;
  const mean = seconds(sorted.length - 1) / (sorted.length - 1);
  const slack = Math.max(1.01 * tick, 0.00101);
  const even = (rate: [number, number]) =>
    sorted.every((_, i) => Math.abs(seconds(i) - (i * rate[1]) / rate[0]) <= slack);
  for (const rate of [stated, nearestRate(mean > 0 ? 1 / mean : 0, 0.0005)]) {
    if (rate && rate[0] / rate[1] <= FASTEST && even(rate)) return constant(given ?? rate);
  }
  const steps = sorted
    .slice(1)
    .map((_, i) => seconds(i + 1) - seconds(i))
    .filter((step) => step > 0)
    .sort((a, b) => a - b);
  const step = steps[steps.length >> 1] ?? 0;
  const exact: [number, number] = [base[1], Math.round(step / tick) * base[0]];
  // All steps alike, only at no common rate: the ticks themselves are the rate.
  if (step > 0 && exact[1] > 0 && even(exact)) return constant(given ?? reduced(exact));
  const rate =
    given ??
    nearestRate(step > 0 ? 1 / step : 0, 0.02) ??
    (step > 0 ? ([clamp(Math.round(1 / step), 1, FASTEST), 1] as [number, number]) : (stated ?? [25, 1]));
  return madeConstant(
    sorted.map((_, i) => seconds(i)),
    rate,
  );
}

function madeConstant(seconds: readonly number[], rate: [number, number]): Timing {
  const places = seconds.map((s) => Math.round((s * rate[0]) / rate[1]));
  const length = Math.min(MOST_FRAMES, places.at(-1)! + 1);
  const plan: number[] = [];
  for (let n = 0, input = 0; n < length; n++) {
    while (input + 1 < places.length && places[input + 1]! <= n) input++;
    plan.push(input);
  }
  const shown = new Set(plan);
  const dropped = seconds.length - shown.size;
  const doubled = plan.length - shown.size;
  const words =
    [doubled > 0 ? `${doubled} doubled` : '', dropped > 0 ? `${dropped} dropped` : ''].filter(Boolean).join(', ') ||
    'none doubled or dropped';
  return {
    rate,
    frames: plan.length,
    plan,
    doubled,
    dropped,
    notes: [`the rate varies: made constant at ${decimalRate(rate)}, each frame shown from its own time on; ${words}`],
  };
}

function nearestRate(perSecond: number, tolerance: number): [number, number] | null {
  const near = COMMON_RATES.map((rate) => ({ rate, off: Math.abs(rate[0] / rate[1] / perSecond - 1) })).sort(
    (a, b) => a.off - b.off,
  )[0];
  return near && near.off < tolerance ? [...near.rate] : null;
}

function reduced([n, d]: [number, number]): [number, number] {
  let [a, b] = [n, d];
  while (b !== 0) [a, b] = [b, a % b];
  return [n / a, d / a];
}
