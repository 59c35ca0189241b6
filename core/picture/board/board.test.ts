import { NEUTRAL_LEVELS } from '../look/look.ts';
import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { type ContentPyramid, buildContentPyramid } from '../pin/content-pyramid.ts';
import type { Board, BoardLayer } from '../../base/schemas/types.ts';
import { boardScale } from './board-scale.ts';
import { boardState, DrawnBoards } from './drawn-boards.ts';
import {
  FONT_FAMILIES,
  FONT_PARTS,
  FONT_WEIGHTS,
  fontFile,
  FontSet,
  type FontFamily,
  type FontWeight,
} from './fonts.ts';
import { layerOnFrame } from './layer-on-frame.ts';
import { renderBoard } from './render-board.ts';
import { layOutText } from './text-layout.ts';

const bytes = (family: FontFamily, weight: FontWeight) =>
  FONT_PARTS.map((part) => Uint8Array.from(readFileSync(`node_modules/${fontFile(family, weight, part)}`)).buffer);
const archivo = new FontSet(bytes('Archivo', 400));
const style = { size: 40, leading: 1.25, tracking: 0, align: 'left' as const, width: null };
const LEVELS = NEUTRAL_LEVELS;

describe('fonts', () => {
  test.each(FONT_FAMILIES.flatMap((family) => FONT_WEIGHTS.map((weight) => [family, weight] as const)))(
    '%s in %d ships and has letters',
    (family, weight) => {
      const font = new FontSet(bytes(family, weight));
      for (const letter of 'Aäß9ł') expect(font.glyph(letter).known).toBe(true);
      expect(font.glyph('A').path.length).toBe(2);
      expect(font.ascent).toBeGreaterThan(0.6);
    },
  );
  test('a letter that is missing is a box, and is reported', () => {
    expect(archivo.glyph('植').known).toBe(false);
    expect(layOutText('Bed 植', archivo, style).missing).toEqual(['植']);
  });
});

describe('layOutText', () => {
  const widthOf = (text: string) => layOutText(text, archivo, style).width;
  test('widths add up, kerned pairs stand nearer', () => {
    expect(widthOf('nn')).toBeCloseTo(2 * widthOf('n'), 6);
    expect(layOutText('nn', archivo, { ...style, tracking: 0.1 }).width).toBeCloseTo(2 * widthOf('n') + 4, 6);
  });
  test('breaks at spaces, and words that are too long', () => {
    const narrow = layOutText('Begonias need water', archivo, { ...style, width: widthOf('Begonias need') + 1 });
    expect(narrow.height).toBeCloseTo(2 * 50, 6);
    expect(layOutText('Begonias', archivo, { ...style, width: widthOf('Bego') }).height).toBeGreaterThanOrEqual(100);
    expect(layOutText('a\n\nb', archivo, style).height).toBe(150);
  });
  test('aligns', () => {
    const left = (align: 'left' | 'middle' | 'right') =>
      Math.min(
        ...layOutText('iii', archivo, { ...style, width: 400, align })
          .contours.flat()
          .map(([x]) => x),
      );
    expect(left('right') - left('left')).toBeCloseTo(400 - widthOf('iii'), 6);
    expect(left('middle') - left('left')).toBeCloseTo((400 - widthOf('iii')) / 2, 6);
  });
});

const layer = (more: Partial<BoardLayer>): BoardLayer => ({
  id: 'a',
  kind: 'solid',
  width: 40,
  height: 20,
  colour: '#ff0000',
  ...more,
});
const picture = buildContentPyramid(
  {
    width: 20,
    height: 40,
    data: Uint8Array.from({ length: 3200 }, (_, i) => (i % 4 === 3 || (i >> 2) / 20 >= 20 ? 255 : 0)),
    peak: 255,
  },
  LEVELS,
);
const sources = {
  moves: () => false,
  font: () => Promise.resolve(archivo),
  media: (): Promise<ContentPyramid | null> => Promise.resolve(picture),
};
const board = (...layers: BoardLayer[]): Board => ({
  format: 'yarlop-board/1',
  width: 100,
  height: 60,
  background: '#000000',
  layers,
});
const pixel = (pyramid: ContentPyramid, x: number, y: number) => [
  ...pyramid.level(0).data.subarray((y * pyramid.width + x) * 4, (y * pyramid.width + x) * 4 + 4),
];
const shown = async (given: Board, frame = 0, scale = 1) =>
  (await renderBoard(given, frame, sources, LEVELS, scale))[0]!.pyramid;

