import { expect, test } from 'vitest';
import { NEUTRAL_LOOK } from '../look/look.ts';
import type { PinnedSurface } from '../pin/pinned-surface.ts';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import { cleanPlate, leftUnfilled } from './clean-plate.ts';

const WIDTH = 64;
const HEIGHT = 48;
const plate = {
  width: WIDTH,
  height: HEIGHT,
  peak: 255 as const,
  data: Uint8Array.from({ length: WIDTH * HEIGHT * 3 }, (_, i) => 60 + ((i / 3) % WIDTH)),
};
const square = (from: number, to: number): [number, number][] => [
  [from, from],
  [to, from],
  [to, to],
  [from, to],
];
const surfaceWith = (fixes: object[]): PinnedSurface =>
  ({
    contents: [],
    motion: {
      before: null,
      now: [
        [10, 8],
        [54, 8],
        [54, 40],
        [10, 40],
      ],
      after: null,
    },
    ratio: 1.375,
    frame: 3,
    referenceFrame: 3,
    reference: [
      [10, 8],
      [54, 8],
      [54, 40],
      [10, 40],
    ],
    look: { ...NEUTRAL_LOOK, clean: { fixes } },
  }) as unknown as PinnedSurface;

test('a fix around which nothing is seen is left as it is, and is reported by its place in the look’s list', () => {
  const fixes = [
    { method: 'smooth', outline: square(0.4, 0.6), frames: [9, 12] },
    { method: 'smooth', outline: square(0.4, 0.5) },
    { method: 'smooth', outline: square(-3, 4) },
  ];
  const cleaned = cleanPlate(plate, surfaceWith(fixes), 'final', DISPLAY_COLOUR);
  expect(leftUnfilled(cleaned)).toContain(2);
  expect(leftUnfilled(cleaned)).not.toContain(0);
  const fine = cleanPlate(plate, surfaceWith([fixes[1]!]), 'final', DISPLAY_COLOUR);
  expect(leftUnfilled(fine)).toEqual([]);
  expect(leftUnfilled(plate)).toEqual([]);
});
