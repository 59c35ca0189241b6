import { describe, expect, test } from 'vitest';
import { compiledFactory } from '../../../server/kernels/load-kernels.ts';
import { noisyPlane } from '../../test/planes.ts';
import { PATCH_ENTRIES, PATCH_PLANE_COUNT, PATCH_PLANES, plainKernels, type KernelFactory } from './index.ts';

const WIDTH = 40;
const HEIGHT = 30;
const COUNT = 64;
const random = noisyPlane(COUNT, PATCH_PLANE_COUNT, 9).data;

function windowOf(factory: KernelFactory, values: ArrayLike<number>) {
  const set = factory.open(1_000_000);
  const put = (from: ArrayLike<number>) => {
    const to = set.floats(from.length);
    to.set(from);
    return to;
  };
  return { set, put, window: { width: WIDTH, height: HEIGHT, data: put(values) } };
}

const SETS = [
  ['plain', plainKernels],
  ['compiled', compiledFactory()],
] as const;

describe.each(SETS)('%s kernels of patterns', (_, factory) => {
  test('cubic samples keep any surface of the second degree, with its slopes; averaged along a way they keep a ramp', () => {
    const f = (x: number, y: number) => 0.3 + 0.02 * x - 0.01 * y + 0.004 * x * x - 0.003 * x * y + 0.002 * y * y;
    const { set, put, window } = windowOf(
      factory,
      Array.from({ length: WIDTH * HEIGHT }, (_, i) => f(i % WIDTH, Math.floor(i / WIDTH))),
    );
    const xs = put([5.25, 17.8, 30.5, -3]);
    const ys = put([4.6, 12.1, 20, 3]);
    const out = set.floats(16);
    set.sampleCubic(window, xs, ys, 4, 1.5, 0.25, [0, 0], 1, out);
    for (let i = 0; i < 3; i++) {
      const x = xs[i]! + 1.5;
      const y = ys[i]! + 0.25;
      expect(out[i]).toBeCloseTo(f(x, y), 4);
      expect(out[i + 4]).toBeCloseTo(0.02 + 0.008 * x - 0.003 * y, 4);
      expect(out[i + 8]).toBeCloseTo(-0.01 - 0.003 * x + 0.004 * y, 4);
    }
    expect(Array.from(out.subarray(12))).toEqual([1, 1, 1, 0]);
    const ramp = windowOf(
      factory,
      Array.from({ length: WIDTH * HEIGHT }, (_, i) => 0.01 * (i % WIDTH)),
    );
    const averaged = ramp.set.floats(4);
    ramp.set.sampleCubic(ramp.window, ramp.put([20]), ramp.put([15]), 1, 0, 0, [8, 3], 9, averaged);
    expect(averaged[0]).toBeCloseTo(0.2, 5);
  });
  test('correlation is 1 where the pattern itself lies, −1 where all is flat', () => {
    const { set, put, window } = windowOf(
      factory,
      noisyPlane(WIDTH, HEIGHT, 4).data.map((v, i) => (i % WIDTH > 30 ? 0.5 : v)),
    );
    const offsets = set.ints(9);
    const own: number[] = [];
    for (let k = 0; k < 9; k++) {
      offsets[k] = (Math.floor(k / 3) - 1) * WIDTH + (k % 3) - 1;
      own.push(window.data[12 * WIDTH + 14 + offsets[k]!]!);
    }
    const mean = own.reduce((a, b) => a + b) / 9;
    const values = put(own.map((v) => v - mean));
    const energy = own.reduce((sum, v) => sum + (v - mean) ** 2, 0);
    const out = set.floats(28 * 10);
    set.correlateBox(window, offsets, values, 9, energy, 8, 8, 28, 10, out);
    expect(out[4 * 28 + 6]).toBeCloseTo(1, 4);
    expect(Math.max(...out.filter((_, k) => k !== 4 * 28 + 6))).toBeLessThan(0.99);
    expect(out[25]).toBe(-1);
  });
});

describe('the compiled kernels of patterns do what the plain ones do', () => {
  const noise = noisyPlane(WIDTH, HEIGHT, 2).data;
  test.each([
    [[0, 0], 1],
    [[6.5, -3.2], 7],
  ] as const)('samples along %j', (along, taps) => {
    const [a, b] = SETS.map(([, factory]) => {
      const { set, put, window } = windowOf(factory, noise);
      const out = set.floats(4 * COUNT);
      set.sampleCubic(
        window,
        put(Array.from({ length: COUNT }, (_, i) => (i * 7.3) % 44)),
        put(Array.from({ length: COUNT }, (_, i) => (i * 3.7) % 33)),
        COUNT,
        -1.3,
        -0.8,
        along,
        taps,
        out,
      );
      return out;
    });
    a!.forEach((v, i) => expect(b![i]).toBeCloseTo(v, 4));
  });
  test.each([
    [2, 0, false],
    [2, 2, true],
    [4, 0, true],
    [2, 7, true],
    [4, 7, false],
  ] as const)('equations of %d and %d unknowns', (geometric, terms, redescending) => {
    const [a, b] = SETS.map(([, factory]) => {
      const { set, put } = windowOf(factory, noise);
      const planes = put(random.map((v) => v - 0.4));
      const out = new Float64Array(PATCH_ENTRIES);
      for (let i = 0; i < COUNT; i++) planes[PATCH_PLANES.USED * COUNT + i] = i % 5 === 0 ? 0 : 1;
      set.patchEquations(planes, COUNT, geometric, terms, 0.8, 0.12, redescending, out);
      return out.subarray(0, ((geometric + terms) * (geometric + terms + 1)) / 2 + geometric + terms);
    });
    expect(Math.max(...a!.map(Math.abs))).toBeGreaterThan(0.05);
    a!.forEach((v, i) => expect(b![i]).toBeCloseTo(v, 3));
  });
  test('correlations', () => {
    const [a, b] = SETS.map(([, factory]) => {
      const { set, put, window } = windowOf(factory, noise);
      const offsets = set.ints(20);
      const out = set.floats(16 * 9);
      for (let k = 0; k < 20; k++) offsets[k] = (k % 4) * WIDTH + Math.floor(k / 4);
      const values = put(Array.from({ length: 20 }, (_, k) => Math.sin(k) - 0.0499));
      const energy = values.reduce((sum, v) => sum + v * v, 0);
      set.correlateBox(window, offsets, values, 20, energy, 3, 5, 16, 9, out);
      return out;
    });
    a!.forEach((v, i) => expect(b![i]).toBeCloseTo(v, 4));
  });
});
