import { expect, test } from 'vitest';
import { row } from '../../test/shot-parts.ts';
import { startFrom, stretchAt } from './stretch.ts';

const track = new Map(
  [3, 4, 5, 6, 7, 8].map((frame) => [
    frame,
    row(frame, frame === 6 || frame === 7 ? { homography: null, lost: 'covered' } : {}),
  ]),
);

test('a stretch is what lies about a frame in the same state', () => {
  expect(stretchAt(track, 4)).toEqual([3, 5]);
  expect(stretchAt(track, 7)).toEqual([6, 7]);
  expect(stretchAt(track, 8)).toEqual([8, 8]);
  expect(stretchAt(track, 20)).toBeNull();
});

test('a run goes on from the last frame that held', () => {
  expect(startFrom(track, 7, 1, 4, 20)).toBe(5);
  expect(startFrom(track, 7, -1, 4, 20)).toBe(8);
  expect(startFrom(track, 5, 1, 4, 20)).toBe(5);
  expect(startFrom(track, 15, 1, 4, 20)).toBe(8);
  expect(startFrom(new Map(), 15, 1, 4, 20)).toBe(4);
});
