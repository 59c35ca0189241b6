import { expect, test } from 'vitest';
import { gaussianFrom, randomFrom } from '../../../demo/scene/random.ts';
import { OFFSET_BIN, RESIDUAL_BIN, RESIDUAL_BINS } from '../../base/kernels/index.ts';
import { scaleFromHistogram, toleranceFromHistogram, tukeyWeight } from './robust-weights.ts';

function histogramOf(residual: Float32Array): Uint32Array {
  const histogram = new Uint32Array(2 * RESIDUAL_BINS);
  for (const r of residual) histogram[Math.min(RESIDUAL_BINS - 1, Math.floor(Math.abs(r) / RESIDUAL_BIN))]!++;
  return histogram;
}

test('the scale of gaussian noise is its standard deviation, whatever a third of the samples says', () => {
  const normal = gaussianFrom(randomFrom(1));
  const residual = Float32Array.from({ length: 20_000 }, () => normal() * 0.02);
  expect(scaleFromHistogram(histogramOf(residual), residual.length)).toBeCloseTo(0.02, 3);
  for (let i = 0; i < 4000; i++) residual[i * 5] = 0.5;
  expect(scaleFromHistogram(histogramOf(residual), residual.length)).toBeLessThan(0.03);
});

test('a perfect fit still has a scale', () =>
  expect(scaleFromHistogram(histogramOf(new Float32Array(10)), 10)).toBeGreaterThan(0));

// c = 4.685: 95 % efficiency, Huber & Ronchetti 2009 §4.8 and table 4.2 of common use.
test.each([
  [0, 1],
  [1.345, (1 - (1.345 / 4.685) ** 2) ** 2],
  [2.69, (1 - (2.69 / 4.685) ** 2) ** 2],
  [5, 0],
])('at %f σ: Tukey %f', (r, tukey) => {
  expect(tukeyWeight(-r * 0.02, 0.02)).toBeCloseTo(tukey, 6);
});

test('steep places that lie a quarter of a sample off are tolerated, few of them or wild ones are not asked', () => {
  const histogram = new Uint32Array(2 * RESIDUAL_BINS);
  histogram[RESIDUAL_BINS + Math.round(0.25 / OFFSET_BIN)] = 1000;
  expect(toleranceFromHistogram(histogram)).toBeCloseTo(1.4826 * 0.25, 2);
  histogram[RESIDUAL_BINS + Math.round(0.25 / OFFSET_BIN)] = 20;
  expect(toleranceFromHistogram(histogram)).toBe(0.15);
  histogram[2 * RESIDUAL_BINS - 1] = 1000;
  expect(toleranceFromHistogram(histogram)).toBeLessThan(1);
});
