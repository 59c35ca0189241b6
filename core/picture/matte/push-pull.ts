import { clamp } from '../../base/geometry/clamp.ts';

/** Planes of one size, of which each value counts by a weight. */
interface WeightedLevel {
  readonly width: number;
  readonly height: number;
  readonly values: readonly Float32Array[];
  readonly weight: Float32Array;
}

/**
 * Fills what is not known of planes from what is: weighted means on ever coarser levels, and back, each place taking from the coarser level
 * what its own weight leaves. `weight` is 0…1 for each value. With `smooth` nothing finer than 2^smooth pixels is kept of what is known.
 *
 * Source: S. Gortler, R. Grzeszczuk, R. Szeliski, M. Cohen, The Lumigraph, SIGGRAPH 1996, §3.4 (pull-push).
 */
export function pushPull(
  values: readonly Float32Array[],
  weight: Float32Array,
  width: number,
  height: number,
  smooth = 0,
): Float32Array[] {
  const levels: WeightedLevel[] = [{ width, height, values: values.map((v) => weighted(v, weight)), weight }];
  for (let last = levels[0]!; last.width > 1 || last.height > 1; last = levels.at(-1)!) levels.push(coarser(last));
  const top = levels.at(-1)!;
  const w = top.weight[0]!;
  let filled: Float32Array[] = top.values.map((v) => Float32Array.of(w > 0 ? v[0]! / w : 0));
  let from: { width: number; height: number } = top;
  for (let l = levels.length - 2; l >= 0; l--) {
    filled = finer(filled, from, levels[l]!, l < smooth);
    from = levels[l]!;
  }
  return filled;
}

function weighted(values: Float32Array, weight: Float32Array): Float32Array {
  const out = new Float32Array(values.length);
  for (let i = 0; i < out.length; i++) out[i] = values[i]! * weight[i]!;
  return out;
}

/** Sums over 2×2, values already multiplied by their weights; the weights are then held to 1. */
function coarser({ width, height, values, weight }: WeightedLevel): WeightedLevel {
  const across = (width + 1) >> 1;
  const down = (height + 1) >> 1;
  const sums = sumBy2(weight, width, height, across, down);
  const out = values.map((v) => sumBy2(v, width, height, across, down));
  for (let i = 0; i < sums.length; i++) {
    const sum = sums[i]!;
    if (sum <= 1) continue;
    sums[i] = 1;
    for (const plane of out) plane[i]! /= sum;
  }
  return { width: across, height: down, values: out, weight: sums };
}

function sumBy2(plane: Float32Array, width: number, height: number, across: number, down: number): Float32Array {
  const out = new Float32Array(across * down);
  for (let row = 0; row < height; row++) {
    const line = row * width;
    const to = (row >> 1) * across;
    for (let col = 0; col < width; col++) out[to + (col >> 1)]! += plane[line + col]!;
  }
  return out;
}

/** Back to a finer level: bilinearly between the coarser level's middles, under what is known there. */
function finer(
  filled: readonly Float32Array[],
  { width: cw, height: ch }: { width: number; height: number },
  { width, height, values, weight }: WeightedLevel,
  ignore: boolean,
): Float32Array[] {
  const line = new Float32Array(cw);
  return filled.map((f, k) => {
    const out = new Float32Array(width * height);
    const own = values[k]!;
    for (let row = 0; row < height; row++) {
      // Odd rows lie a quarter below their coarse row's middle, even ones a quarter above; columns likewise.
      const near = row >> 1;
      const far = clamp((row & 1) === 0 ? near - 1 : near + 1, 0, ch - 1);
      const a = near * cw;
      const b = far * cw;
      for (let col = 0; col < cw; col++) line[col] = 0.75 * f[a + col]! + 0.25 * f[b + col]!;
      for (let col = 0, at = row * width; col < width; col++, at++) {
        const nc = col >> 1;
        const next = (col & 1) === 0 ? nc - 1 : nc + 1;
        const fc = next < 0 ? 0 : next >= cw ? cw - 1 : next;
        const coarse = 0.75 * line[nc]! + 0.25 * line[fc]!;
        const known = ignore ? 0 : weight[at]!;
        out[at] = known > 0 ? own[at]! + (1 - known) * coarse : coarse;
      }
    }
    return out;
  });
}
