/** The p-quantile (0…1) of numbers, by linear interpolation between order statistics; NaN when there are none. */
export function quantile(values: ArrayLike<number>, p: number): number {
  const sorted = Float64Array.from(values).sort();
  if (sorted.length === 0) return NaN;
  const position = Math.min(1, Math.max(0, p)) * (sorted.length - 1);
  const index = Math.floor(position);
  const from = sorted[index]!;
  return from + (sorted[Math.min(sorted.length - 1, index + 1)]! - from) * (position - index);
}

export function median(values: ArrayLike<number>): number {
  return quantile(values, 0.5);
}

export function mean(values: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i]!;
  return sum / values.length;
}

/**
 * The p-quantile of the first `count` magnitudes |values|, from a histogram of 2048 bins: for the hot
 * loop, exact to 1/2048 of the greatest magnitude's range. 0 when count is 0.
 */
export function quantileOfMagnitudes(values: Float32Array, count: number, p: number, ceiling: number): number {
  histogram.fill(0);
  const scale = HISTOGRAM_BINS / ceiling;
  for (let i = 0; i < count; i++) {
    const bin = (Math.abs(values[i]!) * scale) | 0;
    histogram[bin < HISTOGRAM_BINS ? bin : HISTOGRAM_BINS - 1]!++;
  }
  const wanted = count * p;
  let seen = 0;
  for (let bin = 0; bin < HISTOGRAM_BINS; bin++) {
    const next = seen + histogram[bin]!;
    if (next >= wanted) return count === 0 ? 0 : (bin + (wanted - seen) / Math.max(1, histogram[bin]!)) / scale;
    seen = next;
  }
  return ceiling;
}
const HISTOGRAM_BINS = 2048;
const histogram = new Uint32Array(HISTOGRAM_BINS);
