import { expect, test } from 'vitest';
import { loadOpenCv, matFromPlane, planeFromMat, release } from '../../../bench/reference/opencv.ts';
import { noisyPlane } from '../../test/planes.ts';
import { buildPyramid } from './pyramid.ts';

test.each([
  [64, 48],
  [63, 37],
  [5, 4],
])('halves a picture of %i×%i like the reference library', async (width, height) => {
  const cv = await loadOpenCv();
  const plane = noisyPlane(width, height, 4);
  const [, half] = buildPyramid(plane, 2);
  // OpenCV, pyrDown with BORDER_REFLECT_101: the same 1-4-6-4-1.
  const [from, to] = [matFromPlane(cv, plane), new cv.Mat()];
  cv.pyrDown(from, to, new cv.Size(0, 0), cv.BORDER_REFLECT_101);
  const expected = planeFromMat(to);
  release(from, to);
  expect([half!.width, half!.height]).toEqual([expected.width, expected.height]);
  half!.data.forEach((v, i) => expect(v).toBeCloseTo(expected.data[i]!, 5));
});

test('stops before a level would be smaller than two samples', () => {
  const levels = buildPyramid(noisyPlane(20, 9, 1), 8);
  expect(levels.map((l) => [l.width, l.height])).toEqual([
    [20, 9],
    [10, 5],
    [5, 3],
  ]);
});
