import { describe, expect, test } from 'vitest';
import { eased, NAMED_CURVES } from './easing.ts';
import { numberAt, numbersAt } from './keyframes.ts';

describe('easing curves', () => {
  test('named curves at their points', () => {
    // By hand from W3C CSS Easing Functions Level 1, §2.2: x and y of the Bézier curves at parameter ½:
    // x = (3·x1 + 3·x2 + 1) / 8, y = (3·y1 + 3·y2 + 1) / 8.
    for (const [x1, y1, x2, y2] of Object.values(NAMED_CURVES))
      expect(eased([x1, y1, x2, y2], (3 * x1 + 3 * x2 + 1) / 8)).toBeCloseTo((3 * y1 + 3 * y2 + 1) / 8, 9);
    expect(eased(NAMED_CURVES['ease-in-out'], 0.5)).toBeCloseTo(0.5, 12);
    // At parameter ¼: weights 27/64, 9/64 and 1/64.
    const [x1, y1, x2, y2] = NAMED_CURVES.ease;
    expect(eased(NAMED_CURVES.ease, (27 * x1 + 9 * x2 + 1) / 64)).toBeCloseTo((27 * y1 + 9 * y2 + 1) / 64, 9);
  });
  test('a curve with equal coordinates is linear, ends are met, output may overshoot', () => {
    for (const t of [0, 0.1, 0.37, 0.9, 1]) expect(eased([0.3, 0.3, 0.8, 0.8], t)).toBeCloseTo(t, 9);
    expect(eased([0, 1, 1, 0], 0)).toBe(0);
    expect(eased([0, 1, 1, 0], 1)).toBe(1);
    expect(eased([0.3, 1.6, 0.7, 1.2], 0.6)).toBeGreaterThan(1);
  });
  test('curves with a vertical or a level stretch are found', () => {
    for (const t of [0.001, 0.25, 0.5, 0.75, 0.999]) {
      const y = eased([1, 0, 0, 1], t);
      expect(y).toBeGreaterThanOrEqual(0);
      expect(y).toBeLessThanOrEqual(1);
    }
    expect(eased([1, 0, 0, 1], 0.5)).toBeCloseTo(0.5, 9);
  });
});

describe('keyed values', () => {
  const keys = [
    { frame: 10, value: 0, ease: 'hold' as const },
    { frame: 20, value: 4 },
    { frame: 30, value: 8 },
  ];
  test('hold, go linearly, and stay before the first and after the last key', () => {
    expect([0, 10, 19.9, 20, 25, 30, 99].map((frame) => numberAt(keys, frame))).toEqual([0, 0, 0, 4, 6, 8, 8]);
    expect(numberAt(7, 3)).toBe(7);
  });
  test('rows of numbers go together', () => {
    expect(
      numbersAt(
        [
          { frame: 0, value: [0, 10] as const },
          { frame: 4, value: [2, 30] as const },
        ],
        1,
      ),
    ).toEqual([0.5, 15]);
    expect(numbersAt([3, 4] as readonly number[], 9)).toEqual([3, 4]);
  });
});
