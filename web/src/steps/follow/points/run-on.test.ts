import { describe, expect, test } from 'vitest';
import type { PointFit } from '../../../../../core/motion/points/point-plan.ts';
import { handsBackAt, wayOn } from './run-on.ts';

const fit = (how: PointFit['how'], score = 1): { fit: PointFit } => ({
  fit: { at: [0, 0], how, score, bound: 0.2, light: false },
});

describe('running on after a correction', () => {
  test('goes away from the reference, to the end of the range', () => {
    expect(wayOn(12, 8, [0, 20])).toEqual({ direction: 'forward', span: [13, 20] });
    expect(wayOn(5, 8, [2, 20])).toEqual({ direction: 'backward', span: [2, 4] });
    expect(wayOn(20, 8, [0, 20])).toBeNull();
  });
  test.each([
    ['where it was lost', { 13: fit('matched'), 14: { fit: null } }, 14],
    ['where it was only reckoned', { 13: fit('matched'), 14: fit('reckoned', 0.9) }, 14],
    ['where it resembles too little', { 13: fit('matched', 0.4) }, 13],
    ['where it was not looked for any more', { 13: fit('matched') }, 14],
  ])('hands back %s', (_, known: Record<number, { fit: PointFit | null }>, frame) => {
    expect(handsBackAt((f) => known[f] ?? null, { direction: 'forward', span: [13, 15] })).toBe(frame);
  });
  test('backward it is the first on that way; where all holds there is none', () => {
    const all: Record<number, { fit: PointFit | null }> = {
      2: { fit: null },
      3: fit('matched', 0.2),
      4: fit('matched'),
    };
    expect(handsBackAt((f) => all[f] ?? null, { direction: 'backward', span: [2, 4] })).toBe(3);
    expect(handsBackAt(() => fit('matched'), { direction: 'backward', span: [2, 4] })).toBeNull();
  });
});
