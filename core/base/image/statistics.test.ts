import { expect, test } from 'vitest';
import { mean, median, nearestRank, orderStatistic, quantile, upperMedian } from './statistics.ts';

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

test('selection gives what sorting gives, to the last bit, with repeats and with values that are none', () => {
  let state = 7;
  // Any numbers do: a linear congruential generator.
  const random = () => (state = (1103515245 * state + 12345) % 2 ** 31) / 2 ** 31;
  for (const length of [1, 2, 3, 10, 700, 5000]) {
    const values = Float32Array.from({ length }, (_, i) => (i % 3 === 0 ? Math.round(4 * random()) : random()));
    const sorted = [...values].sort((a, b) => a - b);
    for (const p of [0, 0.12, 0.5, 0.9, 1]) {
      const at = p * (length - 1);
      const from = sorted[Math.floor(at)]!;
      expect(quantile(values, p)).toBe(from + (sorted[Math.ceil(at)]! - from) * (at - Math.floor(at)));
      expect(nearestRank(values, p)).toBe(sorted[Math.round(p * (length - 1))]);
      expect(orderStatistic(values, p)).toBe(sorted[Math.min(length - 1, Math.floor(p * length))]);
    }
  }
  expect(median([3, NaN, 1])).toBe(3);
  expect(orderStatistic([NaN, 2, 1], 0)).toBe(1);
});
