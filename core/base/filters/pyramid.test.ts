import { expect, test } from 'vitest';
import { HALVED } from '../../../bench/reference/golden-cases.ts';
import { golden } from '../../../bench/reference/golden.ts';
import { noisyPlane } from '../../test/planes.ts';
import { buildPyramid } from './pyramid.ts';

test.each(HALVED.sizes)('halves a picture of %i×%i like the reference library', (width, height) => {
  const [, half] = buildPyramid(HALVED.plane(width, height), 2);
  // OpenCV, pyrDown with BORDER_REFLECT_101: the same 1-4-6-4-1.
  const expected = golden(`half-of-${width}x${height}`);
  expect([half!.width, half!.height]).toEqual([Math.ceil(width / 2), Math.ceil(height / 2)]);
  expect(half!.data).toHaveLength(expected.length);
  half!.data.forEach((v, i) => expect(v).toBeCloseTo(expected[i]!, 5));
});

test('stops before a level would be smaller than two samples', () => {
  const levels = buildPyramid(noisyPlane(20, 9, 1), 8);
  expect(levels.map((l) => [l.width, l.height])).toEqual([
    [20, 9],
    [10, 5],
    [5, 3],
  ]);
});
