import { describe, expect, test } from 'vitest';
import { keysOf, valueAt, withKeyToggled, withValue } from './keyed-edits.ts';

describe('numbers that may be keyed', () => {
  test('one number holds for all frames, and stays one when it is changed', () => {
    expect(withValue(undefined, 4, 2)).toBe(2);
    expect(withValue(1, 4, 2)).toBe(2);
    expect(valueAt(undefined, 9, 1.5)).toBe(1.5);
  });

  test('a key starts with what is seen there; the next value is set where the playhead stands', () => {
    const first = withKeyToggled(1, 10, 0);
    const second = withValue(first, 20, 3);
    expect(second).toEqual([
      { frame: 10, value: 1 },
      { frame: 20, value: 3 },
    ]);
    expect(valueAt(second, 15, 0)).toBe(2);
    expect(keysOf(second)).toHaveLength(2);
  });

  test('a changed key keeps how it goes on', () => {
    expect(withValue([{ frame: 3, value: 1, ease: 'hold' }], 3, 5)).toEqual([{ frame: 3, value: 5, ease: 'hold' }]);
  });

  test('without its last key it is one number again', () => {
    expect(withKeyToggled([{ frame: 3, value: 4 }], 3, 0)).toBe(4);
    expect(
      withKeyToggled(
        [
          { frame: 3, value: 4 },
          { frame: 8, value: 6 },
        ],
        3,
        0,
      ),
    ).toEqual([{ frame: 8, value: 6 }]);
  });
});
