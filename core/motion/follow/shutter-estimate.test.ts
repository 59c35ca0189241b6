import { expect, test } from 'vitest';
import { ShutterEstimate } from './shutter-estimate.ts';

const bowl = (at: number) => ShutterEstimate.TRIALS.map((t) => 1 + 4 * (t - at) ** 2);

test('assumes 180° until two frames have told', () => {
  const estimate = new ShutterEstimate();
  expect(estimate.value).toBe(0.5);
  estimate.add(bowl(0.25));
  expect(estimate.value).toBe(0.5);
});

test.each([0.25, 0.4, 0.5, 0.7])('finds the bottom of the misfit at %f of a frame', (at) => {
  const estimate = new ShutterEstimate();
  for (let i = 0; i < 4; i++) estimate.add(bowl(at).map((v) => v * (1 + i)));
  expect(estimate.value).toBeCloseTo(at, 2);
});

test('stays within the trials at their ends', () => {
  const estimate = new ShutterEstimate();
  for (let i = 0; i < 3; i++) estimate.add([1, 2, 3, 4, 5]);
  expect(estimate.value).toBe(0);
});
