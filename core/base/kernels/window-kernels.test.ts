import { describe, expect, test } from 'vitest';
import { compiledFactory } from '../../../server/kernels/load-kernels.ts';
import { anchorOf } from '../../motion/scene/feature-patch.ts';
import {
  plainKernels,
  WINDOW,
  WINDOW_SIDE,
  WINDOW_STRIDE,
  type KernelFactory,
  type KernelSet,
  type SampledWindow,
} from './index.ts';

const WIDTH = 64;
const HEIGHT = 56;

/** Smooth bumps, looked at through a map from picture to bumps. */
function bumps(set: KernelSet, map: (x: number, y: number) => [number, number], gain = 1, offset = 0): SampledWindow {
  const data = set.floats(WIDTH * HEIGHT);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const [u, v] = map(x, y);
      data[y * WIDTH + x] =
        offset +
        gain *
          (0.4 +
            0.1 * Math.sin(0.35 * u + 0.2 * v) +
            0.08 * Math.cos(0.45 * v - 0.1 * u) +
            0.05 * Math.sin(0.21 * u - 0.4 * v));
    }
  return { width: WIDTH, height: HEIGHT, data };
}

const open = (factory: KernelFactory) => factory.open(200_000);
const SETS = [
  ['plain', plainKernels],
  ['compiled', compiledFactory()],
] as const;

/** An affine map about a place: what lay at the place plus o lies at `to` + A·o; from the new picture to the old one. */
const bent =
  (
    [px, py]: readonly [number, number],
    [tx, ty]: readonly [number, number],
    [a, b, c, d]: readonly [number, number, number, number],
  ) =>
  (x: number, y: number): [number, number] => {
    const det = a * d - b * c;
    const u = x - tx;
    const v = y - ty;
    return [px + (d * u - b * v) / det, py + (a * v - c * u) / det];
  };

describe.each(SETS)('%s kernels of features', (_, factory) => {
  test('a window has its values and slopes, and nothing in its last column', () => {
    const set = open(factory);
    const out = new Float32Array(3 * WINDOW);
    const picture: SampledWindow = { width: WIDTH, height: HEIGHT, data: set.floats(WIDTH * HEIGHT) };
    for (let i = 0; i < WIDTH * HEIGHT; i++) picture.data[i] = 0.01 * (i % WIDTH) + 0.02 * Math.floor(i / WIDTH);
    expect(set.takeWindow(picture, 20.25, 30.5, out)).toBe(true);
    let off = 0;
    for (let n = 0; n < WINDOW; n++) {
      const i = n % WINDOW_STRIDE;
      const j = Math.floor(n / WINDOW_STRIDE);
      const counts = i < WINDOW_SIDE ? 1 : 0;
      off = Math.max(
        off,
        Math.abs(out[n]! - counts * (0.01 * (13.25 + i) + 0.02 * (23.5 + j))),
        Math.abs(out[n + WINDOW]! - counts * 0.01),
        Math.abs(out[n + 2 * WINDOW]! - counts * 0.02),
      );
    }
    expect(off).toBeLessThan(1e-5);
    expect(set.takeWindow(picture, 6, 30, out)).toBe(false);
  });
  test('a shift is found to a hundredth of a sample although the light changed', () => {
    const set = open(factory);
    const before = bumps(set, (x, y) => [x, y]);
    const now = bumps(set, (x, y) => [x - 2.37, y + 1.61], 1.3, 0.05);
    const at = Float64Array.of(30, 28, 0);
    expect(set.shiftWindow(before, 30, 28, now, at, 20)).toBe(true);
    expect(Math.abs(at[0]! - 32.37)).toBeLessThan(0.01);
    expect(Math.abs(at[1]! - 26.39)).toBeLessThan(0.01);
    expect(at[2]).toBeGreaterThan(0.999);
  });
  test('what is flat, or leaves the picture, is not found', () => {
    const set = open(factory);
    const flat = bumps(set, () => [0, 0]);
    const other = bumps(set, (x, y) => [x, y]);
    expect(set.shiftWindow(flat, 30, 28, other, Float64Array.of(30, 28, 0), 10)).toBe(false);
    expect(set.shiftWindow(other, 30, 28, other, Float64Array.of(3, 28, 0), 10)).toBe(false);
  });
  test('an anchor is found again turned, larger and in another light', () => {
    const set = open(factory);
    const place = [31, 27] as const;
    const to = [32.2, 26.3] as const;
    const A = [1.08, -0.06, 0.05, 1.04] as const;
    const out = new Float32Array(3 * WINDOW);
    const first = bumps(set, (x, y) => [x, y]);
    const now = bumps(set, bent(place, to, A), 0.8, 0.04);
    set.takeWindow(first, ...place, out);
    const { window, mean, factor, usable } = anchorOf(out);
    const fit = Float64Array.of(31.6, 26.7, 1, 0, 0, 1, 0);
    expect(usable).toBe(true);
    expect(set.fitWindow(now, window, mean, factor, fit, 40)).toBe(true);
    expect(Math.hypot(fit[0]! - to[0], fit[1]! - to[1])).toBeLessThan(0.02);
    A.forEach((v, k) => expect(fit[2 + k]).toBeCloseTo(v, 2));
    expect(fit[6]).toBeGreaterThan(0.999);
    expect(set.fitWindow(now, window, mean, factor, Float64Array.of(5, 27, 1, 0, 0, 1, 0), 5)).toBe(false);
  });
});

test('the compiled kernels of features do what the plain ones do', () => {
  const [plain, compiled] = SETS.map(([, factory]) => {
    const set = open(factory);
    const first = bumps(set, (x, y) => [x, y]);
    const now = bumps(set, bent([31, 27], [32.9, 26.1], [1.03, 0.02, -0.04, 0.98]), 1.1, -0.02);
    const taken = new Float32Array(3 * WINDOW);
    const told: number[] = [];
    for (const [x, y] of [
      [31, 27],
      [24.3, 22.9],
      [40.7, 33.1],
    ] as const)
      for (const rounds of [0, 1, 3, 12]) {
        set.takeWindow(first, x, y, taken);
        const at = Float64Array.of(x + 1, y - 0.4, 0);
        const fit = Float64Array.of(x + 1.2, y - 0.6, 1, 0, 0, 1, 0);
        const { window, mean, factor } = anchorOf(taken);
        told.push(
          Number(set.shiftWindow(first, x, y, now, at, rounds)),
          ...at,
          Number(set.fitWindow(now, window, mean, factor, fit, rounds)),
          ...fit,
        );
      }
    return told;
  });
  let off = 0;
  plain!.forEach((v, i) => (off = Math.max(off, Math.abs(v - compiled![i]!))));
  expect(plain!.length).toBe(3 * 4 * 12);
  expect(off).toBeLessThan(1e-3);
});
