import { describe, expect, test } from 'vitest';
import { compiledFactory } from '../../../server/kernels/load-kernels.ts';
import { applyToPoint } from '../geometry/homography.ts';
import { createPlane } from '../image/plane.ts';
import { golden } from '../../../bench/reference/golden.ts';
import { noisyPlane, waveAt, wavePlane } from '../../test/planes.ts';
import { EQUATION_ENTRIES, plainKernels, RESIDUAL_BINS, UNKNOWNS } from './index.ts';
import { H, put, texelsOf, pointsOf, roundOf, apart } from '../../test/kernel-rounds.ts';

describe.each([
  ['plain', plainKernels],
  ['compiled', compiledFactory()],
] as const)('%s kernels', (_, factory) => {
  test('pyramidDown: 1-4-6-4-1 at even samples, borders reflected', () => {
    const set = factory.open(100_000);
    const from = noisyPlane(7, 5, 3);
    const to = set.floats(12);
    set.pyramidDown(put(set, from.data), 7, 5, to);
    const weights = [1, 4, 6, 4, 1];
    const reflect = (i: number, n: number) => (i < 0 ? -i : i >= n ? 2 * n - 2 - i : i);
    for (let j = 0; j < 3; j++) {
      for (let i = 0; i < 4; i++) {
        let sum = 0;
        weights.forEach((wy, b) =>
          weights.forEach(
            (wx, a) => (sum += wx * wy * from.data[reflect(2 * j + b - 2, 5) * 7 + reflect(2 * i + a - 2, 7)]!),
          ),
        );
        expect(to[j * 4 + i]).toBeCloseTo(sum / 256, 5);
      }
    }
  });

  test('texels: central differences, one-sided at the border', () => {
    const plane = createPlane(5, 4);
    for (let j = 0; j < 4; j++) for (let i = 0; i < 5; i++) plane.data[j * 5 + i] = i * i + 3 * j;
    const { texels } = texelsOf(factory.open(100_000), plane);
    expect([0, 1, 2, 3, 4].map((i) => texels[4 * i + 1])).toEqual([1, 2, 4, 6, 7]);
    for (let i = 0; i < 20; i++) expect(texels[4 * i + 2]).toBe(3);
  });

  test('residuals: values and derivatives carried back through the map; outside and behind are left out', () => {
    // A picture whose values between the samples are known.
    const set = factory.open(1_000_000);
    const count = 400;
    const points = pointsOf(set, count, 64, 48);
    const { xs, ys } = points;
    const sampled = set.floats(4 * count);
    const nothing = set.floats(4 * count);
    nothing.fill(1, 3 * count);
    const visible = set.residuals(
      texelsOf(set, wavePlane(64, 48)),
      points,
      nothing,
      H,
      1,
      0.04,
      1,
      new Uint32Array(2 * RESIDUAL_BINS),
      sampled,
    );
    let seen = 0;
    let worst = 0;
    for (let i = 0; i < count; i++) {
      const [x, y] = applyToPoint(H, [xs[i]!, ys[i]!]);
      // Slopes at the border are one-sided.
      if (sampled[i + 3 * count] === 1 && x > 1 && y > 1 && x < 62 && y < 46)
        worst = Math.max(worst, Math.abs(sampled[i]! + 0.04 - waveAt(x + 0.5, y + 0.5)));
      seen += sampled[i + 3 * count]!;
    }
    expect(worst).toBeLessThan(0.0015);
    expect(seen).toBe(visible);
    const picture = texelsOf(set, wavePlane(16, 16));
    const few = { count: 4, xs: put(set, [1, 8, 2, 3]), ys: put(set, [2, 3, 40, 3]), prior: put(set, [1, 1, 1, 0]) };
    const out = set.floats(16);
    const whole = put(set, [0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1]);
    expect(
      set.residuals(
        picture,
        few,
        whole,
        [1, 0, 0, 0, 1, 0, -0.2, 0, 1],
        1,
        0,
        1,
        new Uint32Array(2 * RESIDUAL_BINS),
        out,
      ),
    ).toBe(1);
    expect([...out.subarray(12)]).toEqual([1, 0, 0, 0]);
  });

  test('accumulate: the sums as written down', () => {
    const { points, blurred, sampled, huber, settings } = roundOf(factory);
    const { count, xs, ys, prior } = points;
    const expected = new Float64Array(EQUATION_ENTRIES);
    for (let i = 0; i < count; i++) {
      if (sampled[i + 3 * count] === 0) continue;
      const [tx, ty, r] = [blurred[i + count]!, blurred[i + 2 * count]!, sampled[i]!];
      const spread = 1 + ((0.9 * 0.2) / 0.05) ** 2 * (tx * tx + ty * ty);
      const off = Math.abs(r) / 0.05 / Math.sqrt(spread);
      const weight = (prior[i]! * Math.min(1, 1.345 / Math.max(off, 1e-20))) / spread;
      const x = settings.scaleX * xs[i]! + settings.offsetX;
      const y = settings.scaleY * ys[i]! + settings.offsetY;
      const gx = 15 * (0.9 * tx + sampled[i + count]!);
      const gy = 15 * (0.9 * ty + sampled[i + 2 * count]!);
      const row = [
        gx,
        gy,
        gx * x,
        gx * y,
        gy * x,
        gy * y,
        -x * (gx * x + gy * y),
        -y * (gx * x + gy * y),
        -blurred[i]!,
        -1,
      ];
      let at = 0;
      for (let a = 0; a < UNKNOWNS; a++) {
        for (let b = 0; b <= a; b++) expected[at++]! += weight * row[a]! * row[b]!;
        expected[55 + a]! -= weight * row[a]! * r;
      }
      expected[65]! += weight;
      expected[66]! += weight * r * r;
    }
    expect(apart(huber, expected)).toBeLessThan(2e-5);
  });

  test('warps a picture like the reference library, to its 1/32 px', () => {
    const picture = wavePlane(80, 60);
    const set = factory.open(4_000_000);
    const count = 80 * 60;
    const points = {
      count,
      xs: put(
        set,
        Array.from({ length: count }, (_, i) => i % 80),
      ),
      ys: put(
        set,
        Array.from({ length: count }, (_, i) => Math.floor(i / 80)),
      ),
      prior: set.floats(count).fill(1),
    };
    const nothing = set.floats(4 * count);
    const sampled = set.floats(4 * count);
    nothing.fill(1, 3 * count);
    set.residuals(texelsOf(set, picture), points, nothing, H, 1, 0, 1, new Uint32Array(2 * RESIDUAL_BINS), sampled);
    // OpenCV, warpPerspective; it takes the inverse map and rounds coordinates to 1/32 px.
    const expected = golden('warped-waves');
    let worst = 0;
    let compared = 0;
    for (let i = 0; i < count; i++) {
      const [x, y] = applyToPoint(H, [i % 80, Math.floor(i / 80)]);
      // Lanczos looks four samples to each side.
      if (sampled[i + 3 * count] === 0 || x < 4 || y < 4 || x > 75 || y > 55) continue;
      worst = Math.max(worst, Math.abs(sampled[i]! - expected[i]!));
      compared++;
    }
    expect(compared).toBeGreaterThan(2000);
    expect(worst).toBeLessThan(0.004);
  });
});

test('a set that was cleared gives the same memory out again, as zeros, and works as before', () => {
  const set = compiledFactory().open(200_000);
  const codes = Uint8Array.from({ length: 48 * 32 }, (_, i) => (i * 37) % 256);
  const lookUp = Float32Array.from({ length: 256 }, (_, i) => i / 255);
  const made = () => {
    const out = set.floats(48 * 32);
    expect(out.every((v) => v === 0)).toBe(true);
    set.signal(codes, 48, 32, lookUp, out);
    return Float32Array.from(out);
  };
  const before = made();
  expect(() => set.floats(1_000_000)).toThrow(/full/);
  for (let k = 0; k < 20; k++) {
    set.clear();
    set.floats(20_000).fill(7);
    set.clear();
    expect(made()).toEqual(before);
  }
});