describe('renderBoard', () => {
  test('layers lie one over the other, by their opacity', async () => {
    const seen = await shown(
      board(layer({ position: [10, 10] }), layer({ id: 'b', position: [30, 10], colour: '#0000ff', opacity: 0.5 })),
    );
    expect(pixel(seen, 20, 20)).toEqual([1, 0, 0, 1]);
    expect(pixel(seen, 40, 20)).toEqual([0.5, 0, 0.5, 1]);
    expect(pixel(seen, 5, 5)).toEqual([0, 0, 0, 1]);
  });
  test('keys move, turn about the anchor, scale and fade', () => {
    const moving = layer({
      position: [
        { frame: 0, value: [0, 0] },
        { frame: 10, value: [50, 20] },
      ],
      rotation: 90,
      anchor: [20, 10],
      scale: [2, 1],
      opacity: [
        { frame: 0, value: 0, ease: 'hold' },
        { frame: 5, value: 1 },
      ],
    });
    expect(layerOnFrame(moving, 4)).toBeNull();
    const on = layerOnFrame(moving, 5)!;
    expect([on.toBoard[2]!, on.toBoard[5]!].map((v) => Math.round(v))).toEqual([35, -30]);
  });
  test('a tall page scrolls between two keys, and is cropped', async () => {
    const page = layer({
      kind: 'picture',
      width: 100,
      height: 200,
      position: [
        { frame: 0, value: [0, 0] },
        { frame: 10, value: [0, -140] },
      ],
    });
    expect(pixel(await shown(board(page)), 50, 30)[0]).toBeCloseTo(0, 2);
    expect(pixel(await shown(board(page), 10), 50, 30)[0]).toBeCloseTo(1, 2);
    const cut = await shown(board({ ...page, crop: [50, 0, 0, 0] }), 10);
    expect([pixel(cut, 25, 30)[0], pixel(cut, 75, 30)[0]]).toEqual([0, expect.closeTo(1, 2)]);
  });
  test('text and rounded boxes are drawn at any scale', async () => {
    const words = board(
      layer({ kind: 'rounded', width: 100, height: 60, radius: 20, colour: '#ffffff' }),
      layer({ id: 'b', kind: 'text', text: 'Bed 4', size: 30, colour: '#000000', position: [12, 8] }),
    );
    const one = await shown(words);
    const two = await shown(words, 0, 2);
    expect([two.width, two.height]).toEqual([200, 120]);
    expect(pixel(one, 1, 1)[0]).toBe(0);
    const sum = (p: ContentPyramid) =>
      p.level(0).data.reduce((a, v, i) => a + (i % 4 === 0 ? v : 0), 0) / (p.width * p.height);
    expect(Math.abs(sum(one) - sum(two))).toBeLessThan(0.005);
    expect(sum(one)).toBeLessThan(0.93);
  });
  test('layers of a depth are pictures of their own, the farthest first', async () => {
    const parts = await renderBoard(
      board(layer({}), layer({ id: 'b', depth: -0.2 }), layer({ id: 'c', depth: 0.5 })),
      0,
      sources,
      LEVELS,
    );
    expect(parts.map((p) => p.depth)).toEqual([0.5, 0, -0.2]);
    expect(pixel(parts[2]!.pyramid, 90, 50)).toEqual([0, 0, 0, 0]);
  });
  test('outside its frames, off, or scaled to nothing a layer is not seen', () => {
    for (const more of [{ from: 5 }, { to: -1 }, { off: true }, { scale: [0, 1] as [number, number] }])
      expect(layerOnFrame(layer(more), 0)).toBeNull();
  });
});

test('a board is drawn about as fine as it is seen, never finer than it is', () => {
  const quad = [
    [0, 0],
    [100, 0],
    [100, 200],
    [0, 200],
  ] as const;
  expect(boardScale({ width: 1000, height: 2000 }, quad, 2)).toBeCloseTo(0.21, 1);
  expect(boardScale({ width: 50, height: 100 }, quad, 2)).toBe(1);
});

describe('drawn boards', () => {
  const moving: BoardLayer = {
    id: 'bar',
    kind: 'solid',
    colour: '#ff0000',
    width: 10,
    height: 10,
    position: [
      { frame: 4, value: [0, 0] },
      { frame: 6, value: [20, 0] },
    ],
    from: 1,
  };
  const board: Board = { format: 'yarlop-board/1', width: 40, height: 20, background: '#ffffff', layers: [moving] };
  const sources = { media: () => Promise.resolve(null), moves: () => false, font: () => Promise.resolve(archivo) };
  test('their state is the same where they look the same', () => {
    const state = (frame: number, change: Partial<BoardLayer> = {}) =>
      boardState({ ...board, layers: [{ ...moving, ...change }] }, frame, ({ media }) => media === 3);
    expect(state(1)).toBe(state(4));
    expect(state(5)).not.toBe(state(4));
    expect(state(6)).toBe(state(90));
    expect(state(0)).not.toBe(state(1));
    expect(state(2, { colour: '#00ff00' })).not.toBe(state(2));
    expect(state(2, { kind: 'clip', media: 3 })).not.toBe(state(3, { kind: 'clip', media: 3 }));
    expect(state(2, { kind: 'picture', media: 4 })).toBe(state(3, { kind: 'picture', media: 4 }));
    // What is off, or not there yet, does not count, whatever it would look like.
    expect(state(2, { off: true })).toBe(state(3, { off: true, colour: '#0000ff' }));
  });
  test('while nothing moves a board is drawn once; what is kept is what would be drawn', async () => {
    const drawn = new DrawnBoards();
    const still = await drawn.at(board, 2, sources, LEVELS, 1);
    expect(await drawn.at(board, 3, sources, LEVELS, 1)).toBe(still);
    expect(await drawn.at(board, 3, sources, LEVELS, 0.5)).not.toBe(still);
    const moved = await drawn.at(board, 6, sources, LEVELS, 1);
    const fresh = await renderBoard(board, 6, sources, LEVELS, 1);
    expect([...moved[0]!.pyramid.level(0).data]).toEqual([...fresh[0]!.pyramid.level(0).data]);
    expect(await drawn.at(board, 6, sources, LEVELS, 1, 'other media')).not.toBe(moved);
  });
});
