import { expect, test } from 'vitest';
import { mean, median, quantile } from './statistics.ts';

test('quantiles lie between order statistics', () => {
  expect(median([3, 1, 2])).toBe(2);
  expect(median([4, 1, 2, 3])).toBe(2.5);
  expect(quantile([0, 10], 0.25)).toBe(2.5);
  expect(quantile([], 0.5)).toBeNaN();
  expect(mean([1, 2, 6])).toBe(3);
});
