import { expect, test } from 'vitest';
import { errorHeight, errorTop, frameAt, frameLeft, frameMiddle, labelStep } from './ledger-scale.ts';

const scale = { frames: 96, left: 84, width: 768 };

test('frames and places on the page are inverse, clamped at the ends', () => {
  for (const frame of [0, 1, 47, 95]) {
    expect(frameAt(scale, frameMiddle(scale, frame))).toBe(frame);
    expect(frameAt(scale, frameLeft(scale, frame) + 0.01)).toBe(frame);
  }
  expect(frameAt(scale, -50)).toBe(0);
  expect(frameAt(scale, 5000)).toBe(95);
});

test('labels stand at 1, 2 or 5 times a power of ten, with room', () => {
  expect(labelStep(scale)).toBe(10);
  expect(labelStep({ ...scale, frames: 12 })).toBe(1);
  expect(labelStep({ ...scale, frames: 5000 })).toBe(500);
});

test('the error row’s top is a round figure above the usual errors', () => {
  expect(errorTop([])).toBe(1);
  expect(errorTop([0.05, 0.08, 0.1])).toBe(0.25);
  expect(errorTop([0.3, 0.4, 0.7, 0.9])).toBe(1);
  expect(errorHeight(0.5, 1)).toBe(0.5);
  expect(errorHeight(7, 1)).toBe(1);
  expect(errorHeight(0, 1)).toBeGreaterThan(0);
});
