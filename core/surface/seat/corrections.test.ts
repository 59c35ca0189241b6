import { describe, expect, test } from 'vitest';
import type { Quad } from '../../base/geometry/quad.ts';
import { applyToPoint, compose, invert, type Homography, type Point } from '../../base/geometry/homography.ts';
import { CornerMoves, moveCorrections, type Correction } from './corrections.ts';

const key = (frame: number, dx: number, change: Partial<Correction> = {}): Correction => ({
  frame,
  corner: 1,
  dx,
  dy: -dx,
  ...change,
});
const xs = (keys: Correction[], frames: number[], reference = 0) => {
  const moves = new CornerMoves(keys, reference);
  return frames.map((f) => moves.at(1, f)[0]);
};

describe('between keys', () => {
  test('a smooth way has the slopes of Fritsch and Butland: 1.5 between ways of 1 and 3', () => {
    // Slopes at (0,0), (10,10), (20,40) px: harmonic mean 1.5 in the middle, one way's at the ends; cubic Hermite between.
    const expected = (t: number) =>
      10 * (1 * (t - 2 * t ** 2 + t ** 3) + (3 * t ** 2 - 2 * t ** 3) * 1 + 1.5 * (t ** 3 - t ** 2));
    xs([key(10, 10), key(20, 40)], [2, 5, 8]).forEach((x, i) =>
      expect(x).toBeCloseTo(expected([0.2, 0.5, 0.8][i]!), 9),
    );
  });
  test('it never leaves the keys on either side, and turns without overshoot', () => {
    const all = xs(
      [key(10, 3), key(20, 3.1), key(30, 0)],
      Array.from({ length: 31 }, (_, i) => i),
    );
    for (let f = 0; f < 30; f++)
      expect(f < 20 ? all[f + 1]! - all[f]! : all[f]! - all[f + 1]!).toBeGreaterThanOrEqual(-1e-12);
    expect(Math.max(...all)).toBeCloseTo(3.1, 9);
  });
  test('straight, held, and for one frame alone', () => {
    expect(xs([key(10, 2, { ease: 'linear' }), key(20, 4)], [15])[0]).toBeCloseTo(3, 9);
    expect(xs([key(10, 2, { ease: 'hold' }), key(20, 4)], [10, 19, 20])).toEqual([2, 2, 4]);
    expect(xs([key(10, 2, { ease: 'single' })], [9, 10, 11])).toEqual([0, 2, 0]);
  });
});

test('the reference counts as a key of no move, unless it has one; beyond the keys their move goes on', () => {
  expect(xs([key(20, 4)], [-5, 0, 10, 20, 90])).toEqual([0, 0, 2, 4, 4]);
  expect(xs([key(0, 1), key(20, 4)], [0, 20])).toEqual([1, 4]);
});
test('muted keys are not there, weakened ones count in part', () => {
  expect(xs([key(20, 4, { muted: true })], [20])).toEqual([0]);
  expect(xs([key(20, 4, { strength: 0.25 })], [20])).toEqual([1]);
});
test('other corners stay, and a quad without keys is itself', () => {
  const quad: Quad = [
    [0, 0],
    [10, 0],
    [10, 10],
    [0, 10],
  ];
  expect(new CornerMoves([], 0).moved(quad, 4)).toBe(quad);
  expect(new CornerMoves([key(5, 2)], 0).moved(quad, 5)).toEqual([
    [0, 0],
    [12, -2],
    [10, 10],
    [0, 10],
  ]);
});

test('another reference frame: on keyed frames and on both references the corners stay where they were, between them to a thousandth', () => {
  const quad: Quad = [
    [10, 10],
    [90, 12],
    [88, 70],
    [9, 66],
  ];
  const toNew: Homography = [1.1, 0.05, 20, -0.04, 0.95, 8, 2e-4, -1e-4, 1];
  const keys = [
    key(5, 2),
    key(12, 3),
    { ...key(12, 1), corner: 3, strength: 0.5 },
    key(20, -1),
    { ...key(9, 1.5), ease: 'single' as const },
    { ...key(30, 2), muted: true },
  ];
  const { corners, corrections } = moveCorrections(quad, keys, 0, 12, (p: Point) => applyToPoint(toNew, p));
  const before = new CornerMoves(keys, 0);
  const after = new CornerMoves(corrections, 12);
  for (const frame of [0, 5, 12, 20]) {
    // A frame's map from the new reference is that from the old one, led back.
    const old: Homography = [1, 0.01, frame, 0, 1, 2, 0, 0, 1];
    const fresh = compose(old, invert(toNew)!);
    before
      .moved(quad, frame)
      .forEach((corner, i) =>
        applyToPoint(old, corner).forEach((v, k) =>
          expect(applyToPoint(fresh, after.moved(corners, frame)[i]!)[k]).toBeCloseTo(v, 3),
        ),
      );
  }
  expect(after.at(1, 12)).toEqual([0, 0]);
  expect(corrections.filter((c) => c.muted).map((c) => c.frame)).toEqual([30]);
  expect(corrections.filter((c) => c.ease === 'single').map((c) => c.frame)).toEqual([9]);
});
