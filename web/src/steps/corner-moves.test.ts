import { describe, expect, test } from 'vitest';
import type { ShotDocument } from '../../../core/base/schemas/types.ts';
import { outlineAt } from '../../../core/base/geometry/outline.ts';
import { DOCUMENT } from '../test/shot-parts.ts';
import { nudgeOf } from './nudge.ts';
import { moveReference } from './move-reference.ts';

const SHIFT = [1, 0, 30, 0, 1, -5, 0, 0, 1];

describe('nudges', () => {
  test.each([
    ['ArrowLeft', {}, [-1, 0]],
    ['ArrowDown', { shiftKey: true }, [0, 10]],
    ['ArrowUp', { altKey: true }, [0, -0.1]],
  ])('%s %j', (key, modifiers, by) => {
    expect(nudgeOf({ key, shiftKey: false, altKey: false, ...modifiers })).toEqual(by);
  });
  test('other keys are no nudge', () => expect(nudgeOf({ key: 'a', shiftKey: false, altKey: false })).toBeNull());
});

describe('moveReference', () => {
  test('what is drawn stays where it is seen; fixed keep-outs stay in the picture', () => {
    const start: ShotDocument = {
      ...structuredClone(DOCUMENT),
      keepOut: [
        {
          points: [
            [1, 1],
            [5, 1],
            [5, 5],
          ],
        },
        {
          points: [
            [1, 1],
            [5, 1],
            [5, 5],
          ],
          fixed: true,
        },
      ],
    };
    expect(moveReference(start, 9, SHIFT)).toBe(true);
    expect(start.referenceFrame).toBe(9);
    expect(start.regions[0]!.points[0]).toEqual([40, 5]);
    expect(start.corners![2]).toEqual([110, 55]);
    expect(start.keepOut[0]!.points[0]).toEqual([31, -4]);
    expect(start.keepOut[1]!.points[0]).toEqual([1, 1]);
  });
  test('fixes come along, and what moved the new reference becomes a key on the old one', () => {
    const start: ShotDocument = { ...structuredClone(DOCUMENT), corrections: [{ frame: 9, corner: 0, dx: 2, dy: 1 }] };
    expect(moveReference(start, 9, SHIFT)).toBe(true);
    expect(start.corners![0]).toEqual([52, 16]);
    expect(start.corrections).toEqual([{ frame: 2, corner: 0, dx: -2, dy: -1, ease: 'smooth' }]);
  });
  test('without a track points keep their numbers', () => {
    const start = structuredClone(DOCUMENT);
    expect(moveReference(start, 1, null)).toBe(true);
    expect(start).toEqual({ ...DOCUMENT, referenceFrame: 1 });
  });
  test('a frame on which the surface would lie behind the camera is refused, nothing is changed', () => {
    const start = structuredClone(DOCUMENT);
    expect(moveReference(start, 1, [1, 0, 0, 0, 1, 0, -0.02, 0, 1])).toBe(false);
    expect(start).toEqual(DOCUMENT);
  });

  test('keys come along: the outline on the new reference is kept, that on the old one becomes a key', () => {
    const points: [number, number][] = [
      [0, 0],
      [10, 0],
      [10, 10],
    ];
    const later = points.map(([x, y]): [number, number] => [x + 8, y]);
    const keyed = {
      ...DOCUMENT,
      referenceFrame: 4,
      regions: [{ points, keys: [{ frame: 8, points: later }] }],
      keepOut: [],
    };
    const seen = [4, 6, 8].map((frame) => outlineAt(keyed.regions[0]!, 4, frame).points[0]![0]);
    expect(moveReference(keyed, 6, [1, 0, 100, 0, 1, 0, 0, 0, 1])).toBe(true);
    expect(keyed.regions[0]!.points[0]).toEqual([104, 0]);
    expect([4, 6, 8].map((frame) => outlineAt(keyed.regions[0]!, 6, frame).points[0]![0] - 100)).toEqual(seen);
  });
});
