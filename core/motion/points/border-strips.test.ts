import { expect, test } from 'vitest';
import type { Point } from '../../base/geometry/homography.ts';
import { quadFault, signedArea, type Quad } from '../../base/geometry/quad.ts';
import { borderStrips } from './border-strips.ts';

const corners = (places: readonly Point[], side: number) =>
  places.map((at) => ({ at, pattern: [side, side] as const }));
const areaOf = (points: readonly Point[]) => Math.abs(signedArea(points));

test('along the sides of a rectangle lie strips of the pattern’s width, their ends the patterns', () => {
  const strips = borderStrips(
    corners(
      [
        [100, 50],
        [300, 50],
        [300, 150],
        [100, 150],
      ],
      20,
    ),
  );
  expect(strips.map((s) => s.points)).toEqual([
    [
      [90, 40],
      [310, 40],
      [290, 60],
      [110, 60],
    ],
    [
      [310, 40],
      [310, 160],
      [290, 140],
      [290, 60],
    ],
    [
      [310, 160],
      [90, 160],
      [110, 140],
      [290, 140],
    ],
    [
      [90, 160],
      [90, 40],
      [110, 60],
      [110, 140],
    ],
  ]);
  expect(strips.reduce((sum, s) => sum + areaOf(s.points), 0)).toBeCloseTo(220 * 120 - 180 * 80, 9);
});

test('patterns larger than the screen leave the strips whole', () => {
  const quad: Quad = [
    [100, 50],
    [130, 54],
    [128, 76],
    [101, 70],
  ];
  for (const { points } of borderStrips(corners(quad, 61))) expect(quadFault(points as unknown as Quad)).toBeNull();
});
