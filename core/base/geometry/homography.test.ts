import { describe, expect, test } from 'vitest';
import {
  applyToPoint,
  compose,
  determinant,
  IDENTITY,
  invert,
  jacobianAt,
  keepsInFront,
  multiply,
  normalise,
  scaling,
  shiftOrigin,
  translation,
  type Homography,
} from './homography.ts';

const H: Homography = [1.1, 0.08, -20, -0.05, 0.94, 31, 2e-4, -1e-4, 1];

describe('composition', () => {
  test('applies the last map first', () => {
    expect(applyToPoint(compose(translation(5, 0), scaling(2)), [3, 4])).toEqual([11, 8]);
    expect(applyToPoint(compose(scaling(2), translation(5, 0)), [3, 4])).toEqual([16, 8]);
  });
  test('agrees with applying one after the other', () => {
    const both = applyToPoint(multiply(H, translation(7, -3)), [100, 200]);
    const inTurn = applyToPoint(H, [107, 197]);
    expect(both[0]).toBeCloseTo(inTurn[0], 9);
    expect(both[1]).toBeCloseTo(inTurn[1], 9);
  });
  test('keeps h22 at 1, or the norm where h22 vanishes', () => {
    expect(normalise([2, 0, 0, 0, 2, 0, 0, 0, 2])).toEqual([...IDENTITY]);
    expect(Math.hypot(...normalise([3, 0, 0, 0, 0, 4, 0, 1, 0]))).toBeCloseTo(1, 12);
  });
});

describe('inverse', () => {
  test('undoes the map', () => {
    const [x, y] = applyToPoint(invert(H)!, applyToPoint(H, [640, 360]));
    expect(x).toBeCloseTo(640, 8);
    expect(y).toBeCloseTo(360, 8);
  });
  test('is null for a map that folds the plane onto a line', () => {
    expect(invert([1, 2, 3, 2, 4, 6, 0, 0, 1])).toBeNull();
    expect(invert([NaN, 0, 0, 0, 1, 0, 0, 0, 1])).toBeNull();
  });
  test('has the determinant 1/d', () => {
    expect(determinant(multiply(invert(H)!, H)) ** (1 / 3)).toBeCloseTo(multiply(invert(H)!, H)[0]!, 9);
  });
});

test('tells when points lie on both sides of the vanishing line', () => {
  const steep: Homography = [1, 0, 0, 0, 1, 0, 0.01, 0, 1];
  expect(
    keepsInFront(steep, [
      [0, 0],
      [50, 0],
    ]),
  ).toBe(true);
  expect(
    keepsInFront(steep, [
      [0, 0],
      [-150, 0],
    ]),
  ).toBe(false);
  // The same map with all numbers negated is the same map.
  expect(
    keepsInFront(
      steep.map((v) => -v),
      [
        [0, 0],
        [50, 0],
      ],
    ),
  ).toBe(true);
});

test('moves between pixel conventions: the same place, counted from other origins', () => {
  const integer = shiftOrigin(H, 0.5);
  const [u, v] = applyToPoint(H, [100.5, 200.5]);
  const [i, j] = applyToPoint(integer, [100, 200]);
  expect(i + 0.5).toBeCloseTo(u, 9);
  expect(j + 0.5).toBeCloseTo(v, 9);
});

test('has the derivatives that differences show', () => {
  const e = 1e-5;
  const [uu, uv, vu, vv] = jacobianAt(H, [300, 150]);
  const at = (x: number, y: number) => applyToPoint(H, [x, y]);
  expect(uu).toBeCloseTo((at(300 + e, 150)[0] - at(300 - e, 150)[0]) / (2 * e), 6);
  expect(uv).toBeCloseTo((at(300, 150 + e)[0] - at(300, 150 - e)[0]) / (2 * e), 6);
  expect(vu).toBeCloseTo((at(300 + e, 150)[1] - at(300 - e, 150)[1]) / (2 * e), 6);
  expect(vv).toBeCloseTo((at(300, 150 + e)[1] - at(300, 150 - e)[1]) / (2 * e), 6);
});
