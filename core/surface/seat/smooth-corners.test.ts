import { describe, expect, test } from 'vitest';
import { randomFrom } from '../../../demo/scene/random.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { smoothCorners, smoothZeroPhase } from './smooth-corners.ts';

describe('the filter', () => {
  // A. Oppenheim, R. Schafer, Discrete-Time Signal Processing, 3rd ed. 2010: h[n] = a·bⁿ u[n] run forward and backward is a/(2 − a)·b^|n|, b = 1 − a.
  test.each([0.7, 2, 4])('has the textbook impulse response of forward and backward filtering, τ = %f', (tau) => {
    const impulse = new Array<number>(121).fill(0).with(60, 1);
    const a = 1 - Math.exp(-1 / tau);
    const found = smoothZeroPhase(impulse, tau);
    for (let n = -40; n <= 40; n++) expect(found[60 + n]).toBeCloseTo((a / (2 - a)) * (1 - a) ** Math.abs(n), 6);
  });
  test('has no lag: a straight way stays where it is, to its ends', () => {
    const way = Array.from({ length: 50 }, (_, i) => 3 - 0.8 * i);
    smoothZeroPhase(way, 3).forEach((v, i) => expect(v).toBeCloseTo(way[i]!, 2));
  });
  test('of no time is the input', () => expect(smoothZeroPhase([1, 5, 2], 0)).toEqual([1, 5, 2]));
});

const square = (x: number, y: number): Quad => [
  [x, y],
  [x + 10, y],
  [x + 10, y + 10],
  [x, y + 10],
];
const path = (at: (f: number) => number, bound = 0.2, count = 60) =>
  Array.from({ length: count }, (_, frame) => ({
    frame,
    corners: square(at(frame), 5),
    bounds: [bound, bound, bound, bound],
  }));

describe('corner paths', () => {
  test('amount 0 is exactly the input', () => {
    const given = path((f) => Math.sin(f));
    for (const p of given) expect(smoothCorners(given, 0).get(p.frame)).toEqual(p.corners);
  });
  test('noise below the bound is taken away', () => {
    const random = randomFrom(8);
    const given = path((f) => 0.5 * f + 0.24 * (random() - 0.5));
    const found = smoothCorners(given, 0.6);
    const rough = (at: (f: number) => number) =>
      Math.sqrt(given.slice(5, 55).reduce((s, p) => s + (at(p.frame) - 0.5 * p.frame) ** 2, 0) / 50);
    expect(rough((f) => found.get(f)![0][0])).toBeLessThan(0.55 * rough((f) => given[f]!.corners[0][0]));
  });
  test('a real jerk stays', () => {
    const found = smoothCorners(
      path((f) => (f < 30 ? 0 : 8), 0.1),
      1,
    );
    expect(found.get(29)![0][0]).toBeCloseTo(0, 1);
    expect(found.get(30)![0][0]).toBeCloseTo(8, 1);
  });
  test('nothing is carried over a hole', () => {
    const given = path((f) => (f < 20 ? 0 : 5), 10).filter((p) => p.frame < 20 || p.frame > 25);
    const found = smoothCorners(given, 1);
    expect(found.get(19)![0][0]).toBeCloseTo(0, 9);
    expect(found.get(26)![0][0]).toBeCloseTo(5, 9);
    expect(found.has(22)).toBe(false);
  });
});
