import { describe, expect, test } from 'vitest';
import { IDENTITY, translation } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { lightPicture } from '../../base/image/light-sampler.ts';
import { matchCorner, movementOf } from './match-reference.ts';
import { drawSurface, type Drawing } from '../../../bench/seat/drawn-surface.ts';

const QUAD: Quad = [
  [62.4, 50.3],
  [257.1, 55.8],
  [250.6, 190.2],
  [57.9, 181.7],
];
const SIZE = { width: 320, height: 240 };
const leaves = (x: number, y: number) => 0.12 * Math.sin(x / 5) * Math.cos(y / 6);
const picture = (change: Partial<Drawing> = {}) =>
  lightPicture(drawSurface({ ...SIZE, quad: QUAD, noise: 0.004, pattern: leaves, ...change }));
const moved = (dx: number, dy: number): Quad => QUAD.map(([x, y]) => [x + dx, y + dy]) as unknown as Quad;
const shifted = (dx: number, dy: number, change: Partial<Drawing> = {}) =>
  picture({ quad: moved(dx, dy), pattern: (x, y) => leaves(x - dx, y - dy), seed: 9, ...change });
const reference = picture();

describe('a corner that is off is found', () => {
  test.each<[string, Partial<Drawing>]>([
    ['as it is', {}],
    ['a stop darker', { exposure: 0.5 }],
    ['a stop brighter', { exposure: 2, screen: 0.5 }],
    ['blurred', { blur: 2 }],
  ])('%s', (_, change) => {
    for (const corner of [0, 2]) {
      const match = matchCorner(reference, shifted(1.3, -0.8, change), IDENTITY, QUAD[corner]!);
      expect(match.ok).toBe(true);
      if (match.ok) expect(Math.hypot(match.dx - 1.3, match.dy + 0.8)).toBeLessThan(0.12);
    }
  });
  test('under its map, in pixels of the reference', () => {
    const match = matchCorner(reference, shifted(11.5, 4), translation(10, 5), QUAD[1]);
    expect(match).toMatchObject({ ok: true });
    if (match.ok) expect(Math.hypot(match.dx - 1.5, match.dy + 1)).toBeLessThan(0.1);
  });
});

describe('it is left alone', () => {
  test.each([0, 1, 2, 3])('where the screen is on now and was off, corner %i', (corner) => {
    const off = picture({ screen: 0.01, pattern: () => 0 });
    const match = matchCorner(off, shifted(0.5, 0.2), IDENTITY, QUAD[corner]!);
    expect(match).toMatchObject({ ok: false, reason: 'looks-different' });
    expect(match.score).toBeLessThan(0.9);
  });
  test('where a hand covers it', () => {
    expect(
      matchCorner(reference, shifted(0, 0, { cover: [{ at: QUAD[0], radius: 30, light: 0.4 }] }), IDENTITY, QUAD[0]),
    ).toMatchObject({ ok: false });
  });
  test('outside the picture, and where there is nothing to see', () => {
    expect(matchCorner(reference, reference, translation(-120, 0), QUAD[0])).toMatchObject({
      ok: false,
      reason: 'outside',
    });
    const flat = picture({ screen: 0.2, bezel: 0.2, behind: 0.2, noise: 0, pattern: () => 0 });
    expect(matchCorner(flat, flat, IDENTITY, QUAD[0]).ok).toBe(false);
  });
});

test('a movement is half the way between the neighbours, while the shutter is open', () => {
  expect(movementOf([0, 0], [8, 4], 0.5)).toEqual([2, 1]);
  expect(movementOf(null, [8, 4], 0.5)).toEqual([0, 0]);
});
