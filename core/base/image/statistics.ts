import quickselect from 'quickselect';
import { clamp } from '../geometry/clamp.ts';

/** A copy of numbers, among which there is the k-th, with the (k + 1)-th smallest at place k, none greater before it and none smaller behind. NaN counts as the greatest. */
function selected(values: ArrayLike<number>, k: number): ArrayLike<number> {
  const copy = new Array<number>(values.length);
  for (let i = 0; i < copy.length; i++) {
    const value = values[i]!;
    // It has no place in comparisons; a typed array's own sort puts it last.
    if (Number.isNaN(value)) return Float64Array.from(values).sort();
    copy[i] = value;
  }
  quickselect(copy, k);
  return copy;
}

/** The p-quantile (0…1) of numbers, by linear interpolation between order statistics; NaN when there are none. */
export function quantile(values: ArrayLike<number>, p: number): number {
  if (values.length === 0) return NaN;
  const position = clamp(p, 0, 1) * (values.length - 1);
  const index = Math.floor(position);
  const parted = selected(values, index);
  const from = parted[index]!;
  if (position === index) return from;
  let next = parted[index + 1]!;
  for (let i = index + 2; i < parted.length; i++) if (parted[i]! < next) next = parted[i]!;
  return from + (next - from) * (position - index);
}

export function median(values: ArrayLike<number>): number {
  return quantile(values, 0.5);
}

/** The value of which a share p (0…1) of all is not greater, without interpolation: of an even count's two middle values the upper; NaN when there are none. */
export function orderStatistic(values: ArrayLike<number>, p: number): number {
  if (values.length === 0) return NaN;
  const index = Math.min(values.length - 1, Math.floor(p * values.length));
  return selected(values, index)[index]!;
}

/** The value that lies nearest to the p-quantile (0…1) among those that are there; NaN when there are none. */
export function nearestRank(values: ArrayLike<number>, p: number): number {
  if (values.length === 0) return NaN;
  const index = Math.round(p * (values.length - 1));
  return selected(values, index)[index]!;
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
  const magnitudes = new Float64Array(residuals.length);
  for (let i = 0; i < magnitudes.length; i++) magnitudes[i] = Math.abs(residuals[i]!);
  return MAD_TO_DEVIATION * median(magnitudes);
}
