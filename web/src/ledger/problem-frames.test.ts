import { expect, test } from 'vitest';
import { row } from '../test/shot-parts.ts';
import { nextProblem, problemFrames } from './problem-frames.ts';

test('problems are where findings and bad spans of the track begin', () => {
  const check = {
    done: true,
    rows: [],
    reference: null,
    findings: [{ kind: 'cut' as const, frames: [9, 9] as [number, number], amount: null }],
  };
  const rows = [
    row(0),
    row(1, { confidence: 0.1 }),
    row(2, { homography: null, lost: 'covered' }),
    row(3),
    row(5, { confidence: 0.2 }),
  ];
  expect(problemFrames(check, rows)).toEqual([1, 5, 9]);
  expect(problemFrames(null, [])).toEqual([]);
});
test('they are gone through in both directions, round and round', () => {
  expect([0, 1, 5, 9].map((from) => nextProblem([1, 5, 9], from, 1))).toEqual([1, 5, 9, 1]);
  expect([0, 1, 5, 12].map((from) => nextProblem([1, 5, 9], from, -1))).toEqual([9, 9, 1, 9]);
  expect(nextProblem([], 3, 1)).toBeNull();
});
