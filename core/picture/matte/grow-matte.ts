import { clamp } from '../../base/geometry/clamp.ts';

/** Directions in which the neighbourhood is looked at. */
const DIRECTIONS = 16;

/**
 * A matte whose front is grown by `by` px, or shrunk where negative, in fractions too: the highest (lowest) value on circles of up to that radius
 * about each pixel, between pixels bilinearly. Beyond the border the outermost values repeat.
 */
export function grownMatte(matte: Float32Array, width: number, height: number, by: number): Float32Array {
  const radius = Math.abs(by);
  if (radius < 1e-3) return matte;
  const rings = Math.ceil(radius);
  const grow = by > 0;
  const out = matte.slice();
  const dx: number[] = [];
  const dy: number[] = [];
  for (let ring = 1; ring <= rings; ring++) {
    for (let k = 0; k < DIRECTIONS; k++) {
      const angle = ((k + (ring % 2) / 2) * 2 * Math.PI) / DIRECTIONS;
      const r = (radius * ring) / rings;
      dx.push(r * Math.cos(angle));
      dy.push(r * Math.sin(angle));
    }
  }
  for (let row = 0, at = 0; row < height; row++) {
    for (let col = 0; col < width; col++, at++) {
      let best = matte[at]!;
      if (grow ? best >= 1 : best <= 0) continue;
      for (let k = 0; k < dx.length; k++) {
        const x = clamp(col + dx[k]!, 0, width - 1);
        const y = clamp(row + dy[k]!, 0, height - 1);
        const ix = Math.min(width - 2, x | 0);
        const iy = Math.min(height - 2, y | 0);
        const left = ix < 0 ? 0 : ix;
        const top = iy < 0 ? 0 : iy;
        const fx = x - left;
        const fy = y - top;
        const a = top * width + left;
        const right = left < width - 1 ? 1 : 0;
        const down = top < height - 1 ? width : 0;
        const v =
          (1 - fy) * ((1 - fx) * matte[a]! + fx * matte[a + right]!) +
          fy * ((1 - fx) * matte[a + down]! + fx * matte[a + down + right]!);
        if (grow ? v > best : v < best) best = v;
      }
      out[at] = best;
    }
  }
  return out;
}
