import { expect, test } from 'vitest';
import { convexHull } from './convex-hull.ts';
import { signedArea, type Quad } from './quad.ts';

test('what two squares apart span together, points within and on sides left out', () => {
  const hull = convexHull([
    [0, 0],
    [4, 0],
    [4, 4],
    [0, 4],
    [2, 2],
    [2, 0],
    [7, 1],
    [11, 1],
    [11, 5],
    [7, 5],
  ]);
  expect(hull).toHaveLength(6);
  for (const corner of [
    [0, 0],
    [4, 0],
    [11, 1],
    [11, 5],
    [7, 5],
    [0, 4],
  ])
    expect(hull).toContainEqual(corner);
});
test('it goes round as a quad does, and of a quad it is the quad', () => {
  const quad: Quad = [
    [1, 1],
    [9, 2],
    [8, 7],
    [2, 8],
  ];
  const hull = convexHull(quad);
  expect(hull).toHaveLength(4);
  expect(signedArea(hull as unknown as Quad) * signedArea(quad)).toBeGreaterThan(0);
});
