import type { Plane } from '../../base/image/plane.ts';

/** Sums of a plane's samples and of their squares over everything above and left, with a row and a column of zeros before. */
interface SummedAreas {
  sums: Float64Array;
  squares: Float64Array;
}

const known = new WeakMap<Plane, SummedAreas>();

/** Source of the summed-area table: F. Crow, Summed-Area Tables for Texture Mapping, SIGGRAPH 1984. Kept as long as the plane is. */
function summedAreas(plane: Plane): SummedAreas {
  const before = known.get(plane);
  if (before) return before;
  const { width, height, data } = plane;
  const stride = width + 1;
  const sums = new Float64Array(stride * (height + 1));
  const squares = new Float64Array(stride * (height + 1));
  for (let y = 0; y < height; y++) {
    let sum = 0;
    let square = 0;
    for (let x = 0; x < width; x++) {
      const value = data[y * width + x]!;
      const at = (y + 1) * stride + x + 1;
      sum += value;
      square += value * value;
      sums[at] = sums[at - stride]! + sum;
      squares[at] = squares[at - stride]! + square;
    }
  }
  const areas = { sums, squares };
  known.set(plane, areas);
  return areas;
}

function over(table: Float64Array, stride: number, x: number, y: number, half: number): number {
  const top = (y - half) * stride;
  const bottom = (y + half + 1) * stride;
  const left = x - half;
  const right = x + half + 1;
  return table[bottom + right]! - table[bottom + left]! - table[top + right]! + table[top + left]!;
}

/** Standard deviation of the samples in a square window about (x, y), which must lie within the plane. */
export function windowSpread(plane: Plane, x: number, y: number, half: number): number {
  const { sums, squares } = summedAreas(plane);
  const n = (2 * half + 1) ** 2;
  const stride = plane.width + 1;
  return Math.sqrt(Math.max(0, over(squares, stride, x, y, half) / n - (over(sums, stride, x, y, half) / n) ** 2));
}

/**
 * Zero-mean normalised correlation, −1…1, of the square windows about (ax, ay) in `a` (within it) and (bx, by) in `b`;
 * −1 when the second reaches beyond its picture, 0 when one of them is flat.
 */
export function windowCorrelation(
  a: Plane,
  ax: number,
  ay: number,
  b: Plane,
  bx: number,
  by: number,
  half: number,
): number {
  if (bx < half || by < half || bx >= b.width - half || by >= b.height - half) return -1;
  const inA = summedAreas(a);
  const inB = summedAreas(b);
  const n = (2 * half + 1) ** 2;
  const sa = over(inA.sums, a.width + 1, ax, ay, half);
  const sb = over(inB.sums, b.width + 1, bx, by, half);
  const spreads =
    (over(inA.squares, a.width + 1, ax, ay, half) - (sa * sa) / n) *
    (over(inB.squares, b.width + 1, bx, by, half) - (sb * sb) / n);
  if (!(spreads > 1e-6)) return 0;
  const from = a.data;
  const to = b.data;
  let product = 0;
  for (let v = -half; v <= half; v++) {
    const first = (ay + v) * a.width + ax - half;
    const shift = (by + v) * b.width + bx - half - first;
    for (let i = first; i <= first + 2 * half; i++) product += from[i]! * to[i + shift]!;
  }
  return (product - (sa * sb) / n) / Math.sqrt(spreads);
}
