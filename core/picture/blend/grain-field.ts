import type { Grain } from '../../base/schemas/types.ts';
import type { PixelBox } from '../../base/image/pixel-box.ts';

/**
 * Noise of unit variance over the pixels of a box: the same at a pixel whatever the box, and new for each frame, so that a part drawn alone agrees
 * with the whole picture. White noise (the sum of twelve even numbers, which is nearly normal) smoothed by a gaussian of `size` px.
 */
export function grainField(box: PixelBox, [sx, sy]: readonly number[], seed: number): Float32Array {
  const across = unitKernel(sx!);
  const down = unitKernel(sy!);
  const rx = (across.length - 1) / 2;
  const ry = (down.length - 1) / 2;
  const width = box.right - box.left;
  const height = box.bottom - box.top;
  const wide = width + 2 * rx;
  const white = new Float32Array(wide * (height + 2 * ry));
  for (let row = 0, i = 0; row < height + 2 * ry; row++)
    for (let col = 0; col < wide; col++, i++) white[i] = normalAt(box.left + col - rx, box.top + row - ry, seed);
  const lines = new Float32Array(width * (height + 2 * ry));
  const out = new Float32Array(width * height);
  for (let row = 0; row < height + 2 * ry; row++) {
    for (let k = 0; k < across.length; k++) {
      const weight = across[k]!;
      for (let col = 0, to = row * width, from = row * wide + k; col < width; col++)
        lines[to++]! += weight * white[from++]!;
    }
  }
  for (let k = 0; k < down.length; k++) {
    const weight = down[k]!;
    for (let i = 0, from = k * width; i < out.length; i++) out[i]! += weight * lines[from++]!;
  }
  return out;
}

/** A gaussian's weights whose squares sum to 1, so that noise keeps its variance. */
export function unitKernel(sigma: number): number[] {
  const radius = sigma < 0.1 ? 0 : Math.ceil(3.5 * sigma);
  const weights = Array.from({ length: 2 * radius + 1 }, (_, k) =>
    radius === 0 ? 1 : Math.exp(-((k - radius) ** 2) / (2 * sigma * sigma)),
  );
  const norm = Math.sqrt(weights.reduce((sum, w) => sum + w * w, 0));
  return weights.map((w) => w / norm);
}

/** Steps of a 32-bit hash (the finaliser of MurmurHash3, A. Appleby, public domain), four even bytes each. */
function normalAt(x: number, y: number, seed: number): number {
  let sum = 0;
  let h = Math.imul(x | 0, 0x9e3779b1) ^ Math.imul(y | 0, 0x85ebca77) ^ Math.imul(seed | 0, 0xc2b2ae3d);
  for (let k = 0; k < 3; k++) {
    h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
    h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
    h ^= h >>> 16;
    sum += (h & 255) + ((h >>> 8) & 255) + ((h >>> 16) & 255) + (h >>> 24);
    h = (h + 0x6d2b79f5) | 0;
  }
  // Twelve bytes: mean 1530, variance 12·(256² − 1)/12.
  return (sum - 1530) / 256;
}

/** Standard deviation of a channel's grain at a display-referred level, as a part of the code of white. */
export function grainAt({ levels }: Pick<Grain, 'levels'>, level: number, channel: 0 | 1 | 2): number {
  const first = levels[0];
  const after = levels.findIndex((one) => one.level > level);
  if (after <= 0) return (after === 0 ? first : levels.at(-1)!).sigma[channel];
  const a = levels[after - 1]!;
  const b = levels[after]!;
  return a.sigma[channel] + ((level - a.level) / (b.level - a.level)) * (b.sigma[channel] - a.sigma[channel]);
}

/** The grain of a picture that is shown `scale` times its size: finer than its pixels, it averages out. */
export function grainSeenSmaller(grain: Grain, scale: number): Grain {
  const size = grain.size ?? [0, 0];
  const kept = size.map((s) => Math.sqrt(varianceLeft(s, 1 / scale)));
  return {
    ...grain,
    size: [size[0] * scale, size[1] * scale],
    levels: grain.levels.map(({ level, sigma }) => ({
      level,
      sigma: sigma.map((s) => s * kept[0]! * kept[1]!) as typeof sigma,
    })) as Grain['levels'],
  };
}

/** What averaging `n` pixels along one direction leaves of the variance of noise smoothed by a gaussian: neighbours d apart correlate by e^(−d²/4σ²). */
function varianceLeft(sigma: number, n: number): number {
  if (n <= 1) return 1;
  const whole = Math.max(1, Math.round(n));
  let sum = whole;
  for (let d = 1; d < whole; d++) sum += 2 * (whole - d) * (sigma < 0.1 ? 0 : Math.exp(-(d * d) / (4 * sigma * sigma)));
  return sum / (whole * whole);
}
