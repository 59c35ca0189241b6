import { describe, expect, test } from 'vitest';
import { loadOpenCv, matFromHomography, matFromPlane, planeFromMat, release } from '../../../bench/reference/opencv.ts';
import { compiledFactory } from '../../../server/kernels/load-kernels.ts';
import { applyToPoint, invert, translation, type Homography } from '../geometry/homography.ts';
import { createPlane } from '../image/plane.ts';
import { noisyPlane, waveAt, wavePlane } from '../../test/planes.ts';
import {
  EQUATION_ENTRIES,
  plainKernels,
  RESIDUAL_BINS,
  UNKNOWNS,
  type KernelFactory,
  type KernelSet,
  type PointSet,
  type TexelPlane,
} from './index.ts';

const H: Homography = [1.02, 0.04, 3.2, -0.03, 0.97, 2.1, 4e-4, -3e-4, 1];

function put(set: KernelSet, values: ArrayLike<number>): Float32Array {
  const out = set.floats(values.length);
  out.set(values);
  return out;
}

function texelsOf(
  set: KernelSet,
  { width, height, data }: { width: number; height: number; data: Float32Array },
): TexelPlane {
  const texels = set.floats(4 * width * height);
  set.texels(put(set, data), width, height, null, width, 0, { left: 0, top: 0, right: width, bottom: height }, texels);
  return { width, height, texels };
}

/** Points all over a picture, a few of them outside or without a say. */
function pointsOf(set: KernelSet, count: number, width: number, height: number): PointSet {
  return {
    count,
    xs: put(
      set,
      Array.from({ length: count }, (_, i) => 1 + ((i * 7) % (width - 2))),
    ),
    ys: put(
      set,
      Array.from({ length: count }, (_, i) => 1 + ((i * 5) % (height - 2))),
    ),
    prior: put(
      set,
      Array.from({ length: count }, (_, i) => (i % 11 === 0 ? 0 : 0.3 + 0.7 * ((i % 5) / 4))),
    ),
  };
}

const TAPS = Float32Array.from(
  [
    [-0.2, 0.3, 0, 0.25],
    [0, 0, -0.4, 0.5],
    [0.2, -0.1, 0.2, 0.25],
  ].flat(),
);

/** Everything that a round of alignment computes, with one set. */
function roundOf(factory: KernelFactory) {
  const width = 64;
  const height = 48;
  const count = 400;
  const set = factory.open(4_000_000);
  const reference = texelsOf(set, wavePlane(width, height));
  const picture = texelsOf(set, wavePlane(width, height, 0.05));
  const points = pointsOf(set, count, width, height);
  const blurred = set.floats(4 * count);
  const sampled = set.floats(4 * count);
  set.blurTemplate(reference, points, translation(-6, 2), [1.02, 0, 5, 0, 1.01, -1, 1e-4, 0, 1], TAPS, 3, blurred);
  const histogram = new Uint32Array(2 * RESIDUAL_BINS);
  const visible = set.residuals(picture, points, blurred, H, 0.9, 0.04, 0.02, histogram, sampled);
  const settings = {
    scaleX: 1 / 30,
    offsetX: -1,
    scaleY: 1 / 30,
    offsetY: -0.8,
    gain: 0.9,
    tolerance: 0.2,
    scale: 0.05,
    mix: 0.5,
  };
  const [tukey, huber, sums] = [set.doubles(2 * EQUATION_ENTRIES), set.doubles(EQUATION_ENTRIES), new Float64Array(6)];
  const starts = (values: number[]) => {
    const out = set.ints(values.length);
    out.set(values);
    return out;
  };
  set.accumulate(points, starts([40, 200, 360]), blurred, sampled, { ...settings, redescending: true }, tukey);
  set.accumulate(points, starts([0, count]), blurred, sampled, { ...settings, redescending: false }, huber);
  const value = put(set, wavePlane(width, height).data);
  set.correlate(value, width, height, points, blurred, H, 3, sums);
  return { points, picture, blurred, sampled, histogram, visible, tukey, huber, sums, settings };
}

/** Largest difference in units of the largest magnitude. */
function apart(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let most = 0;
  let size = 1e-9;
  for (let i = 0; i < a.length; i++) {
    most = Math.max(most, Math.abs(a[i]! - b[i]!));
    size = Math.max(size, Math.abs(b[i]!));
  }
  return most / size;
}

describe('the compiled kernels do what the plain ones do', () => {
  test('a round of alignment', () => {
    const plain = roundOf(plainKernels);
    const compiled = roundOf(compiledFactory());
    expect(compiled.visible).toBe(plain.visible);
    expect(plain.visible).toBeGreaterThan(200);
    for (const part of ['blurred', 'sampled', 'tukey', 'huber', 'sums'] as const)
      expect(apart(compiled[part], plain[part]), part).toBeLessThan(2e-5);
    // A residual at the very border of a bin may fall to either side.
    let moved = 0;
    compiled.histogram.forEach((n, i) => (moved += Math.abs(n - plain.histogram[i]!)));
    expect(moved).toBeLessThanOrEqual(6);
  });

  test.each<[string, 255 | 65535]>([
    ['8 bits', 255],
    ['16 bits', 65535],
  ])('signal of codes of %s, pyramid, texels under a mask', (_, peak) => {
    const width = 37;
    const height = 23;
    const noise = noisyPlane(width, height, 5).data;
    const levels = Array.from(noise, (v) => Math.floor(v * peak));
    const codes = peak === 255 ? Uint8Array.from(levels) : Uint16Array.from(levels);
    const table = Float32Array.from({ length: peak + 1 }, (_, i) => i / peak + 0.01);
    const [plain, compiled] = [plainKernels, compiledFactory()].map((factory) => {
      const set = factory.open(1_000_000);
      const signal = set.floats(width * height);
      const half = set.floats(19 * 12);
      const texels = set.floats(4 * 19 * 12);
      const mask = set.bytes(width * height);
      mask.forEach((_, i) => (mask[i] = i % 3 === 0 ? 0 : 1));
      set.signal(codes, width, height, table, signal);
      set.pyramidDown(signal, width, height, half);
      set.texels(half, 19, 12, mask, width, 1, { left: 2, top: 0, right: 19, bottom: 11 }, texels);
      return { signal, half, texels };
    });
    for (const part of ['signal', 'half', 'texels'] as const)
      expect(apart(compiled![part], plain![part]), part).toBeLessThan(1e-6);
  });

  test('an array of another memory is refused, a full memory is reported', () => {
    const set = compiledFactory().open(1000);
    expect(() => set.pyramidDown(new Float32Array(16), 4, 4, set.floats(4))).toThrow(/memory/);
    expect(() => set.floats(10_000_000)).toThrow(/full/);
  });
});

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

  test('warps a picture like the reference library, to its 1/32 px', async () => {
    const cv = await loadOpenCv();
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
    const [from, to, map] = [matFromPlane(cv, picture), new cv.Mat(), matFromHomography(cv, invert(H)!)];
    cv.warpPerspective(from, to, map, new cv.Size(80, 60), cv.INTER_LANCZOS4, cv.BORDER_CONSTANT, new cv.Scalar(0));
    const expected = planeFromMat(to);
    release(from, to, map);
    let worst = 0;
    let compared = 0;
    for (let i = 0; i < count; i++) {
      const [x, y] = applyToPoint(H, [i % 80, Math.floor(i / 80)]);
      // Lanczos looks four samples to each side.
      if (sampled[i + 3 * count] === 0 || x < 4 || y < 4 || x > 75 || y > 55) continue;
      worst = Math.max(worst, Math.abs(sampled[i]! - expected.data[i]!));
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
