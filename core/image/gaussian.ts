import { compositeKernels } from '../kernels/composite-kernels.ts';
import { createPlane, type Plane } from './plane.ts';

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
  const compiled = compositeKernels()?.convolve(data, width, height, channels, kernel, border);
  if (compiled) return compiled;
  const across = new Float32Array(data.length);
  const out = new Float32Array(data.length);
  const stride = width * channels;
  for (let row = 0; row < height; row++) {
    const base = row * stride;
    for (let k = -radius; k <= radius; k++) {
      const weight = kernel[k + radius]!;
      // Samples whose partner k columns away exists, as one run; then those beyond the border.
      const first = Math.min(width, Math.max(0, -k)) * channels;
      const end = Math.max(0, Math.min(width, width - k)) * channels;
      for (let i = first, from = base + first + k * channels; i < end; i++, from++)
        across[base + i]! += weight * data[from]!;
      if (border === 'empty') continue;
      for (let i = 0; i < Math.min(first, stride); i++) across[base + i]! += weight * data[base + (i % channels)]!;
      for (let i = Math.max(0, end); i < stride; i++)
        across[base + i]! += weight * data[base + stride - channels + (i % channels)]!;
    }
  }
  for (let row = 0; row < height; row++) {
    for (let k = -radius; k <= radius; k++) {
      let from = row + k;
      if (from < 0 || from >= height) {
        if (border === 'empty') continue;
        from = from < 0 ? 0 : height - 1;
      }
      const weight = kernel[k + radius]!;
      const source = from * stride;
      const target = row * stride;
      for (let i = 0; i < stride; i++) out[target + i]! += weight * across[source + i]!;
    }
  }
  return out;
}

/** The plane convolved with a gaussian of `sigma` px, borders repeated. */
export function blurPlane(plane: Plane, sigma: number): Plane {
  const out = createPlane(plane.width, plane.height);
  out.data.set(convolveSeparable(plane.data, plane.width, plane.height, 1, gaussianKernel(sigma), 'repeat'));
  return out;
}
