import { clamp } from '../../base/geometry/clamp.ts';
import { compositeKernels } from '../../base/kernels/composite-kernels.ts';
import { pushPull } from './push-pull.ts';

/**
 * As pushPull, but nothing finer than blocks of `block`² pixels is kept: known values are averaged over blocks, filled between these, and read back between
 * their middles, bilinearly. A block of which little is known counts as little.
 */
export function coarseFill(
  values: readonly Float32Array[],
  weight: Float32Array,
  width: number,
  height: number,
  block: number,
): Float32Array[] {
  return filledBlocks(values, weight, width, height, block).map((plane) =>
    enlarged(plane.data, plane.across, plane.down, width, height, block),
  );
}

/** A plane of which only blocks are kept, to be read where it is needed. */
export class CoarsePlane {
  constructor(
    readonly data: Float32Array,
    readonly across: number,
    readonly down: number,
    private readonly block: number,
  ) {}

  /** The value at a pixel: bilinearly between the middles of its blocks, the outermost repeated. */
  at(col: number, row: number): number {
    const { data, across, down } = this;
    let x = (col + 0.5) / this.block - 0.5;
    let y = (row + 0.5) / this.block - 0.5;
    x = x < 0 ? 0 : x > across - 1 ? across - 1 : x;
    y = y < 0 ? 0 : y > down - 1 ? down - 1 : y;
    const ix = x | 0;
    const iy = y | 0;
    const fx = x - ix;
    const fy = y - iy;
    const a = iy * across + ix;
    const right = ix < across - 1 ? 1 : 0;
    const b = iy < down - 1 ? a + across : a;
    const top = data[a]! + fx * (data[a + right]! - data[a]!);
    const bottom = data[b]! + fx * (data[b + right]! - data[b]!);
    return top + fy * (bottom - top);
  }
}

/** As coarseFill, the blocks themselves. */
export function filledBlocks(
  values: readonly Float32Array[],
  weight: Float32Array,
  width: number,
  height: number,
  block: number,
): CoarsePlane[] {
  const across = Math.ceil(width / block);
  const down = Math.ceil(height / block);
  const compiled = compositeKernels()?.filledBlocks(values, weight, width, height, block);
  if (compiled) return compiled.map((plane) => new CoarsePlane(plane, across, down, block));
  const sums = values.map(() => new Float32Array(across * down));
  const shares = new Float32Array(across * down);
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
  return pushPull(sums, shares, across, down).map((plane) => new CoarsePlane(plane, across, down, block));
}

/** A coarse plane read at each pixel, bilinearly between the middles of its blocks. */
export function enlarged(
  plane: Float32Array,
  across: number,
  down: number,
  width: number,
  height: number,
  block: number,
): Float32Array {
  const compiled = compositeKernels()?.enlarge(plane, across, down, width, height, block);
  if (compiled) return compiled;
  const out = new Float32Array(width * height);
  const read = rowReader(across, down, width, block);
  for (let row = 0; row < height; row++) read(plane, row, out, row * width);
  return out;
}

/** Reads a whole row of coarse planes of one size into `out` from `at` on. */
export function rowReader(
  across: number,
  down: number,
  width: number,
  block: number,
): (plane: Float32Array, row: number, out: Float32Array, at?: number) => void {
  const line = new Float32Array(across + 1);
  const columns = new Int32Array(width);
  const shares = new Float32Array(width);
  for (let col = 0; col < width; col++) {
    const x = clamp((col + 0.5) / block - 0.5, 0, across - 1);
    const ix = Math.floor(x);
    columns[col] = ix;
    shares[col] = x - ix;
  }
  return (plane, row, out, at = 0) => {
    const y = clamp((row + 0.5) / block - 0.5, 0, down - 1);
    const iy = Math.floor(y);
    const fy = y - iy;
    const a = iy * across;
    const b = iy < down - 1 ? a + across : a;
    for (let col = 0; col < across; col++) line[col] = plane[a + col]! + fy * (plane[b + col]! - plane[a + col]!);
    line[across] = line[across - 1]!;
    for (let col = 0, to = at; col < width; col++, to++) {
      const i = columns[col]!;
      const v = line[i]!;
      out[to] = v + shares[col]! * (line[i + 1]! - v);
    }
  };
}
