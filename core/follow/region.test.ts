import { expect, test } from 'vitest';
import { fixedMask, regionMask } from './region.ts';

const BOX = (x: number, y: number, side: number) => ({ points: [[x, y], [x + side, y], [x + side, y + side], [x, y + side]] as [number, number][] });

test('looks inside any region and outside every keep-out', () => {
  const mask = regionMask(20, 10, [BOX(1, 1, 6), BOX(10, 2, 6)], [BOX(3, 3, 2), { ...BOX(12, 4, 2), fixed: true }]);
  expect(mask.reduce((a, b) => a + b, 0)).toBe(36 + 36 - 4 - 4);
  expect(mask[3 * 20 + 3]).toBe(0);
});

test('a region may reach outside the picture', () => {
  expect(regionMask(10, 10, [BOX(-5, -5, 8)], []).reduce((a, b) => a + b, 0)).toBe(9);
});

test('only fixed keep-outs stay in the picture', () => {
  expect(fixedMask(10, 10, [BOX(2, 2, 3)])).toBeNull();
  const mask = fixedMask(10, 10, [BOX(2, 2, 3), { ...BOX(5, 5, 2), fixed: true }])!;
  expect(mask.filter((v) => v === 0)).toHaveLength(4);
});
