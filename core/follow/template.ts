import { compose, invert, scaling, translation, type Homography, type Point } from '../geometry/homography.ts';
import { buildPyramid } from '../image/pyramid.ts';
import { quantile } from '../image/statistics.ts';
import type { Plane } from '../image/plane.ts';
import { kernels, type GradientPlane } from '../kernels/index.ts';

/** The chosen points of one pyramid level of the reference frame, in that level's sample indices. */
export interface TemplateLevel {
  readonly level: number;
  readonly plane: GradientPlane;
  readonly mask: Uint8Array;
  readonly count: number;
  readonly xs: Float32Array;
  readonly ys: Float32Array;
  /** Gradients beyond this size count as this size, so that a few hard edges do not decide alone. */
  readonly gradientCap: number;
  /** Level indices to coordinates of about −1…1 over the region, and back. */
  readonly toUnit: Homography;
  readonly fromUnit: Homography;
  /** Corners of the chosen points' bounding box, in level indices. */
  readonly box: readonly Point[];
}

export interface Template {
  readonly width: number;
  readonly height: number;
  readonly levels: readonly TemplateLevel[];
}

export interface TemplateOptions {
  /** Points at the finest level, and at each coarser one. */
  finestBudget: number;
  coarseBudget: number;
  maxLevels: number;
}

export const DEFAULT_TEMPLATE_OPTIONS: TemplateOptions = { finestBudget: 30_000, coarseBudget: 10_000, maxLevels: 5 };

/** Side of the squares over which points are spread, in reference pixels. */
const BUCKET = 40;
/** The share of each square's points that is taken whatever their strength. */
const BUCKET_SHARE = 0.15;
/** The coarsest level still shows the region's shorter side with this many samples. */
const COARSEST_SIDE = 20;

/** Why a region can't be followed. */
export type TemplateFault = 'empty' | 'too-small';

/** Maps continuous pixels of the full picture to sample indices of a level. */
export function toLevel(level: number): Homography {
  const s = 1 / 2 ** level;
  return [s, 0, -0.5 * s, 0, s, -0.5 * s, 0, 0, 1];
}

/** A map between full pictures as a map between the sample indices of two pictures' level. */
export function homographyAtLevel(h: Homography, level: number): Homography {
  return compose(toLevel(level), h, invert(toLevel(level))!);
}

export function homographyFromLevel(h: Homography, level: number): Homography {
  return compose(invert(toLevel(level))!, h, toLevel(level));
}

/**
 * Chooses what to look at: on each level the strongest gradients inside the mask, spread over squares
 * so that no part of the region is left out.
 */
export function buildTemplate(signal: Plane, mask: Uint8Array, options: TemplateOptions = DEFAULT_TEMPLATE_OPTIONS): Template | { fault: TemplateFault } {
  const extent = maskExtent(mask, signal.width);
  if (!extent) return { fault: 'empty' };
  const shorter = Math.min(extent.right - extent.left, extent.bottom - extent.top) + 1;
  if (shorter < 8 || extent.count < 100) return { fault: 'too-small' };
  const wanted = 1 + Math.floor(Math.log2(shorter / COARSEST_SIDE));
  const planes = buildPyramid(signal, Math.min(options.maxLevels, Math.max(1, wanted)));
  const levels = planes.map((plane, level) =>
    chooseLevel(plane, level, subsampleMask(mask, signal.width, plane, level), level === 0 ? options.finestBudget : options.coarseBudget));
  const usable = levels.filter((l) => l.count >= 40);
  return usable.length === 0 ? { fault: 'too-small' } : { width: signal.width, height: signal.height, levels: usable };
}

function maskExtent(mask: Uint8Array, width: number) {
  let left = Infinity, top = Infinity, right = -1, bottom = -1, count = 0;
  for (let i = 0; i < mask.length; i++) {
    if (mask[i] === 0) continue;
    const x = i % width, y = (i / width) | 0;
    if (x < left) left = x;
    if (x > right) right = x;
    if (y < top) top = y;
    bottom = y;
    count++;
  }
  return count === 0 ? null : { left, top, right, bottom, count };
}

