import { describe, expect, test, vi } from 'vitest';
import { produce } from 'immer';
import type { ShotDocument } from '../../../core/schemas/types.ts';
import { outlineAt } from '../../../core/follow/outline.ts';
import { DOCUMENT } from '../test/shot-parts.ts';
import { moveCorner, nudgeOf } from './move-corner.ts';
import { moveReference } from './move-reference.ts';

const SHIFT = [1, 0, 30, 0, 1, -5, 0, 0, 1];

function bench(h: readonly number[] | null) {
  const state = { document: DOCUMENT as ShotDocument };
  const change = vi.fn((recipe: (draft: ShotDocument) => void) => {
    state.document = produce(state.document, recipe);
  });
  return { shot: { get document() { return state.document; }, homographyAt: () => h, edit: change, drag: change } as never, state, change };
}

describe('moveCorner', () => {
  test('a corner moved on any frame is carried back to the reference', () => {
    const { shot, state } = bench(SHIFT);
    moveCorner(shot, 9, 0, [52, 16], 'edit');
    expect(state.document.corners![0]).toEqual([22, 21]);
    expect(state.document.corners![1]).toEqual([80, 20]);
  });
  test('a move that crosses or dents the outline is not made', () => {
    const { shot, change } = bench([1, 0, 0, 0, 1, 0, 0, 0, 1]);
    moveCorner(shot, 2, 0, [90, 65], 'drag');
    moveCorner(shot, 2, 0, [79, 61], 'drag');
    expect(change).not.toHaveBeenCalled();
  });
  test('where the track does not reach nothing moves', () => {
    const { shot, change } = bench(null);
    moveCorner(shot, 2, 0, [21, 20], 'edit');
    expect(change).not.toHaveBeenCalled();
  });
  test.each([['ArrowLeft', {}, [-1, 0]], ['ArrowDown', { shiftKey: true }, [0, 10]], ['ArrowUp', { altKey: true }, [0, -0.1]]])('%s %j', (key, modifiers, by) => {
    expect(nudgeOf({ key, shiftKey: false, altKey: false, ...modifiers })).toEqual(by);
  });
  test('other keys are no nudge', () => expect(nudgeOf({ key: 'a', shiftKey: false, altKey: false })).toBeNull());
});

describe('moveReference', () => {
  test('what is drawn stays where it is seen; fixed keep-outs stay in the picture', () => {
    const start: ShotDocument = { ...structuredClone(DOCUMENT), keepOut: [{ points: [[1, 1], [5, 1], [5, 5]] }, { points: [[1, 1], [5, 1], [5, 5]], fixed: true }] };
    expect(moveReference(start, 9, SHIFT)).toBe(true);
    expect(start.referenceFrame).toBe(9);
    expect(start.regions[0]!.points[0]).toEqual([40, 5]);
    expect(start.corners![2]).toEqual([110, 55]);
    expect(start.keepOut[0]!.points[0]).toEqual([31, -4]);
    expect(start.keepOut[1]!.points[0]).toEqual([1, 1]);
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
    const points: [number, number][] = [[0, 0], [10, 0], [10, 10]], later = points.map(([x, y]): [number, number] => [x + 8, y]);
    const keyed = { ...DOCUMENT, referenceFrame: 4, regions: [{ points, keys: [{ frame: 8, points: later }] }], keepOut: [] };
    const seen = [4, 6, 8].map((frame) => outlineAt(keyed.regions[0]!, 4, frame).points[0]![0]);
    expect(moveReference(keyed, 6, [1, 0, 100, 0, 1, 0, 0, 0, 1])).toBe(true);
    expect(keyed.regions[0]!.points[0]).toEqual([104, 0]);
    expect([4, 6, 8].map((frame) => outlineAt(keyed.regions[0]!, 6, frame).points[0]![0] - 100)).toEqual(seen);
  });
});
