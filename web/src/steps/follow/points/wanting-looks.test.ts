import { describe, expect, test } from 'vitest';
import type { PointFit } from '../../../../../core/motion/points/point-plan.ts';
import { wantingLooks } from './wanting-looks.ts';

const fit = (how: PointFit['how'], score = 1, bound = 0.2): { fit: PointFit } => ({
  fit: { at: [0, 0], how, score, bound, light: false },
});
const LOST = { fit: null };
const frames = (rows: Record<number, Record<string, { fit: PointFit | null }>>) =>
  new Map(Object.entries(rows).map(([frame, row]) => [Number(frame), new Map(Object.entries(row))]));
const told = (rows: Parameters<typeof frames>[0], names = ['a', 'b']) =>
  wantingLooks(frames(rows), names).map((l) => `${l.name} ${l.frame}`);

describe('what wants a look', () => {
  test('the lost come first, then the reckoned, then the unlike', () => {
    expect(
      told({
        1: { a: fit('matched', 0.5), b: fit('matched', 0.99) },
        9: { a: fit('reckoned', 0.9, 2) },
        20: { a: fit('matched', 0.9), b: LOST },
      }),
    ).toEqual(['b 20', 'a 9', 'a 1']);
  });
  test('neighbouring frames of a point are one look, those of another are not', () => {
    expect(told({ 4: { a: LOST }, 5: { a: LOST, b: LOST }, 6: { a: LOST }, 14: { a: LOST } })).toEqual([
      'a 4',
      'b 5',
      'a 14',
    ]);
  });
  test('where all is well the worst is listed alone; what is put by hand or not asked for wants nothing', () => {
    expect(
      told({
        1: { a: fit('matched', 0.98) },
        30: { a: fit('matched', 0.95) },
        40: { a: fit('hand') },
        50: { c: LOST },
      }),
    ).toEqual(['a 30']);
    expect(told({ 1: { a: fit('hand') } })).toEqual([]);
  });
});
