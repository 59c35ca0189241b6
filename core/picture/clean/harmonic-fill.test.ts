import { describe, expect, test } from 'vitest';
import { harmonicFill } from './harmonic-fill.ts';

const W = 60;
const H = 50;
/** A plane with a hole (or two) in it, filled; how far what is filled is off the function it was made from. */
function worst(f: (x: number, y: number) => number, hole: (x: number, y: number) => boolean): number {
  const values = new Float32Array(W * H);
  const known = new Uint8Array(W * H).fill(1);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const i = y * W + x;
      const inside = hole(x, y);
      values[i] = inside ? 99 : f(x, y);
      known[i] = inside ? 0 : 1;
    }
  harmonicFill(values, known, W, H);
  let off = 0;
  for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) off = Math.max(off, Math.abs(values[y * W + x]! - f(x, y)));
  return off;
}
const disc = (x: number, y: number) => Math.hypot(x - 30, y - 24) < 14;

describe('a harmonic fill', () => {
  // On a grid of squares x² − y², x·y and what is linear fulfil the five-point equation exactly; e^(kx)·sin(ky) to fourth order in k.
  test.each<[string, (x: number, y: number) => number, number]>([
    ['x² − y²', (x, y) => ((x - 30) ** 2 - (y - 24) ** 2) / 400, 2e-4],
    ['x·y', (x, y) => ((x - 20) * (y - 20)) / 400, 2e-4],
    ['linear', (x, y) => 0.01 * x - 0.02 * y, 1e-4],
    ['e^(x/20)·sin(y/20)', (x, y) => Math.exp((x - 30) / 20) * Math.sin((y - 24) / 20), 5e-4],
  ])('is the harmonic function that its border has: %s', (_, f, limit) => {
    expect(worst(f, disc)).toBeLessThan(limit);
    expect(worst(f, (x, y) => (x > 10 && x < 22 && y > 8 && y < 40) || disc(x - 12, y))).toBeLessThan(2 * limit);
  });
  test('never leaves the range of its border, and runs out level where the picture ends', () => {
    const values = new Float32Array(W * H).fill(-5);
    const known = new Uint8Array(W * H);
    for (let y = 0; y < H; y++) {
      values[y * W] = 1;
      known[y * W] = 1;
    }
    harmonicFill(values, known, W, H);
    expect(Math.max(...values.map((v) => Math.abs(v - 1)))).toBeLessThan(1e-3);
  });
  test('nothing known, or all: nothing happens', () => {
    const values = Float32Array.of(1, 2, 3, 4);
    harmonicFill(values, new Uint8Array(4), 2, 2);
    harmonicFill(values, new Uint8Array(4).fill(1), 2, 2);
    expect([...values]).toEqual([1, 2, 3, 4]);
    expect(() => harmonicFill(values, new Uint8Array(3), 2, 2)).toThrow(/marks/);
  });
});
