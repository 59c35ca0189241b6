import { createPlane, type Plane } from '../image/plane.ts';
import { compositeKernels } from '../kernels/composite-kernels.ts';
import { convolvePlain } from '../kernels/plain-convolution.ts';

/** Weights of a gaussian of standard deviation `sigma` px at −r…r, r = ⌈4σ⌉, summing to 1. */
export function gaussianKernel(sigma: number): Float32Array {
  if (!(sigma >= 0) || !Number.isFinite(sigma))
    throw new RangeError(`sigma must be a number of pixels ≥ 0, got ${sigma}`);
  const radius = Math.ceil(4 * sigma);
  const kernel = new Float32Array(2 * radius + 1);
  if (radius === 0) {
    kernel[0] = 1;
    return kernel;
  }
  let sum = 0;
  for (let i = -radius; i <= radius; i++) sum += kernel[i + radius] = Math.exp((-i * i) / (2 * sigma * sigma));
  for (let i = 0; i < kernel.length; i++) kernel[i]! /= sum;
  return kernel;
}

/**
 * Separable convolution of interleaved samples. Beyond the border everything is zero when
 * `border` is 'empty' (right for premultiplied layers), or repeats the outermost sample.
 */
export function convolveSeparable(
  data: Float32Array,
  width: number,
  height: number,
  channels: number,
  kernel: Float32Array,
  border: 'empty' | 'repeat',
): Float32Array {
  const radius = (kernel.length - 1) >> 1;
  if (radius === 0) return data.slice();
  return (
    compositeKernels()?.convolve(data, width, height, channels, kernel, border) ??
    convolvePlain(data, width, height, channels, kernel, border)
  );
}

/** The plane convolved with a gaussian of `sigma` px, borders repeated. */
export function blurPlane(plane: Plane, sigma: number): Plane {
  const out = createPlane(plane.width, plane.height);
  out.data.set(convolveSeparable(plane.data, plane.width, plane.height, 1, gaussianKernel(sigma), 'repeat'));
  return out;
}
