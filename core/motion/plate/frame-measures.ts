import type { LumaFrame } from '../../base/image/luma-frame.ts';
import { createPlane, type Plane } from '../../base/image/plane.ts';
import { buildPyramid } from '../../base/filters/pyramid.ts';
import { mean } from '../../base/image/statistics.ts';
import { noiseLevel } from './noise-level.ts';
import { sharpness } from './sharpness.ts';

/** What one frame shows by itself, and what is kept of it for the next. */
export interface FrameMeasures {
  /** Mean display code, 0…1. */
  exposure: number;
  /** In 255ths. */
  noise: number;
  sharpness: number;
  /** Display codes 0…255, halved on each level. */
  pyramid: readonly Plane[];
}

const LEVELS = 6;

export function measureFrame(luma: LumaFrame): FrameMeasures {
  const plane = createPlane(luma.width, luma.height);
  const unit = 255 / luma.peak;
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = luma.codes[i]! * unit;
  const pyramid = buildPyramid(plane, LEVELS);
  const noise = noiseLevel(plane);
  return {
    exposure: mean(pyramid.at(-1)!.data) / 255,
    noise,
    sharpness: sharpness(pyramid[1] ?? plane, pyramid[4] ?? pyramid.at(-1)!, noise),
    pyramid,
  };
}

/** Mean difference of two frames' codes on a coarse level, 0…1, and the largest of its pieces. */
export function difference(a: FrameMeasures, b: FrameMeasures): { mean: number; most: number } {
  const level = Math.min(2, a.pyramid.length - 1);
  const p = a.pyramid[level]!;
  const q = b.pyramid[level]!;
  const across = Math.max(1, Math.floor(p.width / 16));
  const down = Math.max(1, Math.floor(p.height / 16));
  const sums = new Float64Array(across * down);
  const counts = new Float64Array(across * down);
  let total = 0;
  for (let y = 0; y < p.height; y++) {
    const row = Math.min(down - 1, Math.floor((y * down) / p.height)) * across;
    for (let x = 0; x < p.width; x++) {
      const d = Math.abs(p.data[y * p.width + x]! - q.data[y * p.width + x]!);
      const piece = row + Math.min(across - 1, Math.floor((x * across) / p.width));
      sums[piece]! += d;
      counts[piece]!++;
      total += d;
    }
  }
  let most = 0;
  for (let i = 0; i < sums.length; i++) most = Math.max(most, sums[i]! / counts[i]!);
  return { mean: total / p.data.length / 255, most: most / 255 };
}
