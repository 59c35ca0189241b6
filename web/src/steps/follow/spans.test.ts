import { describe, expect, test } from 'vitest';
import { spanAt, withoutSpan, withSpan } from './spans.ts';

describe('spans', () => {
  test('grow together where they touch', () => {
    expect(
      withSpan(
        [
          [10, 20],
          [40, 50],
        ],
        [21, 30],
      ),
    ).toEqual([
      [10, 30],
      [40, 50],
    ]);
    expect(
      withSpan(
        [
          [10, 20],
          [40, 50],
        ],
        [5, 60],
      ),
    ).toEqual([[5, 60]]);
    expect(withSpan([], [3, 3])).toEqual([[3, 3]]);
  });
  test('lose frames at an end, in the middle, altogether', () => {
    expect(withoutSpan([[10, 20]], [15, 17])).toEqual([
      [10, 14],
      [18, 20],
    ]);
    expect(withoutSpan([[10, 20]], [0, 12])).toEqual([[13, 20]]);
    expect(
      withoutSpan(
        [
          [10, 20],
          [30, 31],
        ],
        [10, 20],
      ),
    ).toEqual([[30, 31]]);
    expect(withoutSpan([[10, 20]], [50, 60])).toEqual([[10, 20]]);
  });
  test('are found by a frame', () => {
    expect(spanAt([[10, 20]], 20)).toEqual([10, 20]);
    expect(spanAt([[10, 20]], 21)).toBeNull();
  });
});
