import { expect, test } from 'vitest';
import type { Point } from '../../base/geometry/homography.ts';
import { sweptCover } from './swept-cover.ts';

const square = (x: number): Point[] => [
  [x, 2],
  [x + 20, 2],
  [x + 20, 8],
  [x, 8],
];
const box = { left: 0, top: 0, right: 60, bottom: 10 };

test('a square that goes 16 px covers a pixel for as long as it is over it', () => {
  const cover = sweptCover([square(10), square(18), square(26)], box, 3, 64)!;
  const at = (x: number) => cover[5 * 60 + x]!;
  expect(at(5)).toBe(0);
  // Its left side leaves pixel x when (x + ½ − 10) / 16 of the time have gone; its right side, at 30 first, comes later.
  for (const x of [12, 18, 24]) expect(Math.abs(at(x) - (x + 0.5 - 10) / 16)).toBeLessThan(0.08);
  expect(at(28)).toBeCloseTo(1, 5);
  for (const x of [32, 38, 44]) expect(Math.abs(at(x) - (1 - (x + 0.5 - 30) / 16))).toBeLessThan(0.08);
  expect(cover[1 * 60 + 28]).toBe(0);
});

test('what hardly moves is not determined, nor outlines of different points', () => {
  expect(sweptCover([square(10), square(11), square(12)], box, 3, 64)).toBeNull();
  expect(sweptCover([square(10), square(30).slice(1)], box, 3, 64)).toBeNull();
  expect(sweptCover([square(10)], box, 3, 64)).toBeNull();
});