function subsampleMask(mask: Uint8Array, width: number, plane: Plane, level: number): Uint8Array {
  if (level === 0) return mask;
  const out = new Uint8Array(plane.width * plane.height);
  for (let j = 0; j < plane.height; j++) {
    for (let i = 0; i < plane.width; i++) out[j * plane.width + i] = mask[(j << level) * width + (i << level)]!;
  }
  return out;
}

function chooseLevel(plane: Plane, level: number, mask: Uint8Array, budget: number): TemplateLevel {
  const gradient = kernels().gradients(plane);
  const candidates: number[] = [];
  for (let j = 1; j < plane.height - 1; j++) {
    for (let i = 1; i < plane.width - 1; i++) if (mask[j * plane.width + i] === 1) candidates.push(j * plane.width + i);
  }
  const strength = new Float32Array(candidates.length);
  candidates.forEach((at, k) => (strength[k] = Math.hypot(gradient.dx[at]!, gradient.dy[at]!)));
  const chosen = candidates.length <= budget ? candidates : strongestSpread(candidates, strength, plane.width, Math.max(4, BUCKET >> level), budget);
  const xs = Float32Array.from(chosen, (at) => at % plane.width);
  const ys = Float32Array.from(chosen, (at) => Math.floor(at / plane.width));
  const chosenStrength = Float32Array.from(chosen, (at) => Math.hypot(gradient.dx[at]!, gradient.dy[at]!));
  const box = boundingBox(xs, ys);
  const cx = (box.left + box.right) / 2, cy = (box.top + box.bottom) / 2;
  const s = Math.max(1, box.right - box.left, box.bottom - box.top) / 2;
  const toUnit = compose(scaling(1 / s), translation(-cx, -cy));
  return {
    level, plane: gradient, mask, count: chosen.length, xs, ys,
    gradientCap: Math.max(1e-4, 2 * quantile(chosenStrength, 0.75) || 1e-4),
    toUnit, fromUnit: invert(toUnit)!,
    box: [[box.left, box.top], [box.right, box.top], [box.right, box.bottom], [box.left, box.bottom]],
  };
}

/** The strongest candidates overall, after each square has given its own strongest share. */
function strongestSpread(candidates: number[], strength: Float32Array, width: number, bucket: number, budget: number): number[] {
  const columns = Math.ceil(width / bucket);
  const buckets = new Map<number, number[]>();
  candidates.forEach((at, k) => {
    const key = Math.floor(Math.floor(at / width) / bucket) * columns + Math.floor((at % width) / bucket);
    const list = buckets.get(key);
    if (list) list.push(k);
    else buckets.set(key, [k]);
  });
  const taken = new Uint8Array(candidates.length);
  let left = budget;
  for (const list of buckets.values()) {
    list.sort((a, b) => strength[b]! - strength[a]!);
    const share = Math.min(list.length, Math.ceil(list.length * Math.min(BUCKET_SHARE, budget / candidates.length)));
    for (let k = 0; k < share; k++) taken[list[k]!] = 1;
    left -= share;
  }
  const rest = strength.filter((_, k) => taken[k] === 0);
  const threshold = left > 0 ? quantile(rest, 1 - Math.min(1, left / rest.length)) : Infinity;
  return candidates.filter((_, k) => taken[k] === 1 || strength[k]! >= threshold);
}

function boundingBox(xs: Float32Array, ys: Float32Array) {
  let left = Infinity, top = Infinity, right = -Infinity, bottom = -Infinity;
  for (let i = 0; i < xs.length; i++) {
    left = Math.min(left, xs[i]!);
    right = Math.max(right, xs[i]!);
    top = Math.min(top, ys[i]!);
    bottom = Math.max(bottom, ys[i]!);
  }
  return { left, top, right, bottom };
}
