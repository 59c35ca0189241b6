import { expect, test } from 'vitest';
import { noisyPlane } from '../../test/planes.ts';
import { createPlane } from './plane.ts';
import { sampleBicubic, sampleBilinear } from './sampling.ts';

const plane = noisyPlane(9, 7, 2);

test('both give the samples themselves at the samples', () => {
  for (let j = 0; j < 7; j++) {
    for (let i = 0; i < 9; i++) {
      expect(sampleBilinear(plane, i, j)).toBeCloseTo(plane.data[j * 9 + i]!, 6);
      expect(sampleBicubic(plane, i, j)).toBeCloseTo(plane.data[j * 9 + i]!, 6);
    }
  }
});

test('bilinear is exact on planes, bicubic on second-degree surfaces (Keys 1981)', () => {
  const surface = createPlane(12, 12);
  for (let j = 0; j < 12; j++) for (let i = 0; i < 12; i++) surface.data[j * 12 + i] = 1 + 0.2 * i - 0.1 * j;
  expect(sampleBilinear(surface, 4.3, 5.8)).toBeCloseTo(1 + 0.86 - 0.58, 5);
  for (let j = 0; j < 12; j++)
    for (let i = 0; i < 12; i++) surface.data[j * 12 + i] = 0.02 * i * i - 0.03 * j * j + 0.01 * i * j;
  expect(sampleBicubic(surface, 4.3, 5.8)).toBeCloseTo(0.02 * 4.3 ** 2 - 0.03 * 5.8 ** 2 + 0.01 * 4.3 * 5.8, 5);
});

test('the border repeats outside', () => {
  expect(sampleBilinear(plane, -3, 2)).toBeCloseTo(plane.data[2 * 9]!, 6);
  expect(sampleBilinear(plane, 40, 40)).toBeCloseTo(plane.data[6 * 9 + 8]!, 6);
  const single = createPlane(1, 1);
  single.data[0] = 0.4;
  expect(sampleBilinear(single, 0.7, -2)).toBeCloseTo(0.4, 6);
});
