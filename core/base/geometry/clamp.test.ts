import { expect, test } from 'vitest';
import { clamp } from './clamp.ts';

test('within its bounds a value stays; outside it becomes the nearer one; of bounds the wrong way round the upper counts', () => {
  expect([clamp(0.3, 0, 1), clamp(-2, 0, 1), clamp(7, 0, 1), clamp(0, 5, 3)]).toEqual([0.3, 0, 1, 3]);
  expect(clamp(NaN, 0, 1)).toBeNaN();
});
