/**
 * Separable convolution of interleaved samples with a kernel of an odd number of weights. Beyond the border everything is zero when `border`
 * is 'empty', or repeats the outermost sample.
 */
export function convolvePlain(
  data: Float32Array,
  width: number,
  height: number,
  channels: number,
  kernel: Float32Array,
  border: 'empty' | 'repeat',
): Float32Array {
  const radius = (kernel.length - 1) >> 1;
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
