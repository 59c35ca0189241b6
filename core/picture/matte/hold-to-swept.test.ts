import { expect, test } from 'vitest';
import { holdToSwept } from './hold-to-swept.ts';

const WIDTH = 40;
const row = (at: (x: number) => number) => Float32Array.from({ length: WIDTH }, (_, x) => at(x));
/** An end smeared over twenty pixels: covered from the left. */
const cover = row((x) => Math.min(1, Math.max(0, (30 - x) / 20)));

test('a key that is nearly what the surface covers becomes that; one that sees something in front stays', () => {
  const matte = row((x) => (x === 22 ? 0.95 : Math.min(1, 1.15 * (1 - cover[x]!))));
  holdToSwept(matte, null, cover, WIDTH);
  for (let x = 0; x < 26; x++) expect(matte[x]).toBeCloseTo(x === 22 ? 0.95 : 1 - cover[x]!, 5);
  // Where the key sees no screen at all nothing is taken from what is in front.
  for (let x = 28; x < WIDTH; x++) expect(matte[x]).toBe(1);
});

test('a side that is not smeared stays the key’s', () => {
  const side = row((x) => (x < 20 ? 1 : x === 20 ? 0.4 : 0));
  const matte = row((x) => (x < 20 ? 0.05 : x === 20 ? 0.5 : 0.9));
  const before = matte.slice();
  holdToSwept(matte, null, side, WIDTH);
  for (const x of [19, 20]) expect(matte[x]).toBe(before[x]);
});

test('inside, where sums of areas come to a hair less than all, a soft finger stays what the key sees', () => {
  const matte = row((x) => (x > 5 && x < 9 ? 0.15 : 0));
  const before = matte.slice();
  holdToSwept(
    matte,
    null,
    row(() => 0.9999998),
    WIDTH,
  );
  expect(matte).toEqual(before);
});

test('on a marker no more is screen than the surface covers', () => {
  const marked = row((x) => (x > 10 && x < 30 ? 1 : 0));
  const matte = row((x) => (x === 15 ? 1 : 0));
  holdToSwept(matte, marked, cover, WIDTH);
  expect(matte[15]).toBe(1);
  for (const x of [12, 20, 28]) expect(matte[x]).toBeCloseTo(1 - cover[x]!, 5);
});
