import type { Plane } from '../image/plane.ts';
import type { GradientPlane, KernelSet, NormalEquationInput } from './kernel-set.ts';

/** Reflects an index about the outermost samples: −1 → 1, n → n − 2. */
function reflect(i: number, n: number): number {
  if (n === 1) return 0;
  if (i < 0) return Math.min(n - 1, -i);
  if (i >= n) return Math.max(0, 2 * n - 2 - i);
  return i;
}

function pyramidDown(from: Plane, to: Plane): void {
  const { width, height, data } = from;
  const columns = to.width;
  const across = new Float32Array(columns * height);
  for (let row = 0; row < height; row++) {
    const base = row * width;
    for (let i = 0; i < columns; i++) {
      const c = 2 * i;
      let a = c - 2, b = c - 1, d = c + 1, e = c + 2;
      if (a < 0 || e >= width) {
        a = reflect(a, width);
        b = reflect(b, width);
        d = reflect(d, width);
        e = reflect(e, width);
      }
      across[row * columns + i] =
        (data[base + a]! + data[base + e]! + 4 * (data[base + b]! + data[base + d]!) + 6 * data[base + c]!) * 0.0625;
    }
  }
  for (let j = 0; j < to.height; j++) {
    const c = 2 * j * columns;
    const a = reflect(2 * j - 2, height) * columns;
    const b = reflect(2 * j - 1, height) * columns;
    const d = reflect(2 * j + 1, height) * columns;
    const e = reflect(2 * j + 2, height) * columns;
    for (let i = 0; i < columns; i++) {
      to.data[j * columns + i] =
        (across[a + i]! + across[e + i]! + 4 * (across[b + i]! + across[d + i]!) + 6 * across[c + i]!) * 0.0625;
    }
  }
}

function gradients(plane: Plane): GradientPlane {
  const { width, height, data } = plane;
  const dx = new Float32Array(data.length);
  const dy = new Float32Array(data.length);
  for (let row = 0; row < height; row++) {
    const up = row > 0 ? -width : 0;
    const down = row < height - 1 ? width : 0;
    const vertical = up !== 0 && down !== 0 ? 0.5 : 1;
    for (let col = 0; col < width; col++) {
      const at = row * width + col;
      const left = col > 0 ? -1 : 0;
      const right = col < width - 1 ? 1 : 0;
      dx[at] = (data[at + right]! - data[at + left]!) * (left !== 0 && right !== 0 ? 0.5 : 1);
      dy[at] = (data[at + down]! - data[at + up]!) * vertical;
    }
  }
  return { width, height, value: data, dx, dy };
}

function sampleWarped(
  plane: GradientPlane, h: ArrayLike<number>, xs: Float32Array, ys: Float32Array, count: number,
  value: Float32Array, dx: Float32Array, dy: Float32Array, inside: Uint8Array,
): number {
  const { width, height } = plane;
  const v = plane.value, gx = plane.dx, gy = plane.dy;
  const h0 = h[0]!, h1 = h[1]!, h2 = h[2]!, h3 = h[3]!, h4 = h[4]!, h5 = h[5]!, h6 = h[6]!, h7 = h[7]!, h8 = h[8]!;
  const limitX = width - 1, limitY = height - 1;
  let insideCount = 0;
  for (let i = 0; i < count; i++) {
    const x = xs[i]!, y = ys[i]!;
    const inverse = 1 / (h6 * x + h7 * y + h8);
    const u = (h0 * x + h1 * y + h2) * inverse;
    const w = (h3 * x + h4 * y + h5) * inverse;
    // A point behind the vanishing line has a negative denominator and is never seen.
    if (!(inverse > 0 && u >= 0 && w >= 0 && u < limitX && w < limitY)) {
      inside[i] = 0;
      value[i] = 0;
      dx[i] = 0;
      dy[i] = 0;
      continue;
    }
    const iu = u | 0, iw = w | 0;
    const fu = u - iu, fw = w - iw;
    const at = iw * width + iu;
    const w00 = (1 - fu) * (1 - fw), w10 = fu * (1 - fw), w01 = (1 - fu) * fw, w11 = fu * fw;
    value[i] = v[at]! * w00 + v[at + 1]! * w10 + v[at + width]! * w01 + v[at + width + 1]! * w11;
    const ix = gx[at]! * w00 + gx[at + 1]! * w10 + gx[at + width]! * w01 + gx[at + width + 1]! * w11;
    const iy = gy[at]! * w00 + gy[at + 1]! * w10 + gy[at + width]! * w01 + gy[at + width + 1]! * w11;
    // Chain rule through the map: ∂u/∂x = (h0 − u·h6)/w and so on.
    dx[i] = (ix * (h0 - u * h6) + iy * (h3 - w * h6)) * inverse;
    dy[i] = (ix * (h1 - u * h7) + iy * (h4 - w * h7)) * inverse;
    inside[i] = 1;
    insideCount++;
  }
  return insideCount;
}

/** Points a block: small enough that the columns of a block stay in the nearest cache. */
const BLOCK = 512;

function accumulateNormalEquations(input: NormalEquationInput, matrix: Float64Array, rightSide: Float64Array): void {
  const { count, dof, jacobian, stride, template, residual, weight } = input;
  const n = dof + 2;
  matrix.fill(0);
  rightSide.fill(0);
  const weighted = new Float32Array(BLOCK);
  const columns = Array.from({ length: n }, () => new Float32Array(BLOCK));
  columns[n - 1]!.fill(-1);
  const right = new Float32Array(BLOCK);
  for (let start = 0; start < count; start += BLOCK) {
    const size = Math.min(BLOCK, count - start);
    for (let k = 0; k < dof; k++) columns[k]!.set(jacobian.subarray(k * stride + start, k * stride + start + size));
    const gain = columns[dof]!;
    for (let i = 0; i < size; i++) {
      gain[i] = -template[start + i]!;
      right[i] = -residual[start + i]!;
    }
    for (let a = 0; a < n; a++) {
      const column = columns[a]!;
      for (let i = 0; i < size; i++) weighted[i] = weight[start + i]! * column[i]!;
      rightSide[a]! += dot(weighted, right, size);
      for (let b = 0; b <= a; b++) matrix[a * n + b]! += dot(weighted, columns[b]!, size);
    }
  }
  for (let a = 0; a < n; a++) for (let b = 0; b < a; b++) matrix[b * n + a] = matrix[a * n + b]!;
}

function dot(a: Float32Array, b: Float32Array, size: number): number {
  let even = 0, odd = 0;
  let i = 0;
  for (; i + 1 < size; i += 2) {
    even += a[i]! * b[i]!;
    odd += a[i + 1]! * b[i + 1]!;
  }
  return i < size ? even + odd + a[i]! * b[i]! : even + odd;
}

export const plainKernels: KernelSet = { name: 'plain', pyramidDown, gradients, sampleWarped, accumulateNormalEquations };
