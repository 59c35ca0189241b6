import { quantileOfMagnitudes } from '../image/statistics.ts';

/** Noise never counts as smaller than this (one code of 8 bits, about). */
const SMALLEST_SCALE = 0.003;

/** 1.4826 times the median magnitude of residuals: their standard deviation, if they were gaussian. */
export function residualScale(residual: Float32Array, count: number): number {
  return Math.max(SMALLEST_SCALE, 1.4826 * quantileOfMagnitudes(residual, count, 0.5, 1));
}

/** Huber's weight with k = 1.345 (95 % efficient on gaussian noise). */
export function huberWeight(residual: number, scale: number): number {
  const r = Math.abs(residual) / scale;
  return r <= 1.345 ? 1 : 1.345 / r;
}

/**
 * Tukey's biweight with c = 4.685 (95 % efficient): zero for gross errors, so that what covers the
 * surface has no say. Source: P. Huber, E. Ronchetti, Robust Statistics, 2nd ed. 2009, §4.8.
 */
export function tukeyWeight(residual: number, scale: number): number {
  const r = residual / (4.685 * scale);
  const t = 1 - r * r;
  return t <= 0 ? 0 : t * t;
}
