import { expect, test } from 'vitest';
import { frameDue } from './play-clock.ts';

test.each([
  [0, 0, 0],
  [0, 0.039, 0],
  [0, 0.04, 1],
  [0, 1, 25],
  [90, 0.4, 0],
  [99, 0.04, 0],
])('from frame %i after %f s at 25/1: frame %i of 0–99', (from, seconds, frame) =>
  expect(frameDue(from, seconds, [25, 1], [0, 99])).toBe(frame),
);
test('a span is gone through over and over', () => {
  expect(frameDue(12, 0.2, [25, 1], [10, 14])).toBe(12);
  expect(frameDue(10, 100, [25, 1], [10, 10])).toBe(10);
});
test('exact rates do not drift: an hour of 30000/1001', () => {
  expect(frameDue(0, 3603.6, [30000, 1001], [0, 999_999])).toBe(108_000);
});
