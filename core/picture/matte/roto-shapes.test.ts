import { describe, expect, test } from 'vitest';
import type { Point } from '../../base/geometry/homography.ts';
import { BLOB } from '../../../bench/reference/golden-cases.ts';
import { golden } from '../../../bench/reference/golden.ts';
import { applyShape, flattened, shapeOnFrame, takeShape, type ShapeSetting } from './roto-shapes.ts';
import type { PixelBox } from '../../base/image/pixel-box.ts';
import type { FrontShape } from '../../base/schemas/types.ts';
import { shapeMatte } from './shape-matte.ts';

describe('shapes', () => {
  const box = { left: 0, top: 0, right: 80, bottom: 60 };

  test('a curved outline covers what the reference library fills at 16 times the size (fillPoly)', () => {
    const fine = 16;
    const { points } = flattened(
      BLOB.points,
      BLOB.handles,
      () => [0, 0],
      (p) => p,
    );
    const ours = shapeMatte({ points, inner: points.map(() => 0), outer: points.map(() => 0) }, box).data;
    const expected = golden('outline-of-curves');
    const off = Array.from(ours, (covered, i) => Math.abs(covered - expected[i]!));
    // fillPoly also fills pixels that the border only touches: half a fine pixel more on each side.
    expect(Math.max(...off)).toBeLessThan(1.5 / fine);
    expect(off.reduce((a, b) => a + b) / off.length).toBeLessThan(0.003);
  }, 60_000);

  test('a soft edge fades from its outer to its inner width, and widths go from point to point', () => {
    const square: Point[] = [
      [20, 10],
      [60, 10],
      [60, 50],
      [20, 50],
    ];
    const matte = shapeMatte({ points: square, inner: [4, 4, 4, 4], outer: [6, 6, 6, 6] }, box).data;
    const at = (x: number, y: number) => matte[y * 80 + x]!;
    expect(at(13, 30)).toBe(0);
    expect(at(24, 30)).toBeGreaterThan(0.98);
    expect(at(20, 30)).toBeGreaterThan(at(19, 30));
    expect(at(18, 30) + at(19, 30)).toBeLessThan(1.2);
    const uneven = shapeMatte({ points: square, inner: [0, 0, 8, 8], outer: [0, 0, 8, 8] }, box).data;
    expect(uneven[11 * 80 + 15]).toBeLessThan(0.05);
    expect(uneven[48 * 80 + 15]).toBeGreaterThan(0.05);
  });

  const setting = (frame: number): ShapeSetting => ({
    motion: {
      before: null,
      now: [
        [10, 0],
        [50, 0],
        [50, 40],
        [10, 40],
      ],
      after: [
        [20, 0],
        [60, 0],
        [60, 40],
        [20, 40],
      ],
    },
    frame,
    reference: [
      [0, 0],
      [40, 0],
      [40, 40],
      [0, 40],
    ],
    referenceFrame: 0,
    shutter: 180,
    phase: 0,
    mostMoments: 16,
  });
  const centre = (m: Float32Array) =>
    m.reduce((sum, v, i) => sum + v * ((i % 80) + 0.5), 0) / m.reduce((a, b) => a + b, 0);
  const square = {
    points: [
      [5, 5],
      [25, 5],
      [25, 25],
      [5, 25],
    ] as [number, number][],
  };

  test('rides on the surface, or stays in the picture', () => {
    expect(centre(shapeOnFrame(square, setting(0), box))).toBeCloseTo(25, 3);
    expect(centre(shapeOnFrame({ ...square, rides: 'plate' }, setting(0), box))).toBeCloseTo(15, 3);
  });
  test('goes straight between its keys, in whole and in single points', () => {
    const moved = [
      [25, 5],
      [45, 5],
      [45, 25],
      [25, 25],
    ] as [number, number][];
    const shape = { ...square, rides: 'plate' as const, home: 10, keys: [{ frame: 20, points: moved }] };
    expect(centre(shapeOnFrame(shape, setting(15), box))).toBeCloseTo(25, 3);
    expect(centre(shapeOnFrame(shape, setting(5), box))).toBeCloseTo(15, 3);
    expect(centre(shapeOnFrame(shape, setting(30), box))).toBeCloseTo(35, 3);
  });
  test('is smeared by its own motion, keeping what it covers', () => {
    const sharp = shapeOnFrame(square, setting(0), box);
    const smeared = shapeOnFrame({ ...square, blur: true }, setting(0), box);
    const sum = (m: Float32Array) => m.reduce((a, b) => a + b, 0);
    expect(sum(smeared)).toBeCloseTo(sum(sharp), 0);
    expect(smeared.filter((v) => v > 0.05 && v < 0.95).length).toBeGreaterThan(40);
    expect(sharp.filter((v) => v > 0.05 && v < 0.95).length).toBe(0);
  });
  test('keeps, removes, bounds; inverted and faint', () => {
    const one = shapeOnFrame({ ...square, rides: 'plate', opacity: 0.5 }, setting(0), box);
    const matte = new Float32Array(4800).fill(0.4);
    const at = 10 * 80 + 10;
    expect(one[at]).toBe(0.5);
    applyShape(matte, one, 'keep');
    expect(matte[at]).toBeCloseTo(0.7, 6);
    applyShape(matte, one, 'remove');
    expect(matte[at]).toBeCloseTo(0.35, 6);
    applyShape(matte, shapeOnFrame({ ...square, rides: 'plate', invert: true }, setting(0), box), 'within');
    expect(matte[at]).toBe(0);
    expect(matte[0]).toBeCloseTo(0.4, 6);
  });
});

describe('a shape taken into a matte where it is', () => {
  const big: PixelBox = { left: 3, top: 2, right: 83, bottom: 62 };
  const setting: ShapeSetting = {
    motion: {
      before: [
        [0, 0],
        [40, 0],
        [40, 40],
        [0, 40],
      ],
      now: [
        [10, 0],
        [50, 0],
        [50, 40],
        [10, 40],
      ],
      after: [
        [20, 0],
        [60, 0],
        [60, 40],
        [20, 40],
      ],
    },
    frame: 0,
    reference: [
      [0, 0],
      [40, 0],
      [40, 40],
      [0, 40],
    ],
    referenceFrame: 0,
    shutter: 180,
    phase: 0,
    mostMoments: 12,
  };
  const shape: FrontShape = {
    points: [
      [5, 5],
      [28, 9],
      [22, 31],
    ],
    soft: [2, 4],
    blur: true,
    opacity: 0.8,
  };
  test.each<[string, Partial<FrontShape>]>([
    ['keeps', {}],
    ['removes', { does: 'remove' }],
    ['bounds', { does: 'within' }],
    ['keeps all but itself', { invert: true }],
    [
      'is soft at one point',
      {
        softness: [
          [0, 0],
          [6, 6],
          [1, 1],
        ],
      },
    ],
    [
      'lies outside',
      {
        rides: 'plate',
        points: [
          [-50, -50],
          [-30, -50],
          [-30, -20],
        ],
      },
    ],
  ])('as if it were determined for all of the box: it %s', (_, change) => {
    const one = { ...shape, ...change };
    const start = Float32Array.from({ length: 4800 }, (_v, i) => (i % 7) / 7);
    const whole = start.slice();
    const part = start.slice();
    applyShape(whole, shapeOnFrame(one, setting, big), one.does);
    takeShape(part, one, setting, big);
    whole.forEach((v, i) => expect(Math.abs(v - part[i]!)).toBeLessThan(1e-6));
  });
});
