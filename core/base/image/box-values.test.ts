import { expect, test } from 'vitest';
import { boxValues } from './box-values.ts';

test('mean, darkest and brightest of a box, also below 0 and above 1', () => {
  const picture = {
    width: 2,
    height: 2,
    peak: 1 as const,
    data: Float32Array.from([0, 0.5, 1, 2, 0.5, -1, 0, 0, 0, 4, 0.5, 0]),
  };
  expect(boxValues(picture, { x: 0, y: 0, width: 2, height: 2 })).toEqual({
    mean: [1.5, 0.375, 0],
    darkest: [0, 0, -1],
    brightest: [4, 0.5, 1],
  });
  expect(boxValues(picture, { x: 1, y: 0, width: 1, height: 1 }).mean).toEqual([2, 0.5, -1]);
});
test('integer codes are counted against their peak; a box is cut to the picture', () => {
  const picture = { width: 1, height: 1, peak: 255 as const, data: Uint8Array.from([255, 51, 0]) };
  expect(boxValues(picture, { x: 0, y: 0, width: 90, height: 90 }).mean).toEqual([1, 0.2, 0]);
  expect(boxValues(picture, { x: 40, y: 40, width: 2, height: 2 }).mean).toEqual([1, 0.2, 0]);
});
