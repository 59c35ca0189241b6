import { describe, expect, test } from 'vitest';
import type { Board, BoardLayer } from '../../../../core/schemas/types.ts';
import { alignBy, duplicateLayer, easeName, keyFrames, moveKeys, removeKeys, setEase, setValue, snapped, toggleKey, valueAt } from './board-edits.ts';

const layer = (): BoardLayer => ({ id: 'a', kind: 'solid' });

describe('keys of a layer', () => {
  test('a value is for all frames until it is keyed; then it is set where the playhead stands', () => {
    const l = layer();
    setValue(l, 'position', 5, [10, 20]);
    expect(l.position).toEqual([10, 20]);
    toggleKey(l, 'position', 5);
    setValue(l, 'position', 15, [30, 20]);
    expect(valueAt(l, 'position', 10)).toEqual([20, 20]);
    expect(keyFrames(l)).toEqual([{ frame: 5, names: ['position'] }, { frame: 15, names: ['position'] }]);
    toggleKey(l, 'position', 5);
    toggleKey(l, 'position', 15);
    expect(l.position).toEqual([30, 20]);
  });
  test('keys of a frame move, ease and go together', () => {
    const l = layer();
    for (const name of ['opacity', 'scale'] as const) {
      toggleKey(l, name, 0);
      toggleKey(l, name, 10);
    }
    expect(moveKeys(l, 0, 10)).toBe(false);
    expect(moveKeys(l, 0, 4)).toBe(true);
    setEase(l, 4, 'ease-out');
    expect(easeName((l.opacity as { ease?: never }[])[0]!.ease)).toBe('ease-out');
    removeKeys(l, 4);
    expect(keyFrames(l)).toEqual([{ frame: 10, names: ['scale', 'opacity'] }]);
    expect(easeName([0.1, 0, 0.9, 1])).toBe('own');
  });
});

test('a copy stands in front of what it was copied from, under an id of its own', () => {
  const board: Board = { format: 'yarlop-board/1', width: 10, height: 10, layers: [{ ...layer(), name: 'Card' }, { id: 'layer-3', kind: 'text' }] };
  expect(duplicateLayer(board, 'a')).toBe('layer-4');
  expect(board.layers.map((l) => l.name ?? l.id)).toEqual(['Card', 'Card copy', 'layer-3']);
});

describe('places', () => {
  const box = { left: 10, top: 10, right: 30, bottom: 20 }, board = { left: 0, top: 0, right: 100, bottom: 200 };
  test.each([['left', -10, 0], ['middle', 30, 0], ['right', 70, 0], ['top', 0, -10], ['centre', 0, 85], ['bottom', 0, 180]] as const)('aligned %s', (how, dx, dy) => {
    expect(alignBy(box, board, how)).toEqual([dx, dy]);
  });
  test('a move is drawn to near sides and middles, each way by itself', () => {
    expect(snapped(box, [28, 3], [board], 4)).toEqual([30, 3]);
    expect(snapped(box, [-12, -8], [board], 4)).toEqual([-10, -10]);
    expect(snapped(box, [5, 40], [board], 4)).toEqual([5, 40]);
  });
});
