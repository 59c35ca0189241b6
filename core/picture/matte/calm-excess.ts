import { median } from '../../base/image/statistics.ts';

/** Values that differ by so many standard deviations of the noise hardly belong together. */
const RANGE = 2.5;
/** The window reaches so many spreads. */
const REACH = 2;

/**
 * A key's excess with less of the plate's noise: each pixel becomes the mean of those around it, the nearer and the more alike the more they count, so that edges
 * stay where they are. `spread`: standard deviation of nearness, px; the noise is determined by neighbours inside the surface (`inside` 1).
 *
 * Source: C. Tomasi, R. Manduchi, Bilateral filtering for gray and color images, ICCV 1998.
 */
export function calmExcess(
  excesses: Float32Array,
  inside: Float32Array,
  width: number,
  height: number,
  spread: number,
): Float32Array {
  const range = RANGE * noiseOf(excesses, inside, width);
  const reach = Math.max(1, Math.ceil(REACH * spread));
  const out = new Float32Array(excesses.length);
  if (!(range > 0)) return excesses.slice();
  const near: number[] = [];
  for (let dy = -reach; dy <= reach; dy++)
    for (let dx = -reach; dx <= reach; dx++) near.push(Math.exp(-(dx * dx + dy * dy) / (2 * spread * spread)));
  const alike = -1 / (2 * range * range);
  for (let row = 0, i = 0; row < height; row++) {
    for (let col = 0; col < width; col++, i++) {
      const v = excesses[i]!;
      let sum = 0;
      let weights = 0;
      for (let dy = -reach, k = 0; dy <= reach; dy++) {
        const y = row + dy;
        if (y < 0 || y >= height) {
          k += 2 * reach + 1;
          continue;
        }
        for (let dx = -reach; dx <= reach; dx++, k++) {
          const x = col + dx;
          if (x < 0 || x >= width) continue;
          const other = excesses[y * width + x]!;
          const away = other - v;
          const weight = near[k]! * Math.exp(away * away * alike);
          sum += weight * other;
          weights += weight;
        }
      }
      out[i] = sum / weights;
    }
  }
  return out;
}

/** Standard deviation of the noise: neighbours in a row differ by √2 of it, and half of them by less than 0.6745 times that (the normal distribution's quartile). */
function noiseOf(values: Float32Array, inside: Float32Array, width: number): number {
  const steps: number[] = [];
  for (let i = 0; i + 1 < values.length; i += 3)
    if ((i + 1) % width !== 0 && inside[i]! >= 1 && inside[i + 1]! >= 1)
      steps.push(Math.abs(values[i + 1]! - values[i]!));
  return steps.length === 0 ? 0 : median(steps) / (0.6745 * Math.SQRT2);
}
