import { describe, expect, test } from 'vitest';
import type { Point } from '../../base/geometry/homography.ts';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import { FRAME, GREEN, greenScreen, SCREEN_QUAD } from '../../test/green-screen.ts';
import { measureFront } from './measure-front.ts';
import { differenceOf } from './difference-matte.ts';
import { lightOfRegion } from '../../base/image/light-region.ts';

describe('measureFront', () => {
  const bars = [0, 1, 2, 3, 4].map((k): Point[] => [
    [50 + 12 * k, 0],
    [62 + 12 * k, 0],
    [58 + 12 * k, 120],
    [46 + 12 * k, 120],
  ]);
  const marks: Point[][] = [
    [60, 45],
    [100, 45],
    [60, 78],
    [100, 78],
  ].map(([x, y]) => [
    [x! - 2, y! - 2],
    [x! + 2, y! - 2],
    [x! + 2, y! + 2],
    [x! - 2, y! + 2],
  ]);

  test('finds the screen’s colour, limits and marks', () => {
    const frames = bars.map((bar) => ({
      picture: greenScreen({ bar, marks, noise: 0.02 }).picture,
      quad: SCREEN_QUAD,
    }));
    const {
      keys: [key],
      markers,
      spill,
    } = measureFront(frames, 1.2, DISPLAY_COLOUR);
    key!.colour.forEach((v, c) => expect(Math.abs(v - GREEN[c]!)).toBeLessThan(0.02));
    expect(key!.floor).toBeLessThan(0.15);
    expect(key!.ceiling).toBeGreaterThan(0.7);
    expect(markers).toHaveLength(4);
    expect(spill).toMatchObject({ colour: key!.colour, allowance: 1 });
    expect(spill!.most).toBeLessThan(2);
  });
  test('no key where the screen is grey or dark', () => {
    const picture = greenScreen().picture;
    const data = picture.data.map((_, i) => picture.data[i - (i % 3)]!);
    expect(measureFront([{ picture: { ...picture, data }, quad: SCREEN_QUAD }], 1.2, DISPLAY_COLOUR)).toEqual({
      keys: [],
      markers: [],
      spill: null,
    });
  });
});

test('the difference from the clean surface tells what stands before a dark screen', () => {
  const dark = (bar: Point[]) => {
    const { picture, screen } = greenScreen({ bar, front: [0.2, 0.14, 0.1] });
    const data = picture.data.slice();
    // The screen is switched off: what is green there is dark.
    for (let i = 0; i < screen.length; i++)
      for (let c = 0; c < 3; c++)
        data[3 * i + c] = Math.round(data[3 * i + c]! * (1 - screen[i]!) + 255 * Math.sqrt(FRAME[c]!) * screen[i]!);
    return { picture: { ...picture, data }, quad: SCREEN_QUAD, screen };
  };
  const frames = [0, 1, 2, 3, 4, 5, 6].map((k) =>
    dark([
      [40 + 12 * k, 0],
      [52 + 12 * k, 0],
      [52 + 12 * k, 120],
      [40 + 12 * k, 120],
    ]),
  );
  const region = lightOfRegion(frames[3]!.picture, { left: 36, top: 20, right: 124, bottom: 100 }, DISPLAY_COLOUR);
  const front = differenceOf(frames, 1.2, DISPLAY_COLOUR).on(SCREEN_QUAD, {})(region);
  let sum = 0;
  let n = 0;
  for (let row = 30; row < 88; row++)
    for (let col = 48; col < 112; col++, n++)
      sum += Math.abs(front[(row - 20) * 88 + col - 36]! - (1 - frames[3]!.screen[row * 160 + col]!));
  expect(sum / n).toBeLessThan(0.05);
});
