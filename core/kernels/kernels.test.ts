import { describe, expect, test } from 'vitest';
import { loadOpenCv, matFromHomography, matFromPlane, planeFromMat, release } from '../../bench/reference/opencv.ts';
import { compose, invert, translation, type Homography } from '../geometry/homography.ts';
import { createPlane } from '../image/plane.ts';
import { sampleBilinear } from '../image/sampling.ts';
import { noisyPlane, wavePlane } from '../test/planes.ts';
import { plainKernels, type KernelSet } from './index.ts';

/** Every set of kernels is held to the same cases; a compiled set joins this list. */
const SETS: KernelSet[] = [plainKernels];
const H: Homography = [1.02, 0.04, 3.2, -0.03, 0.97, 2.1, 4e-4, -3e-4, 1];

describe.each(SETS)('$name kernels', (set) => {
  test('pyramidDown: 1-4-6-4-1 at even samples, borders reflected', () => {
    const from = noisyPlane(7, 5, 3), to = createPlane(4, 3);
    set.pyramidDown(from, to);
    const weights = [1, 4, 6, 4, 1];
    const reflect = (i: number, n: number) => (i < 0 ? -i : i >= n ? 2 * n - 2 - i : i);
    for (let j = 0; j < 3; j++) {
      for (let i = 0; i < 4; i++) {
        let sum = 0;
        weights.forEach((wy, b) => weights.forEach((wx, a) => (sum += wx * wy * from.data[reflect(2 * j + b - 2, 5) * 7 + reflect(2 * i + a - 2, 7)]!)));
        expect(to.data[j * 4 + i]).toBeCloseTo(sum / 256, 5);
      }
    }
  });

  test('gradients: central differences, one-sided at the border', () => {
    const plane = createPlane(5, 4);
    for (let j = 0; j < 4; j++) for (let i = 0; i < 5; i++) plane.data[j * 5 + i] = i * i + 3 * j;
    const { dx, dy } = set.gradients(plane);
    expect([...dx.subarray(0, 5)]).toEqual([1, 2, 4, 6, 7]);
    expect([...dy]).toEqual(new Array(20).fill(3));
  });

  test('sampleWarped: values and derivatives carried back through the map', () => {
    const plane = set.gradients(wavePlane(64, 48));
    const xs = Float32Array.from({ length: 40 }, (_, i) => (i * 7) % 60), ys = Float32Array.from({ length: 40 }, (_, i) => (i * 5) % 44);
    const value = new Float32Array(40), dx = new Float32Array(40), dy = new Float32Array(40), inside = new Uint8Array(40);
    const count = set.sampleWarped(plane, H, xs, ys, 40, value, dx, dy, inside);
    expect(count).toBe(inside.reduce((a, b) => a + b));
    const at = (x: number, y: number) => {
      const w = H[6]! * x + H[7]! * y + 1;
      return sampleBilinear({ width: 64, height: 48, data: plane.value }, (H[0]! * x + H[1]! * y + H[2]!) / w, (H[3]! * x + H[4]! * y + H[5]!) / w);
    };
    for (let i = 0; i < 40; i++) {
      if (inside[i] === 0) continue;
      expect(value[i]).toBeCloseTo(at(xs[i]!, ys[i]!), 5);
      expect(Math.abs(dx[i]! - (at(xs[i]! + 1, ys[i]!) - at(xs[i]! - 1, ys[i]!)) / 2)).toBeLessThan(0.02);
      expect(Math.abs(dy[i]! - (at(xs[i]!, ys[i]! + 1) - at(xs[i]!, ys[i]! - 1)) / 2)).toBeLessThan(0.02);
    }
  });

  test('sampleWarped: points outside or behind are left out', () => {
    const plane = set.gradients(wavePlane(16, 16));
    const out = () => new Float32Array(3);
    const inside = new Uint8Array(3);
    const steep: Homography = [1, 0, 0, 0, 1, 0, -0.2, 0, 1];
    expect(set.sampleWarped(plane, steep, Float32Array.of(1, 8, 2), Float32Array.of(2, 3, 40), 3, out(), out(), out(), inside)).toBe(1);
    expect([...inside]).toEqual([1, 0, 0]);
  });

  test('warps a picture like the reference library, to its 1/32 px', async () => {
    const cv = await loadOpenCv();
    const picture = wavePlane(80, 60);
    const xs = new Float32Array(80 * 60), ys = new Float32Array(80 * 60);
    for (let i = 0; i < xs.length; i++) [xs[i], ys[i]] = [i % 80, Math.floor(i / 80)];
    const n = xs.length, value = new Float32Array(n), inside = new Uint8Array(n);
    set.sampleWarped(set.gradients(picture), H, xs, ys, n, value, new Float32Array(n), new Float32Array(n), inside);
    // OpenCV, warpPerspective; it takes the inverse map and rounds coordinates to 1/32 px.
    const [from, to, map] = [matFromPlane(cv, picture), new cv.Mat(), matFromHomography(cv, invert(H)!)];
    cv.warpPerspective(from, to, map, new cv.Size(80, 60), cv.INTER_LINEAR, cv.BORDER_CONSTANT, new cv.Scalar(0));
    const expected = planeFromMat(to);
    release(from, to, map);
    let worst = 0;
    for (let i = 0; i < n; i++) if (inside[i] === 1) worst = Math.max(worst, Math.abs(value[i]! - expected.data[i]!));
    expect(worst).toBeLessThan(0.004);
  });

  test('accumulateNormalEquations: the sums as written down', () => {
    const count = 700, stride = 800, dof = 8, n = dof + 2;
    const data = noisyPlane(stride, dof + 3, 6).data;
    const input = { count, dof, stride, jacobian: data.subarray(0, dof * stride), template: data.subarray(8 * stride), residual: data.subarray(9 * stride), weight: data.subarray(10 * stride) };
    const matrix = new Float64Array(n * n), right = new Float64Array(n);
    set.accumulateNormalEquations(input, matrix, right);
    const expected = new Float64Array(n * n), expectedRight = new Float64Array(n);
    for (let i = 0; i < count; i++) {
      const row = [...Array.from({ length: dof }, (_, k) => input.jacobian[k * stride + i]!), -input.template[i]!, -1];
      for (let a = 0; a < n; a++) {
        expectedRight[a]! -= input.weight[i]! * row[a]! * input.residual[i]!;
        for (let b = 0; b < n; b++) expected[a * n + b]! += input.weight[i]! * row[a]! * row[b]!;
      }
    }
    expected.forEach((v, i) => expect(Math.abs(matrix[i]! - v)).toBeLessThan(1e-4 * count));
    expectedRight.forEach((v, i) => expect(Math.abs(right[i]! - v)).toBeLessThan(1e-4 * count));
  });
});

test('a whole shift moves samples by whole places', () => {
  const plane = noisyPlane(10, 10, 8);
  const value = new Float32Array(1), inside = new Uint8Array(1);
  plainKernels.sampleWarped(plainKernels.gradients(plane), compose(translation(2, 3)), Float32Array.of(1), Float32Array.of(1), 1, value, new Float32Array(1), new Float32Array(1), inside);
  expect(value[0]).toBeCloseTo(plane.data[4 * 10 + 3]!, 6);
});
