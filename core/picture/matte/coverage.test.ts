import { describe, expect, test } from 'vitest';
import type { Point } from '../../base/geometry/homography.ts';
import { coverageOf, meanCoverage } from './coverage.ts';

const BOX = { left: -3, top: 2, right: 37, bottom: 32 };

/** The part of a convex polygon within a pixel, cut side by side (I. Sutherland, G. Hodgman, Reentrant polygon clipping, CACM 17(1), 1974), and its area by the shoelace formula. */
function exactShare(polygon: readonly Point[], col: number, row: number): number {
  let rest: Point[] = [...polygon];
  for (const [axis, at, sign] of [
    [0, col, 1],
    [0, col + 1, -1],
    [1, row, 1],
    [1, row + 1, -1],
  ] as const) {
    const inside = (p: Point) => sign * (p[axis] - at) >= 0;
    const next: Point[] = [];
    rest.forEach((p, i) => {
      const q = rest[(i + 1) % rest.length]!;
      const t = (at - p[axis]) / (q[axis] - p[axis]);
      if (inside(p)) next.push(p);
      if (inside(p) !== inside(q)) next.push([p[0] + t * (q[0] - p[0]), p[1] + t * (q[1] - p[1])]);
    });
    rest = next;
  }
  return (
    Math.abs(
      rest.reduce(
        (sum, p, i) => sum + p[0] * rest[(i + 1) % rest.length]![1] - rest[(i + 1) % rest.length]![0] * p[1],
        0,
      ),
    ) / 2
  );
}

function regular(sides: number, x: number, y: number, radius: number, turn: number): Point[] {
  return Array.from(
    { length: sides },
    (_, i) =>
      [
        x + radius * Math.cos(turn + (2 * Math.PI * i) / sides),
        y + radius * Math.sin(turn + (2 * Math.PI * i) / sides),
      ] as const,
  );
}

describe('coverage of a polygon', () => {
  test.each([
    ['a triangle', regular(3, 14.3, 15.8, 11.2, 0.3)],
    [
      'a thin sliver',
      [
        [2.1, 3.2],
        [33.7, 20.9],
        [33.9, 21.4],
      ] as Point[],
    ],
    ['many sides', regular(41, 16.2, 17.1, 12.6, 0.1)],
    ['less than a pixel', regular(5, 9.4, 9.6, 0.31, 1)],
    ['beyond every side of the box', regular(7, 17, 17, 60, 0.2)],
    ['half outside', regular(6, 36, 31, 9, 0.4)],
    [
      'along the pixels',
      [
        [4, 5],
        [9, 5],
        [9, 12],
        [4, 12],
      ] as Point[],
    ],
  ])('%s: the exact area of each pixel', (_, polygon) => {
    for (const way of [polygon, [...polygon].reverse()]) {
      const { data } = coverageOf([way], BOX);
      let worst = 0;
      for (let row = BOX.top, i = 0; row < BOX.bottom; row++)
        for (let col = BOX.left; col < BOX.right; col++, i++)
          worst = Math.max(worst, Math.abs(data[i]! - exactShare(polygon, col, row)));
      expect(worst).toBeLessThan(2e-5);
    }
  });
  test('two polygons over each other count once; a hole gone round the other way is free', () => {
    const outer = regular(4, 15, 15, 10, 0);
    const inner = [...regular(4, 15, 15, 5, 0)].reverse();
    const at = (data: Float32Array, col: number, row: number) => data[(row - BOX.top) * 40 + col - BOX.left]!;
    expect(at(coverageOf([outer, regular(4, 16, 15, 10, 0)], BOX).data, 15, 15)).toBe(1);
    const ring = coverageOf([outer, inner], BOX).data;
    expect(at(ring, 15, 15)).toBe(0);
    expect(at(ring, 8, 15)).toBeCloseTo(1, 5);
  });
});

test('the mean over moments is the mean of what each covers, whatever came before', () => {
  const outlines = [0, 3.3, 7.9].map((by): Point[] => [
    [-8 + by, 4.2],
    [30.7 + by, 6.1],
    [44 + by, 28.4],
    [2.5 + by, 40],
  ]);
  const each = outlines.map((outline) => coverageOf([outline], BOX).data);
  const mean = meanCoverage(outlines, BOX).data;
  let worst = 0;
  for (let i = 0; i < mean.length; i++)
    worst = Math.max(worst, Math.abs(mean[i]! - (each[0]![i]! + each[1]![i]! + each[2]![i]!) / 3));
  expect(worst).toBeLessThan(1e-5);
  // Nothing of one outline is left for the next, smaller or larger.
  expect(
    coverageOf(
      [
        [
          [0, 4],
          [5, 4],
          [5, 9],
          [0, 9],
        ],
      ],
      { left: 0, top: 0, right: 20, bottom: 12 },
    ).data.reduce((a, b) => a + b),
  ).toBeCloseTo(25, 4);
  expect(coverageOf([], BOX).data.every((v) => v === 0)).toBe(true);
});
