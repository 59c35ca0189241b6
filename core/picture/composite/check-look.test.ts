import { describe, expect, test } from 'vitest';
import { Problem } from '../../base/problem/problem.ts';
import type { Look } from '../../base/schemas/types.ts';
import { GREEN } from '../../test/green-screen.ts';
import { checkLook } from './check-look.ts';
import { needsMeasuring, resolveLook } from '../look/look.ts';

describe('checkLook', () => {
  const folded = Array.from({ length: 25 }, (_, i) => (i === 6 ? [0.7, 0.25] : [(i % 5) / 4, Math.floor(i / 5) / 4]));
  test.each<[string, Look, RegExp]>([
    ['a key on grey', { keys: [{ colour: [0.3, 0.32, 0.3] }] }, /too near grey/],
    [
      'a ceiling under the floor',
      { keys: [{ colour: [...GREEN] as [number, number, number], floor: 0.5, ceiling: 0.4 }] },
      /above the floor/,
    ],
    [
      'a shape of two points',
      {
        shapes: [
          {
            points: [
              [0, 0],
              [9, 9],
            ],
          },
        ],
      },
      /three or more/,
    ],
    [
      'a key of another shape',
      {
        shapes: [
          {
            points: [
              [0, 0],
              [9, 9],
              [0, 9],
            ],
            keys: [
              {
                frame: 4,
                points: [
                  [0, 0],
                  [9, 9],
                  [0, 9],
                  [1, 1],
                ],
              },
            ],
          },
        ],
      },
      /frame 4 has another number of points/,
    ],
    [
      'a mesh folded over itself',
      { mesh: { columns: 4, rows: 4, keys: [{ frame: 3, points: folded as never }] } },
      /folded over itself on frame 3/,
    ],
    [
      'a mesh of another size',
      { mesh: { columns: 4, rows: 4, keys: [{ frame: 3, points: folded.slice(0, 20) as never }] } },
      /has 25/,
    ],
    ['trim that ends before it starts', { time: { trim: [9, 3] } }, /before it starts/],
    ['content scaled to nothing', { place: { scale: [0, 1] } }, /scaled to nothing/],
    [
      'keys out of order',
      {
        depth: [
          { frame: 5, value: 0 },
          { frame: 2, value: 1 },
        ],
      },
      /order of their frames/,
    ],
  ])('%s is refused in words', (_, look, words) => {
    let said = '';
    try {
      checkLook(look, 'LOOK.json');
    } catch (error) {
      said = error instanceof Problem ? error.message : '';
    }
    expect(said).toMatch(words);
  });
  test('`measure` asks for values', () => {
    expect(needsMeasuring({ keys: 'measure' })).toBe(true);
    expect(needsMeasuring({ keys: [] })).toBe(false);
    expect(() => resolveLook({ spill: 'measure' })).toThrow(RangeError);
  });
});
