import { clamp } from '../../base/geometry/clamp.ts';
import type { FitQuality } from './fit-quality.ts';

/** Under this confidence a frame counts as lost. */
export const LOST_BELOW = 0.12;
/** Under this one the starting points are doubted and the wider neighbourhood is searched. */
export const DOUBT_BELOW = 0.55;
/** Above this one nothing better is looked for. */
export const SURE = 0.8;
/** A bound of so many px halves the confidence. */
const HALF_AT = 6.4;

function ramp(v: number, from: number, to: number): number {
  return clamp((v - from) / (to - from), 0, 1);
}

/**
 * Whether what is seen is the surface at all, 0…1: it must resemble the reference, its detail must agree, enough of it
 * must be inside the picture, and its residuals (`noiseRatio` times the usual) must not be wild. A third covered still counts as whole.
 */
export function trustOf(fit: FitQuality, noiseRatio: number): number {
  return (
    ramp(1 / noiseRatio, 1 / 8, 1 / 3) *
    ramp(fit.correlation, 0.2, 0.7) *
    ramp(fit.detail, 0.15, 0.5) *
    ramp(fit.visibility, 0.04, 0.2)
  );
}

/**
 * A single number 0…1 from trust and the bound (px) at the region's corners: trust / (1 + (bound / 6.4 px)²). 0.3 is
 * where a person should look, 0.12 where the follower lets go.
 */
export function confidenceOf(trust: number, bound: number): number {
  return Number.isFinite(bound) ? trust / (1 + (bound / HALF_AT) ** 2) : 0;
}

/** The trust that a confidence came from, beside its bound (px). */
export function trustBehind(confidence: number, bound: number): number {
  return Math.min(1, confidence * (1 + (bound / HALF_AT) ** 2));
}
