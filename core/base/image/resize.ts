/** Half-width of the kernel in pixels of the coarser of both pictures. */
const LOBES = 3;

/**
 * A picture of floats, `channels` interleaved, at another size, by a windowed sinc of three lobes in each direction, widened where it becomes smaller;
 * at the border the nearest pixels take all the weight. Source: C. Duchon, Lanczos filtering in one and two dimensions, J. Applied Meteorology 18, 1979.
 */
export function resize(
  data: Float32Array,
  channels: number,
  from: { width: number; height: number },
  to: { width: number; height: number },
): Float32Array {
  const across = weights(from.width, to.width);
  const down = weights(from.height, to.height);
  const middle = new Float32Array(to.width * from.height * channels);
  const out = new Float32Array(to.width * to.height * channels);
  for (let row = 0; row < from.height; row++) {
    for (let col = 0; col < to.width; col++) {
      const { first, share } = across[col]!;
      for (let c = 0; c < channels; c++) {
        let sum = 0;
        for (let k = 0; k < share.length; k++) sum += share[k]! * data[(row * from.width + first + k) * channels + c]!;
        middle[(row * to.width + col) * channels + c] = sum;
      }
    }
  }
  const line = to.width * channels;
  for (let row = 0; row < to.height; row++) {
    const { first, share } = down[row]!;
    for (let k = 0; k < share.length; k++) {
      const w = share[k]!;
      for (let i = 0, at = (first + k) * line, o = row * line; i < line; i++) out[o + i]! += w * middle[at + i]!;
    }
  }
  return out;
}

function weights(from: number, to: number): { first: number; share: Float64Array }[] {
  const step = from / to;
  const wide = Math.max(1, step) * LOBES;
  return Array.from({ length: to }, (_, i) => {
    const middle = (i + 0.5) * step;
    const first = Math.max(0, Math.ceil(middle - wide - 0.5));
    const last = Math.min(from - 1, Math.floor(middle + wide - 0.5));
    const share = Float64Array.from({ length: last - first + 1 }, (__, k) =>
      windowedSinc(((first + k + 0.5 - middle) * LOBES) / wide),
    );
    const sum = share.reduce((a, b) => a + b, 0);
    return { first, share: share.map((w) => w / sum) };
  });
}

function windowedSinc(x: number): number {
  if (x === 0) return 1;
  if (Math.abs(x) >= LOBES) return 0;
  return (LOBES * Math.sin(Math.PI * x) * Math.sin((Math.PI * x) / LOBES)) / (Math.PI * x) ** 2;
}
