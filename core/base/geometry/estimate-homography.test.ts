import { describe, expect, test } from 'vitest';
import { randomFrom } from '../../../demo/scene/random.ts';
import { GRID, GRID_MAP as TRUE, noisyGrid, PINNED } from '../../../bench/reference/golden-cases.ts';
import { golden } from '../../../bench/reference/golden.ts';
import { estimateHomography, homographyBetweenQuads } from './estimate-homography.ts';
import { applyToPoint, type Point } from './homography.ts';
import { UNIT_SQUARE } from './quad.ts';

describe('estimateHomography', () => {
  test('finds the exact map from four points', () => {
    const from = [GRID[0]!, GRID[5]!, GRID[29]!, GRID[24]!];
    const estimate = estimateHomography(
      from,
      from.map((p) => applyToPoint(TRUE, p)),
    );
    expect(estimate.ok).toBe(true);
    if (!estimate.ok) return;
    estimate.homography.forEach((v, i) => expect(v).toBeCloseTo(TRUE[i]!, 9));
    expect(estimate.rms).toBeLessThan(1e-8);
  });

  test('finds the least-squares map of noisy points about as well as the reference library', () => {
    const ours = estimateHomography(GRID, noisyGrid());
    // OpenCV, findHomography(method 0): least squares over all points.
    const reference = golden('homography-of-noisy-grid');
    expect(ours.ok).toBe(true);
    if (!ours.ok) return;
    for (const p of GRID) {
      const [x, y] = applyToPoint(ours.homography, p);
      const [u, v] = applyToPoint(reference, p);
      expect(Math.hypot(x - u, y - v)).toBeLessThan(0.05);
    }
    expect(ours.rms).toBeLessThan(0.45);
  });

  test.each<[string, Point[], string]>([
    [
      'three points',
      [
        [0, 0],
        [1, 0],
        [1, 1],
      ],
      'too-few-points',
    ],
    [
      'four on a line',
      [
        [0, 0],
        [1, 1],
        [2, 2],
        [3, 3],
      ],
      'degenerate',
    ],
    [
      'three on a line',
      [
        [0, 0],
        [50, 0],
        [100, 0],
        [50, 80],
      ],
      'degenerate',
    ],
    [
      'one point four times',
      [
        [5, 5],
        [5, 5],
        [5, 5],
        [5, 5],
      ],
      'degenerate',
    ],
  ])('says why there is no map: %s', (_, from, reason) => {
    expect(estimateHomography(from, from)).toEqual({ ok: false, reason });
  });

  test('refuses lists of different lengths', () => {
    expect(() => estimateHomography(GRID, GRID.slice(1))).toThrow(RangeError);
  });
});

describe('homographyBetweenQuads', () => {
  test('agrees with the reference library', () => {
    const ours = homographyBetweenQuads(UNIT_SQUARE, PINNED)!;
    // OpenCV, getPerspectiveTransform.
    golden('homography-of-pin').forEach((v, i) =>
      expect(Math.abs(ours[i]! - v)).toBeLessThan(1e-3 * Math.max(1, Math.abs(v))),
    );
    PINNED.forEach((corner, i) => {
      const [x, y] = applyToPoint(ours, UNIT_SQUARE[i]!);
      expect(x).toBeCloseTo(corner[0], 9);
      expect(y).toBeCloseTo(corner[1], 9);
    });
  });

  test('is the direct linear transform of four points, also for quads that are turned over', () => {
    const random = randomFrom(11);
    const quad = (): Point[] =>
      [
        [0, 0],
        [1, 0],
        [1, 1],
        [0, 1],
      ].map(([x, y]): Point => [900 * x! + 300 * random(), 500 * y! + 200 * random()]);
    for (let i = 0; i < 50; i++) {
      const from = quad();
      const to = i % 2 ? quad() : quad().reverse();
      const estimate = estimateHomography(from, to);
      const ours = homographyBetweenQuads(from, to)!;
      expect(estimate.ok).toBe(true);
      if (!estimate.ok) continue;
      for (const p of GRID.filter(([x, y]) => x < 900 && y < 500))
        applyToPoint(ours, p).forEach((v, k) =>
          expect(Math.abs(v - applyToPoint(estimate.homography, p)[k]!)).toBeLessThan(1e-7 * Math.max(1, Math.abs(v))),
        );
    }
  });

  test('is none where three corners lie on a line, on either side', () => {
    const flat: Point[] = [
      [0, 0],
      [50, 0],
      [100, 0],
      [50, 80],
    ];
    expect(homographyBetweenQuads(flat, UNIT_SQUARE)).toBeNull();
    expect(homographyBetweenQuads(UNIT_SQUARE, flat)).toBeNull();
    expect(
      homographyBetweenQuads(UNIT_SQUARE, [
        [5, 5],
        [5, 5],
        [5, 5],
        [5, 5],
      ]),
    ).toBeNull();
    expect(() => homographyBetweenQuads(GRID, GRID)).toThrow(RangeError);
  });
});
