import { expect, test } from 'vitest';
import { mean, median, orderStatistic, quantile, upperMedian } from './statistics.ts';

test('quantiles lie between order statistics', () => {
  expect(median([3, 1, 2])).toBe(2);
  expect(median([4, 1, 2, 3])).toBe(2.5);
  expect(quantile([0, 10], 0.25)).toBe(2.5);
  expect(quantile([], 0.5)).toBeNaN();
  expect(mean([1, 2, 6])).toBe(3);
});

test('order statistics are values that are there', () => {
  const values = [4, 1, 2, 3];
  expect([upperMedian(values), upperMedian([3, 1, 2]), orderStatistic(values, 0), orderStatistic(values, 1)]).toEqual([
    3, 2, 1, 4,
  ]);
  expect(upperMedian([])).toBeNaN();
  expect(values).toEqual([4, 1, 2, 3]);
});
