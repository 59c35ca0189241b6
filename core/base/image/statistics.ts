import { clamp } from '../geometry/clamp.ts';

/** The p-quantile (0…1) of numbers, by linear interpolation between order statistics; NaN when there are none. */
export function quantile(values: ArrayLike<number>, p: number): number {
  const sorted = Float64Array.from(values).sort();
  if (sorted.length === 0) return NaN;
  const position = clamp(p, 0, 1) * (sorted.length - 1);
  const index = Math.floor(position);
  const from = sorted[index]!;
  return from + (sorted[Math.min(sorted.length - 1, index + 1)]! - from) * (position - index);
}

export function median(values: ArrayLike<number>): number {
  return quantile(values, 0.5);
}

/** The value of which a share p (0…1) of all is not greater, without interpolation: of an even count's two middle values the upper; NaN when there are none. */
export function orderStatistic(values: ArrayLike<number>, p: number): number {
  const sorted = Float64Array.from(values).sort();
  return sorted[Math.min(sorted.length - 1, Math.floor(p * sorted.length))] ?? NaN;
}

export function upperMedian(values: ArrayLike<number>): number {
  return orderStatistic(values, 0.5);
}

export function mean(values: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i]!;
  return sum / values.length;
}

/** Median magnitude to standard deviation, for gaussian residuals: 1/Φ⁻¹(3/4). Source: P. J. Huber, Robust Statistics, §5.1 (from memory of the book). */
export const MAD_TO_DEVIATION = 1.4826;

/** The standard deviation of residuals about zero by their median magnitude (MAD), which outliers do not move; NaN when there are none. */
export function robustDeviation(residuals: ArrayLike<number>): number {
  return MAD_TO_DEVIATION * median(Float64Array.from(residuals, Math.abs));
}
