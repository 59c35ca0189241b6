import { clamp } from '../../base/geometry/clamp.ts';
import { compositeKernels } from '../../base/kernels/composite-kernels.ts';
import type { LightPicture } from '../../base/image/picture.ts';

/** Weights of the nearest, second, … sample on either side of the middle between two. */
const HALVING = halvingWeights();

/** Samples on either side that a halved one is made from. */
export const HALVING_REACH = HALVING.length;

/**
 * Half-band lowpass of Lanczos's kernel of three lobes, stretched by two: what is coarser than the new samples can show is
 * hardly touched, what is finer is kept out. Source: C. Duchon, Lanczos filtering in one and two dimensions, J. Applied
 * Meteorology 18, 1979.
 */
function halvingWeights(): Float64Array {
  const sinc = (x: number) => Math.sin(Math.PI * x) / (Math.PI * x);
  const raw = Float64Array.from({ length: 6 }, (_, k) => sinc((k + 0.5) / 2) * sinc((k + 0.5) / 6));
  const total = 2 * raw.reduce((a, b) => a + b);
  return raw.map((v) => v / total);
}

/** A picture of half the size, in both directions rounded up; samples lie in the middle between two of the larger one. Beyond the border the outermost samples repeat. */
export function halveLight({ width, height, data }: LightPicture): LightPicture {
  const across = (width + 1) >> 1;
  const down = (height + 1) >> 1;
  const compiled = compositeKernels()?.halve(data, width, height, HALVING);
  if (compiled) return { width: across, height: down, data: compiled };
  const lines = new Float32Array(across * height * 4);
  const out = new Float32Array(across * down * 4);
  for (let row = 0; row < height; row++)
    halveLine(data, row * width * 4, 4, width, lines, row * across * 4, 4, across, 4);
  // Rows are taken whole: each is as many channels.
  halveLine(lines, 0, across * 4, height, out, 0, across * 4, down, across * 4);
  return { width: across, height: down, data: out };
}

/** Halves a run of `count` groups of `channels` values, `stride` apart. */
function halveLine(
  from: Float32Array,
  start: number,
  stride: number,
  count: number,
  to: Float32Array,
  toStart: number,
  toStride: number,
  halved: number,
  channels: number,
): void {
  for (let i = 0; i < halved; i++) {
    const target = toStart + i * toStride;
    for (let k = 0; k < HALVING.length; k++) {
      const weight = HALVING[k]!;
      const a = start + clamp(2 * i - k, 0, count - 1) * stride;
      const b = start + Math.min(count - 1, 2 * i + 1 + k) * stride;
      for (let c = 0; c < channels; c++) to[target + c]! += weight * (from[a + c]! + from[b + c]!);
    }
  }
}
