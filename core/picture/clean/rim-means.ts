import { harmonicFill } from './harmonic-fill.ts';

/** Values of the rim are means over so many px, so that its noise does not streak inwards. */
const RIM_SIGMA = 2;

/** Known values as means of the known ones about them (normalised convolution: H. Knutsson, C.-F. Westin, 1993); others 0. */
export function rimMeans(plane: Float32Array, known: Uint8Array, w: number, h: number): Float32Array {
  const radius = Math.ceil(2 * RIM_SIGMA);
  const weights = Array.from({ length: 2 * radius + 1 }, (_, i) =>
    Math.exp(-((i - radius) ** 2) / (2 * RIM_SIGMA ** 2)),
  );
  const sums = new Float32Array(w * h);
  const counts = new Float32Array(w * h);
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let sum = 0;
      let count = 0;
      for (let k = Math.max(-radius, -x); k <= Math.min(radius, w - 1 - x); k++)
        if (known[y * w + x + k] === 1) {
          sum += weights[k + radius]! * plane[y * w + x + k]!;
          count += weights[k + radius]!;
        }
      sums[y * w + x] = sum;
      counts[y * w + x] = count;
    }
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x;
      if (known[i] === 0) continue;
      let sum = 0;
      let count = 0;
      for (let k = Math.max(-radius, -y); k <= Math.min(radius, h - 1 - y); k++) {
        sum += weights[k + radius]! * sums[i + k * w]!;
        count += weights[k + radius]! * counts[i + k * w]!;
      }
      out[i] = sum / count;
    }
  return out;
}

/** A plane whose unknown values are made up from the known ones around them, these as means. */
export function fromSurroundings(plane: Float32Array, known: Uint8Array, w: number, h: number): Float32Array {
  const out = rimMeans(plane, known, w, h);
  harmonicFill(out, known, w, h);
  return out;
}
