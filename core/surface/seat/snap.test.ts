import { describe, expect, test } from 'vitest';
import { signedArea, type Quad } from '../../base/geometry/quad.ts';
import { median } from '../../base/image/statistics.ts';
import {
  BOARD_ACROSS,
  boardCorners,
  CHESSBOARD_VIEWS,
  straightView,
} from '../../../bench/reference/chessboard-views.ts';
import { lightPicture } from '../../base/image/light-sampler.ts';
import { quadOfSides, shiftedSide, sideOf } from './sides.ts';
import { snapQuad } from './snap.ts';
import { cornerDistances, drawSurface, roughly } from '../../../bench/seat/drawn-surface.ts';

const QUAD: Quad = [
  [78.3, 62.4],
  [318.6, 70.1],
  [309.2, 232.7],
  [70.9, 221.5],
];
const SIZE = { width: 400, height: 300 };
const snapped = (
  drawing: Partial<Parameters<typeof drawSurface>[0]>,
  rough: Quad,
  border: 'inner' | 'outer' = 'inner',
) => snapQuad(lightPicture(drawSurface({ ...SIZE, quad: QUAD, noise: 0.004, ...drawing })), rough, border);

describe('from corners up to 12 px off', () => {
  test.each([1, 2, 3, 4])('a lit screen in a dark frame is found to a few hundredths of a pixel, seed %i', (seed) => {
    const { quad, sides, bounds } = snapped({ seed }, roughly(QUAD, 12, seed));
    cornerDistances(quad, QUAD).forEach((off, i) => {
      expect(off).toBeLessThan(0.06);
      expect(off).toBeLessThan(bounds[i]!);
    });
    for (const { border } of sides) expect(Math.max(...border!.bounds)).toBeLessThan(0.1);
  });
  test('the edge of the device is the outer border, where both can be reached', () => {
    const margin = 7;
    const outer = quadOfSides([0, 1, 2, 3].map((k) => shiftedSide(sideOf(QUAD, k), margin, margin)))!;
    const rough = roughly(QUAD, 4);
    expect(Math.max(...cornerDistances(snapped({ margin }, rough, 'inner').quad, QUAD))).toBeLessThan(0.1);
    const found = snapped({ margin }, rough, 'outer');
    expect(Math.max(...cornerDistances(found.quad, outer))).toBeLessThan(0.1);
    expect(found.sides.every((side) => side.choices.length >= 2)).toBe(true);
  });
  test('a finger over a corner takes nothing from it', () => {
    const { quad } = snapped({ cover: [{ at: [305, 225], radius: 46, light: 0.3 }] }, roughly(QUAD, 9));
    expect(Math.max(...cornerDistances(quad, QUAD))).toBeLessThan(0.2);
  });
  test('black on almost black, deep in noise', () => {
    const { quad } = snapped({ screen: 0.004, bezel: 0.012, behind: 0.012, noise: 0.004 }, roughly(QUAD, 8));
    expect(Math.max(...cornerDistances(quad, QUAD))).toBeLessThan(0.6);
  });
  test('a mirrored order stays mirrored', () => {
    const mirrored: Quad = [QUAD[1], QUAD[0], QUAD[3], QUAD[2]];
    const { quad } = snapped({}, roughly(mirrored, 6));
    expect(signedArea(quad)).toBeLessThan(0);
    expect(Math.max(...cornerDistances(quad, mirrored))).toBeLessThan(0.06);
  });
  test('corners outside the picture lie where the visible sides meet', () => {
    const quad: Quad = [
      [-22.6, 40.3],
      [318.6, 70.1],
      [309.2, 232.7],
      [-31.4, 251.2],
    ];
    const found = snapped({ quad }, roughly(quad, 6));
    expect(found.sides[3]!.border).toBeNull();
    expect(cornerDistances(found.quad, quad)[1]!).toBeLessThan(0.1);
    expect(cornerDistances(found.quad, quad)[2]!).toBeLessThan(0.1);
  });
});

test('where nothing is drawn no border is made up', () => {
  const { quad, sides } = snapped({ screen: 0.2, bezel: 0.2, behind: 0.2, noise: 0.01 }, QUAD);
  expect(sides.filter((s) => s.border !== null && s.border.support > 0.7)).toHaveLength(0);
  expect(Math.max(...cornerDistances(quad, QUAD))).toBeLessThan(16);
});

// Chessboard photographs of opencv-doc (core/test/chessboard-views.ts): the quad of the outermost inner corners, whose sides change from
// black to white at every field, against the corners that the reference library detects.
test('outer corners of the chessboard photographs, between sides that are sure, lie where the library detects them', async () => {
  const off: number[] = [];
  for (const name of CHESSBOARD_VIEWS) {
    const corners = boardCorners(name);
    const at = (row: number, column: number) => corners[row * BOARD_ACROSS + column]!;
    const quad = [at(0, 0), at(0, 8), at(5, 8), at(5, 0)] as unknown as Quad;
    const found = snapQuad(lightPicture(await straightView(name)), roughly(quad, 5), 'inner', 7);
    cornerDistances(found.quad, quad).forEach((distance, i) => {
      const bound = found.bounds[i];
      if (bound === null || bound === undefined || bound > 0.75) return;
      off.push(distance);
    });
  }
  expect(off.length).toBeGreaterThan(12);
  expect(median(off)).toBeLessThan(0.35);
  expect(Math.max(...off)).toBeLessThan(1.3);
});
