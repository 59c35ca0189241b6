import { pushPull } from './push-pull.ts';

/**
 * As pushPull, but nothing finer than blocks of `block`² pixels is kept: known values are averaged over blocks, filled between these, and read back between
 * their middles, bilinearly. A block of which little is known counts as little.
 */
export function coarseFill(values: readonly Float32Array[], weight: Float32Array, width: number, height: number, block: number): Float32Array[] {
  const across = Math.ceil(width / block), down = Math.ceil(height / block), sums = values.map(() => new Float32Array(across * down)), shares = new Float32Array(across * down);
  for (let row = 0; row < height; row++) {
    const to = Math.floor(row / block) * across;
    for (let col = 0, at = row * width; col < width; col++, at++) {
      const w = weight[at]!;
      if (w <= 0) continue;
      const cell = to + ((col / block) | 0);
      shares[cell]! += w;
      for (let k = 0; k < sums.length; k++) sums[k]![cell]! += w * values[k]![at]!;
    }
  }
  for (let i = 0; i < shares.length; i++) {
    const share = shares[i]!;
    if (share <= 0) continue;
    for (const plane of sums) plane[i]! /= share;
    shares[i] = Math.min(1, (2 * share) / (block * block));
  }
  return pushPull(sums, shares, across, down).map((plane) => enlarged(plane, across, down, width, height, block));
}

/** A coarse plane read at each pixel, bilinearly between the middles of its blocks. */
export function enlarged(plane: Float32Array, across: number, down: number, width: number, height: number, block: number): Float32Array {
  const out = new Float32Array(width * height), line = new Float32Array(across), columns = new Int32Array(width), shares = new Float32Array(width);
  for (let col = 0; col < width; col++) {
    const x = Math.min(across - 1, Math.max(0, (col + 0.5) / block - 0.5)), ix = Math.min(Math.max(0, across - 2), Math.floor(x));
    columns[col] = ix;
    shares[col] = across > 1 ? x - ix : 0;
  }
  for (let row = 0, at = 0; row < height; row++) {
    const y = Math.min(down - 1, Math.max(0, (row + 0.5) / block - 0.5)), iy = Math.min(Math.max(0, down - 2), Math.floor(y)), fy = down > 1 ? y - iy : 0, a = iy * across, b = down > 1 ? a + across : a;
    for (let col = 0; col < across; col++) line[col] = plane[a + col]! + fy * (plane[b + col]! - plane[a + col]!);
    for (let col = 0; col < width; col++, at++) {
      const i = columns[col]!, v = line[i]!;
      out[at] = across > 1 ? v + shares[col]! * (line[i + 1]! - v) : v;
    }
  }
  return out;
}
