import { describe, expect, test } from 'vitest';
import { fillPolygon } from './polygon.ts';
import {
  carryOutline,
  everCovered,
  keyThatDoesNotFit,
  outlineAt,
  polygonOf,
  type HandlePair,
  type KeyedOutline,
} from './outline.ts';

const SQUARE: [number, number][] = [
  [10, 10],
  [30, 10],
  [30, 30],
  [10, 30],
];
const moved = (dx: number) => SQUARE.map(([x, y]): [number, number] => [x + dx, y]);

describe('keys', () => {
  const keyed: KeyedOutline = {
    points: SQUARE,
    keys: [
      { frame: 30, points: moved(20) },
      { frame: 10, points: moved(-4) },
    ],
  };

  test.each([
    [0, -4],
    [10, -4],
    [15, -2],
    [20, 0],
    [25, 10],
    [30, 20],
    [99, 20],
  ])('on frame %i it has moved by %i', (frame, dx) => {
    expect(outlineAt(keyed, 20, frame).points[0]).toEqual([10 + dx, 10]);
  });

  test('handles go over into each other, and from straight', () => {
    const handles: HandlePair[] = SQUARE.map(() => [-4, 0, 4, 0]);
    expect(outlineAt({ points: SQUARE, keys: [{ frame: 10, points: SQUARE, handles }] }, 0, 5).handles![2]).toEqual([
      -2, 0, 2, 0,
    ]);
  });

  test('all positions on the way are covered', () => {
    const mask = new Uint8Array(60 * 40);
    for (const polygon of everCovered(keyed, 20)) fillPolygon(mask, 60, 40, polygon, 1);
    expect(mask.reduce((a, b) => a + b, 0)).toBe((30 + 20 - 6) * 20);
  });

  test('a key of another number of points is refused', () => {
    expect(keyThatDoesNotFit(keyed)).toBeNull();
    expect(keyThatDoesNotFit({ points: SQUARE, keys: [{ frame: 7, points: SQUARE.slice(1) }] })).toMatchObject({
      frame: 7,
    });
    expect(keyThatDoesNotFit({ points: SQUARE, handles: [[0, 0, 1, 0]] })).toEqual({ frame: null });
  });
});

describe('curves', () => {
  // Four Bézier arcs: the usual approximation of a circle, off by less than 0.03 % of the radius (common practice, k = 4/3·(√2 − 1)).
  const k = (4 / 3) * (Math.SQRT2 - 1) * 50;
  const circle = {
    points: [
      [50, 0],
      [100, 50],
      [50, 100],
      [0, 50],
    ] as [number, number][],
    handles: [
      [-k, 0, k, 0],
      [0, -k, 0, k],
      [k, 0, -k, 0],
      [0, k, 0, -k],
    ] as HandlePair[],
  };

  test('a circle of four arcs is round', () => {
    const polygon = polygonOf(circle);
    expect(polygon.length).toBeGreaterThan(100);
    for (const [x, y] of polygon) expect(Math.hypot(x - 50, y - 50)).toBeCloseTo(50, 1);
  });

  test('sides without handles stay straight', () => {
    expect(polygonOf({ points: SQUARE, handles: SQUARE.map(() => [0, 0, 0, 0] as HandlePair) })).toEqual(SQUARE);
  });

  test('a map carries points, handles and keys', () => {
    const carried = carryOutline({ ...circle, keys: [{ frame: 3, points: circle.points }] }, ([x, y]) => [
      2 * x + 1,
      2 * y,
    ]);
    expect(carried.points[0]).toEqual([101, 0]);
    expect(carried.handles[0]![2]).toBeCloseTo(2 * k, 9);
    expect(carried.keys[0]!.points[1]).toEqual([201, 100]);
  });
});
