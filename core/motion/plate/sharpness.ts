import type { Plane } from '../../base/image/plane.ts';

/**
 * How sharp a picture is: the energy of its finest detail, noise taken off, against the contrast of the
 * picture as a whole, which blur leaves alone. 0 for a picture without detail; comparable between frames of a shot.
 *
 * Fine detail is determined by the picture's Laplacian (the "energy of Laplacian" of S. Pertuz et al., "Analysis of
 * focus measure operators for shape-from-focus", Pattern Recognition 46(5), 2013, appendix A) on the picture halved
 * once, where compression and noise have less of a say than at the last pixel.
 *
 * @param half the picture halved once
 * @param coarse the picture halved about four times
 * @param noise standard deviation of the noise at full size, in the planes' units
 */
export function sharpness(half: Plane, coarse: Plane, noise: number): number {
  const { width, height, data } = half;
  if (width < 3 || height < 3) return 0;
  let energy = 0;
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1, at = y * width + 1; x < width - 1; x++, at++) {
      const laplacian = data[at - 1]! + data[at + 1]! + data[at - width]! + data[at + width]! - 4 * data[at]!;
      energy += laplacian * laplacian;
    }
  }
  // Of white noise, 1-4-6-4-1 and halving leave 7.5 % of the variance, of which the Laplacian makes 20 times as much.
  const clean = energy / ((width - 2) * (height - 2)) - 20 * 0.075 * noise * noise;
  const contrast = variance(coarse);
  return clean > 0 && contrast > 0 ? Math.sqrt(clean / contrast) : 0;
}

function variance({ data }: Plane): number {
  let sum = 0;
  let squares = 0;
  for (const value of data) {
    sum += value;
    squares += value * value;
  }
  return Math.max(0, squares / data.length - (sum / data.length) ** 2);
}
