import { describe, expect, test } from 'vitest';
import type { Point } from './homography.ts';
import { contains, fillPolygon } from './polygon.ts';

const L_SHAPE: Point[] = [
  [2, 2],
  [12, 2],
  [12, 6],
  [6, 6],
  [6, 12],
  [2, 12],
];

describe('fillPolygon', () => {
  test.each<[string, Point[]]>([
    ['a dented outline', L_SHAPE],
    [
      'one reaching outside',
      [
        [-5, -5],
        [30, 4.3],
        [9.7, 31],
      ],
    ],
    [
      'one that crosses itself',
      [
        [1, 1],
        [14, 14],
        [14, 1],
        [1, 14],
      ],
    ],
  ])('takes the pixels whose centres are inside: %s', (_, outline) => {
    const mask = new Uint8Array(16 * 16);
    fillPolygon(mask, 16, 16, outline, 1);
    for (let row = 0; row < 16; row++) {
      for (let col = 0; col < 16; col++)
        expect(mask[row * 16 + col], `${col},${row}`).toBe(contains(outline, col + 0.5, row + 0.5) ? 1 : 0);
    }
  });
  test('an outline outside the mask leaves it empty', () => {
    const mask = new Uint8Array(64);
    fillPolygon(
      mask,
      8,
      8,
      [
        [20, 20],
        [30, 20],
        [25, 30],
      ],
      1,
    );
    expect(mask.every((v) => v === 0)).toBe(true);
  });
});
