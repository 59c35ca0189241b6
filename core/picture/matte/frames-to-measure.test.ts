import { expect, test } from 'vitest';
import type { Quad } from '../../base/geometry/quad.ts';
import { framesToMeasure } from './frames-to-measure.ts';

/** A surface at `x` on a frame. */
const at = (x: number): Quad => [
  [x, 0],
  [x + 100, 0],
  [x + 100, 60],
  [x, 60],
];
const frames = (count: number) => Array.from({ length: count }, (_, f) => f);

test('frames are spread evenly over where the surface is known, near both ends', () => {
  expect(framesToMeasure(frames(48), () => at(0))).toEqual([2, 6, 10, 14, 18, 22, 26, 30, 34, 38, 42, 46]);
  expect(framesToMeasure([3, 9], () => at(0))).toEqual([3, 9]);
  expect(framesToMeasure([], () => null)).toEqual([]);
});

test('where it is thrown, its smeared frames are left out, and the calmest of a stretch is taken', () => {
  // Thrown from frame 16 on, 30 px a frame, until frame 30; held before and after. Frame 14 begins a stretch.
  const x = (f: number) => 30 * Math.min(14, Math.max(0, f - 16));
  const chosen = framesToMeasure(frames(48), (f) => at(x(f)));
  expect(chosen.every((f) => x(f + 1) - x(f - 1) <= 12)).toBe(true);
  expect(chosen).toContain(2);
  expect(chosen).toContain(46);
  expect(chosen.length).toBeGreaterThanOrEqual(8);
});

test('where it is never calm, all stretches are looked at, each on its calmest frame', () => {
  const x = (f: number) => 20 * f + (f % 4 === 1 ? 8 : 0);
  const chosen = framesToMeasure(frames(48), (f) => at(x(f)));
  expect(chosen).toHaveLength(12);
});
