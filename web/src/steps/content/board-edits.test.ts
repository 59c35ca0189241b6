import { describe, expect, test } from 'vitest';
import type { Board, BoardLayer } from '../../../../core/base/schemas/types.ts';
import {
  alignBy,
  duplicateLayer,
  easeName,
  keyFrames,
  moveKeys,
  removeKeys,
  scaleLayerTo,
  setEase,
  setValue,
  snapped,
  toggleKey,
  turnLayerTo,
  valueAt,
} from './board-edits.ts';

const layer = (): BoardLayer => ({ id: 'a', kind: 'solid' });

describe('keys of a layer', () => {
  test('a value is for all frames until it is keyed; then it is set where the playhead stands', () => {
    const l = layer();
    setValue(l, 'position', 5, [10, 20]);
    expect(l.position).toEqual([10, 20]);
    toggleKey(l, 'position', 5);
    setValue(l, 'position', 15, [30, 20]);
    expect(valueAt(l, 'position', 10)).toEqual([20, 20]);
    expect(keyFrames(l)).toEqual([
      { frame: 5, names: ['position'] },
      { frame: 15, names: ['position'] },
    ]);
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
  const board: Board = {
    format: 'yarlop-board/1',
    width: 10,
    height: 10,
    layers: [
      { ...layer(), name: 'Card' },
      { id: 'layer-3', kind: 'text' },
    ],
  };
  expect(duplicateLayer(board, 'a')).toBe('layer-4');
  expect(board.layers.map((l) => l.name ?? l.id)).toEqual(['Card', 'Card copy', 'layer-3']);
});

describe('places', () => {
  const box = { left: 10, top: 10, right: 30, bottom: 20 };
  const board = { left: 0, top: 0, right: 100, bottom: 200 };
  test.each([
    ['left', -10, 0],
    ['middle', 30, 0],
    ['right', 70, 0],
    ['top', 0, -10],
    ['centre', 0, 85],
    ['bottom', 0, 180],
  ] as const)('aligned %s', (how, dx, dy) => {
    expect(alignBy(box, board, how)).toEqual([dx, dy]);
  });
  test('a move is drawn to near sides and middles, each way by itself', () => {
    expect(snapped(box, [28, 3], [board], 4)).toEqual([30, 3]);
    expect(snapped(box, [-12, -8], [board], 4)).toEqual([-10, -10]);
    expect(snapped(box, [5, 40], [board], 4)).toEqual([5, 40]);
  });
});

describe('a layer scaled and turned by hand', () => {
  const start: BoardLayer = { id: 'a', kind: 'solid', width: 100, height: 50, position: [20, 30], rotation: 90 };
  test('about its anchor, both ways alike or each by itself', () => {
    // Turned by a quarter, the layer's width runs down the board.
    const layer: BoardLayer = { ...start };
    expect(scaleLayerTo(layer, start, 0, [-30, 130], [-80, 230], 'both')).toBe(true);
    expect(layer.scale).toEqual([2, 2]);
    scaleLayerTo(layer, start, 0, [-30, 130], [-80, 130], 'each');
    expect(layer.scale).toEqual([1, 2]);
    expect(scaleLayerTo(layer, start, 0, [-30, 130], [70, -70], 'both')).toBe(false);
  });
  test('where it has keys, on the frame on show alone', () => {
    const keyed: BoardLayer = {
      ...start,
      rotation: 0,
      scale: [
        { frame: 0, value: [1, 1] },
        { frame: 10, value: [2, 2] },
      ],
    };
    const layer: BoardLayer = { ...keyed };
    scaleLayerTo(layer, keyed, 10, [120, 80], [70, 55], 'both');
    expect(layer.scale).toEqual([
      { frame: 0, value: [1, 1] },
      { frame: 10, value: [1, 1] },
    ]);
  });
  test('turns are drawn to eighths of a turn, unless free', () => {
    const layer: BoardLayer = { ...start };
    turnLayerTo(layer, start, 0, [30, 30], [20 + 10 * Math.cos(0.8), 30 + 10 * Math.sin(0.8)], false);
    expect(layer.rotation).toBe(135);
    turnLayerTo(layer, start, 0, [30, 30], [20 + 10 * Math.cos(0.8), 30 + 10 * Math.sin(0.8)], true);
    expect(layer.rotation).toBeCloseTo(90 + (0.8 * 180) / Math.PI, 2);
  });
});
