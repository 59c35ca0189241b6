import { expect, test } from 'vitest';
import {
  errorHeight,
  errorTop,
  frameAt,
  frameLeft,
  frameMiddle,
  framesInView,
  labelStep,
  moved,
  reveal,
  wholeScale,
  zoomTime,
} from './ledger-scale.ts';

const scale = wholeScale(96, 84, 768);

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
  expect(labelStep(wholeScale(12, 84, 768))).toBe(1);
  expect(labelStep(wholeScale(5000, 84, 768))).toBe(500);
});

test('zooming keeps the frame under the pointer, and stops at whole and at a few wide frames', () => {
  const long = wholeScale(5000, 84, 768);
  const near = zoomTime(long, 10, frameLeft(long, 2000));
  expect(near.across).toBe(500);
  expect(frameLeft(near, 2000)).toBeCloseTo(frameLeft(long, 2000), 6);
  expect(zoomTime(near, 1 / 100, 300)).toEqual(long);
  expect(zoomTime(long, 1e9, 300).across).toBeCloseTo(12.8, 6);
  expect(framesInView(near)[1] - framesInView(near)[0]).toBeLessThanOrEqual(501);
});
test('a frame that is gone to is brought into view; the strip ends with the frames', () => {
  const near = moved(zoomTime(wholeScale(5000, 84, 768), 50, 84), 0);
  expect(reveal(near, 20)).toBe(near);
  const there = reveal(near, 3000);
  expect(frameLeft(there, 3001)).toBeLessThanOrEqual(84 + 768);
  expect(moved(near, 1e6).from).toBe(4900);
});

test('the error row’s top is a round figure above the usual errors', () => {
  expect(errorTop([])).toBe(1);
  expect(errorTop([0.05, 0.08, 0.1])).toBe(0.25);
  expect(errorTop([0.3, 0.4, 0.7, 0.9])).toBe(1);
  expect(errorHeight(0.5, 1)).toBe(0.5);
  expect(errorHeight(7, 1)).toBe(1);
  expect(errorHeight(0, 1)).toBeGreaterThan(0);
});
