import { produce } from 'immer';
import { expect, test } from 'vitest';
import type { Quad } from '../../../../core/base/geometry/quad.ts';
import type { CleanFixFile, ShotDocument } from '../../../../core/base/schemas/types.ts';
import { besideFix, fixesOf, fixShapes, setFill } from './fix-edits.ts';
import { riddenShape } from './ridden-shape.ts';

const CORNERS: Quad = [
  [100, 100],
  [300, 100],
  [300, 200],
  [100, 200],
];
const MOVED = CORNERS.map(([x, y]) => [x + 40, y + 10]) as unknown as Quad;
const document = (fixes: unknown): ShotDocument =>
  produce({ corners: CORNERS, referenceFrame: 3, look: { clean: { fixes } } }, () => {}) as unknown as ShotDocument;

test('what is drawn on a frame rides on the surface; without corners it stays in the picture', () => {
  const shape = riddenShape(
    [
      [150, 120],
      [170, 120],
      [160, 140],
    ],
    7,
    CORNERS,
    MOVED,
  );
  expect(shape).toMatchObject({ home: 7 });
  expect(shape.points[0]![0]).toBeCloseTo(110, 6);
  expect(
    riddenShape(
      [
        [1, 2],
        [3, 4],
        [5, 6],
      ],
      7,
      null,
      null,
    ),
  ).toMatchObject({
    rides: 'plate',
    points: [
      [1, 2],
      [3, 4],
      [5, 6],
    ],
  });
});

test('a fix told in shares is shown where it lies, and becomes a shape when it is edited', () => {
  const given = document([
    {
      method: 'smooth',
      outline: [
        [0.1, 0.1],
        [0.2, 0.1],
        [0.2, 0.3],
      ],
    },
  ]);
  expect(fixShapes(given)[0]).toMatchObject({
    home: 3,
    points: [
      [120, 110],
      [140, 110],
      [140, 130],
    ],
  });
  expect(fixesOf(given)[0]!.shape).toBeUndefined();
  const edited = produce(given, (draft) => {
    fixShapes(draft)[0]!.points[0] = [125, 111];
  });
  expect(fixesOf(edited)[0]).toMatchObject({
    method: 'smooth',
    shape: {
      points: [
        [125, 111],
        [140, 110],
        [140, 130],
      ],
    },
  });
  expect(fixesOf(edited)[0]).not.toHaveProperty('outline');
  expect(fixesOf(document('find'))).toEqual([]);
});

test('a patch is taken from beside it, on the side that has room', () => {
  expect(
    besideFix([
      [0.05, 0.4],
      [0.15, 0.4],
      [0.15, 0.6],
      [0.05, 0.6],
    ])[0],
  ).toBeGreaterThan(0.1);
  expect(
    besideFix([
      [0.85, 0.4],
      [0.95, 0.4],
      [0.95, 0.6],
      [0.85, 0.6],
    ])[0],
  ).toBeLessThan(-0.1);
  const fix: CleanFixFile = {
    method: 'smooth',
    shape: riddenShape(
      [
        [150, 120],
        [170, 120],
        [160, 140],
      ],
      3,
      CORNERS,
      CORNERS,
    ),
  };
  setFill(fix, 'clone', [
    [0.05, 0.4],
    [0.15, 0.4],
    [0.15, 0.6],
    [0.05, 0.6],
  ]);
  const { from } = fix;
  expect(from![0]).toBeGreaterThan(0);
  setFill(fix, 'smooth', []);
  setFill(fix, 'patch', [
    [0.8, 0.8],
    [0.9, 0.8],
    [0.9, 0.9],
  ]);
  expect(fix.from).toBe(from);
});
