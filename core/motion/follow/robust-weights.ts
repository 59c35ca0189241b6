import { clamp } from '../../base/geometry/clamp.ts';
import { MAD_TO_DEVIATION } from '../../base/image/statistics.ts';
import { OFFSET_BIN, RESIDUAL_BIN, RESIDUAL_BINS } from '../../base/kernels/index.ts';

/** Noise never counts as smaller than this (one code of 8 bits, about). */
const SMALLEST_SCALE = 0.003;

/** 1.4826 times the median magnitude of counted residuals: their standard deviation, if they were gaussian. */
export function scaleFromHistogram(histogram: Uint32Array, count: number): number {
  return Math.max(SMALLEST_SCALE, MAD_TO_DEVIATION * quantileFromHistogram(histogram, count, 0.5));
}

/** Pieces are never taken to follow the common motion better than this, or worse, samples. */
const LEAST_TOLERANCE = 0.04;
const MOST_TOLERANCE = 0.6;
/** Used when too little of the template is steep. */
const USUAL_TOLERANCE = 0.15;

/** How far off the common motion steep places seem to be, samples: 1.4826 times the median of residual over slope. */
export function toleranceFromHistogram(histogram: Uint32Array): number {
  const steep = histogram.subarray(RESIDUAL_BINS, 2 * RESIDUAL_BINS);
  let count = 0;
  for (let bin = 0; bin < RESIDUAL_BINS; bin++) count += steep[bin]!;
  if (count < 60) return USUAL_TOLERANCE;
  return clamp(MAD_TO_DEVIATION * quantileOfBins(steep, OFFSET_BIN, count, 0.5), LEAST_TOLERANCE, MOST_TOLERANCE);
}

/** The p-quantile (0…1) of residual magnitudes; 0 when there are none. */
export function quantileFromHistogram(histogram: Uint32Array, count: number, p: number): number {
  return quantileOfBins(histogram, RESIDUAL_BIN, count, p);
}

function quantileOfBins(bins: Uint32Array, width: number, count: number, p: number): number {
  const wanted = count * p;
  let seen = 0;
  for (let bin = 0; bin < RESIDUAL_BINS && count > 0; bin++) {
    const here = bins[bin]!;
    if (seen + here >= wanted) return (bin + (wanted - seen) / Math.max(1, here)) * width;
    seen += here;
  }
  return count > 0 ? RESIDUAL_BINS * width : 0;
}

/**
 * Tukey's biweight with c = 4.685 (95 % efficient): zero for gross errors, so that what covers the
 * surface has no say. Source: P. Huber, E. Ronchetti, Robust Statistics, 2nd ed. 2009, §4.8; likewise
 * Huber's weight with k = 1.345, both in the kernels.
 */
export function tukeyWeight(residual: number, scale: number): number {
  const r = residual / (4.685 * scale);
  const t = 1 - r * r;
  return t <= 0 ? 0 : t * t;
}
