import { describe, expect, test } from 'vitest';
import { checkLook } from '../composite/check-look.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint } from '../../base/geometry/homography.ts';
import { signedArea, UNIT_SQUARE, type Quad } from '../../base/geometry/quad.ts';
import type { FrontShape, Look } from '../../base/schemas/types.ts';
import { asksFrames, coveredShare, type CleanFix } from '../look/clean-fix.ts';
import { fixOnFrame, type FixSetting } from './fix-on-frame.ts';
import { strokeOutline } from './stroke-outline.ts';

const HOME: Quad = [
  [100, 100],
  [300, 100],
  [300, 200],
  [100, 200],
];
const NOW: Quad = [
  [140, 90],
  [340, 110],
  [330, 215],
  [135, 190],
];
const setting = (frame: number, now = NOW): FixSetting => {
  const map = homographyBetweenQuads(UNIT_SQUARE, now)!;
  return {
    shapes: {
      motion: { before: null, now, after: null },
      frame,
      reference: HOME,
      referenceFrame: 0,
      shutter: 180,
      phase: 0,
      mostMoments: 1,
    },
    place: (u, v) => applyToPoint(map, [u, v]),
    back: homographyBetweenQuads(now, UNIT_SQUARE)!,
  };
};
const shape: FrontShape = {
  points: [
    [120, 120],
    [160, 120],
    [160, 150],
    [120, 150],
  ],
  home: 0,
};
const off = (a: readonly (readonly number[])[], b: readonly (readonly number[])[]) =>
  Math.max(...a.map((p, i) => Math.hypot(p[0]! - b[i]![0]!, p[1]! - b[i]![1]!)));

describe('a fix on a frame', () => {
  test('told in shares it is there on every frame; told by a shape it rides', () => {
    const shares = shape.points.map(([x, y]): [number, number] => [(x - 100) / 200, (y - 100) / 100]);
    for (const fix of [
      { outline: shares, method: 'smooth' },
      { shape, method: 'smooth' },
    ] as CleanFix[])
      expect(off(fixOnFrame(fix, setting(5)).outline, shares)).toBeLessThan(1e-9);
  });
  test('one that stays in the picture does not ride, and one with keys goes its own way', () => {
    const still = fixOnFrame({ shape: { ...shape, rides: 'plate' }, method: 'smooth' }, setting(5)).outline;
    const map = homographyBetweenQuads(UNIT_SQUARE, NOW)!;
    expect(
      off(
        still.map((p) => applyToPoint(map, p)),
        shape.points,
      ),
    ).toBeLessThan(1e-6);
    const keyed = fixOnFrame(
      {
        shape: {
          ...shape,
          keys: [{ frame: 10, points: shape.points.map(([x, y]): [number, number] => [x + 20, y]) }],
          opacity: [
            { frame: 0, value: 1 },
            { frame: 10, value: 0 },
          ],
        },
        method: 'smooth',
      },
      setting(5, HOME),
    );
    expect(keyed.outline[0]![0]).toBeCloseTo((130 - 100) / 200, 6);
    expect(keyed.opacity).toBeCloseTo(0.5, 6);
  });
  test('asks for other frames only where it is used', () => {
    expect(asksFrames([{ shape, method: 'frames' }])).toBe(true);
    expect(
      asksFrames([
        { shape, method: 'frames', off: true },
        { shape, method: 'patch', from: [0, 0] },
      ]),
    ).toBe(false);
  });
  test('what cannot be done is reported with what to do', () => {
    const refused = (fix: object) => {
      try {
        checkLook({ clean: { fixes: [fix] } } as Look, 'the look');
        return '';
      } catch (error) {
        return String((error as Error).message);
      }
    };
    expect(
      coveredShare([
        [0, 0],
        [0.5, 0],
        [0.5, 1],
        [0, 1],
      ]),
    ).toBeCloseTo(0.5, 6);
    expect(
      refused({
        outline: [
          [0.1, 0.1],
          [0.9, 0.1],
          [0.9, 0.9],
          [0.1, 0.9],
        ],
        method: 'smooth',
      }),
    ).toMatch(/covers 6[34] % of the surface.*draw it smaller, or fill it from other frames/);
    expect(
      refused({
        outline: [
          [0.1, 0.1],
          [0.9, 0.1],
          [0.9, 0.9],
          [0.1, 0.9],
        ],
        method: 'frames',
      }),
    ).toBe('');
    expect(refused({ method: 'smooth' })).toMatch(/needs either an outline or a shape/);
    expect(refused({ shape, method: 'clone' })).toMatch(/from is missing/);
  });
});

describe('a stroke of a brush', () => {
  const area = (outline: readonly (readonly [number, number])[]) => Math.abs(signedArea(outline));
  test('is the outline of what the brush covered', () => {
    expect(area(strokeOutline([[50, 50]], 10)) / (Math.PI * 100)).toBeCloseTo(1, 1);
    expect(
      area(
        strokeOutline(
          [
            [50, 50],
            [150, 50],
          ],
          10,
        ),
      ) /
        (Math.PI * 100 + 2000),
    ).toBeCloseTo(1, 1);
    const outline = strokeOutline(
      [
        [50, 50],
        [150, 50],
        [150, 120],
      ],
      8,
    );
    for (const [x, y] of outline) {
      const toPath = Math.min(
        Math.hypot(x - Math.min(150, Math.max(50, x)), y - 50),
        Math.hypot(x - 150, y - Math.min(120, Math.max(50, y))),
      );
      expect(Math.abs(toPath - 8)).toBeLessThan(1);
    }
    expect(outline.length).toBeLessThan(60);
  });
  test('nothing painted is no outline', () => {
    expect(strokeOutline([], 5)).toEqual([]);
    expect(strokeOutline([[1, 1]], 0)).toEqual([]);
  });
});
