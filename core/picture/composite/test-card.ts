import type { ContentPicture } from '../../base/image/picture.ts';

/** Checks show slips and wrong perspective; numbers name the place; corners and a thin rim leave the plate free but where it matters. */
export type CardName = 'checks' | 'numbers' | 'corners' | 'rim';
export const CARD_NAMES: readonly CardName[] = ['checks', 'numbers', 'corners', 'rim'];

type Paint = readonly [number, number, number, number];
const CLEAR: Paint = [0, 0, 0, 0];
const INK: Paint = [35, 38, 42, 255];
const PALE: Paint = [244, 244, 242, 255];
const AMBER: Paint = [180, 83, 9, 255];
/** Squares of a card from left to right. */
const ACROSS = 16;

/** A card of `width` by `height` pixels; what a card leaves free is transparent. */
export function testCard(width: number, height: number, name: CardName = 'checks'): ContentPicture {
  const data = new Uint8Array(width * height * 4);
  const down = Math.max(2, Math.round((ACROSS * height) / width));
  for (let row = 0; row < height; row++) {
    for (let col = 0; col < width; col++) data.set(paint(name, col, row, width, height, down), (row * width + col) * 4);
  }
  return { width, height, data, peak: 255 };
}

function paint(name: CardName, col: number, row: number, width: number, height: number, down: number): Paint {
  switch (name) {
    case 'checks':
      return checks((col + 0.5) / width, (row + 0.5) / height, down);
    case 'numbers':
      return numbers(col, row, width, height);
    case 'corners':
      return corners(col, row, width, height);
    case 'rim':
      return fromRim(col, row, width, height) < Math.max(2, width / 400)
        ? Math.floor((col + row) / 24) % 2 === 0
          ? PALE
          : AMBER
        : CLEAR;
  }
}

/** Squares, diagonals, a one-square rim, a mark at the upper edge. */
function checks(u: number, v: number, down: number): Paint {
  const cellX = Math.floor(u * ACROSS);
  const cellY = Math.floor(v * down);
  const rim = cellX === 0 || cellY === 0 || cellX === ACROSS - 1 || cellY === down - 1;
  const diagonal = Math.min(Math.abs(u - v), Math.abs(u + v - 1)) < 0.004;
  const upper = v > 1.4 / down && v < 2.2 / down && Math.abs(u - 0.5) < 0.09 * (1 - (v * down - 1.4));
  const bright = (cellX + cellY) % 2 === 0;
  return diagonal || upper ? AMBER : rim ? (bright ? PALE : INK) : bright ? [205, 205, 202, 255] : [128, 130, 132, 255];
}

/** Digits of three by five dots, a row of bits each. */
const SHAPES = [
  [7, 5, 5, 5, 7],
  [2, 6, 2, 2, 7],
  [7, 1, 7, 4, 7],
  [7, 1, 3, 1, 7],
  [5, 5, 7, 1, 1],
  [7, 4, 7, 1, 7],
  [7, 4, 7, 5, 7],
  [7, 1, 2, 2, 2],
  [7, 5, 7, 5, 7],
  [7, 5, 7, 1, 7],
] as const;

/** A grid of eight squares across, each with its column and row. */
function numbers(col: number, row: number, width: number, height: number): Paint {
  const cell = width / 8;
  const rows = Math.max(1, Math.round(height / cell));
  const tall = height / rows;
  const cellX = Math.floor(col / cell);
  const cellY = Math.floor(row / tall);
  const x = col - cellX * cell;
  const y = row - cellY * tall;
  if (x < 2 || y < 2 || x > cell - 2 || y > tall - 2) return INK;
  const dot = Math.min(cell, tall) / 14;
  const left = (cell - 7 * dot) / 2;
  const top = (tall - 5 * dot) / 2;
  const i = Math.floor((x - left) / dot);
  const j = Math.floor((y - top) / dot);
  if (j >= 0 && j < 5 && i >= 0 && i < 7 && i !== 3) {
    const shape = SHAPES[i < 3 ? (cellX + 1) % 10 : (cellY + 1) % 10]!;
    const bit = i < 3 ? 2 - i : 6 - i;
    if ((shape[j]! >> bit) & 1) return cellY === 0 ? AMBER : INK;
  }
  return (cellX + cellY) % 2 === 0 ? PALE : [205, 205, 202, 255];
}

/** Crosshairs whose arms run along the sides into each corner, a ring about it. */
function corners(col: number, row: number, width: number, height: number): Paint {
  const x = Math.min(col, width - 1 - col);
  const y = Math.min(row, height - 1 - row);
  const reach = width / 7;
  const thin = Math.max(2, width / 400);
  const ring = Math.abs(Math.hypot(x, y) - reach / 2);
  if (x > reach || y > reach) return CLEAR;
  if (x < thin || y < thin || ring < thin / 2 || Math.abs(x - y) < thin / 2) return row < height / 2 ? AMBER : PALE;
  return CLEAR;
}

function fromRim(col: number, row: number, width: number, height: number): number {
  return Math.min(col, row, width - 1 - col, height - 1 - row);
}
