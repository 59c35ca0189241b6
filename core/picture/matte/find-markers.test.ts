import { expect, test } from 'vitest';
import type { Quad } from '../../base/geometry/quad.ts';
import { findMarkers } from './find-markers.ts';

const W = 180;
const H = 120;
const quad: Quad = [
  [0, 0],
  [W, 0],
  [W, H],
  [0, H],
];
/** A frame's matte with boxes [left, top, right, bottom] in front. */
const frame = (...boxes: readonly (readonly [number, number, number, number])[]) => {
  const matte = new Float32Array(W * H);
  for (const [left, top, right, bottom] of boxes)
    for (let row = top; row < bottom; row++) matte.fill(1, row * W + left, row * W + right);
  return { region: { box: { left: 0, top: 0, right: W, bottom: H }, width: W, height: H }, matte, quad };
};
const MARK = [60, 90, 70, 98] as const;
const OTHER = [120, 30, 130, 38] as const;
const THUMB = [40, 80, 90, H] as const;

test('a mark that a thumb hides on most frames is found by those that show it; the thumb is none', () => {
  const found = findMarkers(
    [...Array.from({ length: 4 }, () => frame(THUMB, OTHER)), ...Array.from({ length: 3 }, () => frame(MARK, OTHER))],
    1.5,
  );
  expect(found).toHaveLength(2);
  expect(found.map(([u, v]) => [Math.round(u * W), Math.round(v * H)]).sort((a, b) => a[0]! - b[0]!)).toEqual([
    [65, 94],
    [125, 34],
  ]);
});

test('what is seen free on too few frames, or hidden on all, is no mark', () => {
  expect(findMarkers([...Array.from({ length: 6 }, () => frame(THUMB)), frame(MARK), frame(MARK)], 1.5)).toEqual([]);
  expect(
    findMarkers(
      Array.from({ length: 5 }, () => frame(THUMB)),
      1.5,
    ),
  ).toEqual([]);
});
