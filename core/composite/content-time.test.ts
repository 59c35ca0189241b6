import { expect, test } from 'vitest';
import { contentFrameAt } from './content-time.ts';

test.each<[number, [number, number], [number, number], number]>([
  [10, [25, 1], [25, 1], 10], [10, [25, 1], [50, 1], 20], [11, [50, 1], [25, 1], 5],
  // An hour of 30000/1001 against 24: no drift by rounding.
  [107_892, [30000, 1001], [24, 1], 86_399], [100_000, [30000, 1001], [30000, 1001], 100_000],
])('frame %i at %j shows frame of %j: %i', (frame, plate, content, shown) => expect(contentFrameAt(frame, plate, content)).toBe(shown));
