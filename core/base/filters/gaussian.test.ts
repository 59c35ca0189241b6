import { describe, expect, test } from 'vitest';
import { BLURRED } from '../../../bench/reference/golden-cases.ts';
import { golden } from '../../../bench/reference/golden.ts';
import { convolveSeparable, gaussianKernel, blurPlane } from './gaussian.ts';

describe('gaussianKernel', () => {
  test('sums to one and has the variance asked for', () => {
    for (const sigma of [0.5, 0.7, 1.2, 4]) {
      const kernel = gaussianKernel(sigma);
      const radius = (kernel.length - 1) / 2;
      expect(kernel.reduce((a, b) => a + b)).toBeCloseTo(1, 5);
      if (sigma >= 0.7)
        expect(Math.sqrt(kernel.reduce((sum, w, i) => sum + w * (i - radius) ** 2, 0))).toBeCloseTo(sigma, 2);
    }
  });
  test('no softness is a single weight; nonsense is refused', () => {
    expect([...gaussianKernel(0)]).toEqual([1]);
    expect(() => gaussianKernel(-1)).toThrow(RangeError);
    expect(() => gaussianKernel(Infinity)).toThrow(RangeError);
  });
});

test.each(BLURRED.sigmas)('blurs with σ %f like the reference library', (sigma) => {
  // OpenCV, GaussianBlur with a kernel as long as ours and repeated borders.
  const expected = golden(`blur-${sigma}`);
  blurPlane(BLURRED.plane(), sigma).data.forEach((v, i) => expect(v).toBeCloseTo(expected[i]!, 5));
});

test('an empty border lets a layer fade out, keeping what lies inside', () => {
  const layer = new Float32Array(9 * 9 * 4);
  layer.fill(1, (4 * 9 + 4) * 4, (4 * 9 + 4) * 4 + 4);
  const soft = convolveSeparable(layer, 9, 9, 4, gaussianKernel(0.8), 'empty');
  expect(soft.reduce((a, b) => a + b)).toBeCloseTo(4, 4);
  expect(soft[(4 * 9 + 4) * 4]).toBeCloseTo(gaussianKernel(0.8)[4]! ** 2, 6);
});
