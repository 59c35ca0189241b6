import { expect, test } from 'vitest';
import { gaussianFrom, randomFrom } from '../../demo/scene/random.ts';
import { huberWeight, residualScale, tukeyWeight } from './robust-weights.ts';

test('the scale of gaussian noise is its standard deviation, whatever a third of the samples says', () => {
  const normal = gaussianFrom(randomFrom(1));
  const residual = Float32Array.from({ length: 20_000 }, () => normal() * 0.02);
  expect(residualScale(residual, residual.length)).toBeCloseTo(0.02, 3);
  for (let i = 0; i < 4000; i++) residual[i * 5] = 0.5;
  expect(residualScale(residual, residual.length)).toBeLessThan(0.03);
});

test('a perfect fit still has a scale', () => expect(residualScale(new Float32Array(10), 10)).toBeGreaterThan(0));

// k = 1.345 and c = 4.685: 95 % efficiency, Huber & Ronchetti 2009 §4.8 and table 4.2 of common use.
test.each([[0, 1, 1], [1.345, 1, (1 - (1.345 / 4.685) ** 2) ** 2], [2.69, 0.5, (1 - (2.69 / 4.685) ** 2) ** 2], [5, 0.269, 0]])(
  'at %f σ: Huber %f, Tukey %f', (r, huber, tukey) => {
    expect(huberWeight(r * 0.02, 0.02)).toBeCloseTo(huber, 3);
    expect(tukeyWeight(-r * 0.02, 0.02)).toBeCloseTo(tukey, 6);
  });
