import { expect, test } from 'vitest';
import type { Quad } from '../../../../core/base/geometry/quad.ts';
import type { Media } from '../../../../core/base/schemas/types.ts';
import { firstBoard, layerOfKind, layerOfMedium } from './new-layers.ts';

const LYING: Quad = [
  [100, 100],
  [420, 100],
  [420, 300],
  [100, 300],
];
const page = { id: 7, name: 'orders.png', kind: 'still', facts: { width: 800, height: 400 } } as Media;

test('a board without content has the shape of the screen, its longer side as long as is usual', () => {
  expect(firstBoard(null, null)).toMatchObject({ width: 900, height: 1600, layers: [] });
  expect(firstBoard(LYING, null)).toMatchObject({ width: 1600, height: 1000, layers: [] });
});

test('content that was there becomes its first layer, in its own pixels', () => {
  const board = firstBoard(LYING, page);
  expect(board).toMatchObject({ width: 800, height: 500 });
  expect(board.layers).toEqual([
    { id: 'page', kind: 'picture', name: 'orders.png', media: 7, width: 800, position: [0, 0] },
  ]);
  expect(layerOfMedium(board, { ...page, kind: 'clip' })).toMatchObject({ kind: 'clip', width: 800 });
});

test('words and boxes come in the size of the board, within it', () => {
  const board = { width: 1000, height: 500 };
  expect(layerOfKind(board, 'text')).toMatchObject({ text: 'Text', size: 71, width: 800, position: [100, 200] });
  expect(layerOfKind(board, 'solid')).not.toHaveProperty('radius');
  for (const kind of ['solid', 'rounded'] as const) {
    const { position, width, height } = layerOfKind(board, kind);
    const [x, y] = position as [number, number];
    expect(x + width!).toBeLessThanOrEqual(board.width);
    expect(y + height!).toBeLessThanOrEqual(board.height);
  }
});
