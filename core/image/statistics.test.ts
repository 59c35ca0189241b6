import { expect, test } from 'vitest';
import { mean, median, quantile, quantileOfMagnitudes } from './statistics.ts';

test('quantiles lie between order statistics', () => {
  expect(median([3, 1, 2])).toBe(2);
  expect(median([4, 1, 2, 3])).toBe(2.5);
  expect(quantile([0, 10], 0.25)).toBe(2.5);
  expect(quantile([], 0.5)).toBeNaN();
  expect(mean([1, 2, 6])).toBe(3);
});

test('the histogram quantile agrees with the sorted one to its bin', () => {
  const values = Float32Array.from({ length: 5000 }, (_, i) => Math.sin(i * 12.9898) * 0.4);
  const sorted = quantile(Array.from(values, Math.abs), 0.5);
  expect(Math.abs(quantileOfMagnitudes(values, values.length, 0.5, 1) - sorted)).toBeLessThan(1 / 2048);
  expect(quantileOfMagnitudes(values, 0, 0.5, 1)).toBe(0);
});
