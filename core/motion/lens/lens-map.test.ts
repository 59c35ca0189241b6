import { describe, expect, test } from 'vitest';
import { dampedLeastSquares } from '../../base/geometry/damped-least-squares.ts';
import { Problem } from '../../base/problem/problem.ts';
import { lensFromMap, mapOfLens, mapOfPicture, type LensMap } from './lens-map.ts';
import { bend, type Lens } from './lens.ts';

const SIZE = { width: 480, height: 270 };
const LENS: Lens = { k1: -0.12, k2: 0.03, k3: -0.004, centre: [246, 131], focal: 430 };
/** k's in focal lengths of another size. */
const inUnitsOf = ({ k1, k2, k3, focal }: Lens, unit: number) => [
  k1 * (unit / focal) ** 2,
  k2 * (unit / focal) ** 4,
  k3 * (unit / focal) ** 6,
];
const alike = (a: Lens, b: Lens) =>
  Math.max(
    ...[
      [0, 0],
      [480, 0],
      [480, 270],
      [0, 270],
      [240, 0],
      [100, 60],
    ].map((p) => Math.hypot(...bend(a, [p[0]!, p[1]!]).map((v, i) => v - bend(b, [p[0]!, p[1]!])[i]!))),
  );
const codeOf = (run: () => unknown) => {
  try {
    run();
    return null;
  } catch (error) {
    return error instanceof Problem ? error.code : String(error);
  }
};

describe('the lens that an ST map is of', () => {
  test.each(['out', 'in'] as const)(
    'a map that takes it %s tells it, whichever way t grows, at another size too',
    (direction) => {
      const map = mapOfLens(LENS, SIZE, direction);
      const up: LensMap = { ...map, t: map.t.map((v) => 1 - v) };
      for (const given of [map, up]) {
        const { lens, worst, y, betterAs } = lensFromMap(given, SIZE, direction);
        expect(worst).toBeLessThan(0.002);
        expect(alike(lens, LENS)).toBeLessThan(0.01);
        expect(y).toBe(given === up ? 'up' : 'down');
        expect(betterAs).toBeNull();
      }
      // The plate has twice the map's pixels each way.
      const { lens } = lensFromMap(map, { width: 960, height: 540 }, direction);
      expect(lens.centre.map((v, i) => v - 2 * LENS.centre[i]!).every((v) => Math.abs(v) < 0.02)).toBe(true);
      inUnitsOf(lens, 1000).forEach((v, i) =>
        expect(v).toBeCloseTo(inUnitsOf({ ...LENS, focal: 2 * LENS.focal }, 1000)[i]!, 3),
      );
    },
  );
  test('a straight picture that was scaled and shifted so that all of it shows is understood', () => {
    const { width, height } = SIZE;
    const s = new Float32Array(width * height);
    const t = s.slice();
    for (let j = 0, i = 0; j < height; j++)
      for (let k = 0; k < width; k++, i++) {
        const [x, y] = bend(LENS, [1.08 * (k + 0.5 - 240) + 243, 1.08 * (j + 0.5 - 135) + 134]);
        s[i] = x / width;
        t[i] = y / height;
      }
    const { lens, worst } = lensFromMap({ width, height, s, t }, SIZE, 'out');
    expect(worst).toBeLessThan(0.002);
    expect(alike(lens, LENS)).toBeLessThan(0.02);
  });
  test('the wrong direction is pointed out', () => {
    const strong: Lens = { ...LENS, k1: -0.25, k2: 0 };
    expect(lensFromMap(mapOfLens(strong, SIZE, 'out'), SIZE, 'in')).toMatchObject({ betterAs: 'out' });
  });
  test('a map of another shape, one of 8 bits, a photograph and an empty one are refused in words', () => {
    expect(codeOf(() => lensFromMap(mapOfLens(LENS, { width: 480, height: 360 }, 'out'), SIZE, 'out'))).toBe(
      'lens-map-shape',
    );
    expect(codeOf(() => mapOfPicture({ width: 2, height: 1, peak: 255, data: new Uint8Array(6) }))).toBe(
      'lens-map-none',
    );
    const { width, height } = SIZE;
    const n = width * height;
    expect(
      codeOf(() => lensFromMap({ width, height, s: new Float32Array(n), t: new Float32Array(n) }, SIZE, 'out')),
    ).toBe('lens-map-none');
    expect(
      codeOf(() =>
        lensFromMap(
          {
            width,
            height,
            s: Float32Array.from({ length: n }, (_, i) => (Math.sin(i * 0.37) + 1) / 2),
            t: Float32Array.from({ length: n }, (_, i) => (Math.cos(i * 0.11) + 1) / 2),
          },
          SIZE,
          'out',
        ),
      ),
    ).toBe('lens-map-none');
    expect(mapOfPicture({ width: 1, height: 1, peak: 65535, data: Uint16Array.from([32768, 65535, 0]) }).t).toEqual(
      Float32Array.of(1),
    );
  });
});

test('damped least squares finds the bottom of a curved valley (H. Rosenbrock, An automatic method for finding the greatest or least value of a function, 1960: at 1, 1)', () => {
  const { unknowns } = dampedLeastSquares(([x, y]) => Float64Array.of(10 * (y! - x! * x!), 1 - x!), [-1.2, 1], 200);
  expect(unknowns[0]).toBeCloseTo(1, 5);
  expect(unknowns[1]).toBeCloseTo(1, 5);
});
