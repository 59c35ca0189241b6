import { expect, test } from 'vitest';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import { greenScreen, SCREEN_QUAD } from '../../test/green-screen.ts';
import { measureFront } from './measure-front.ts';

const W = 160;
const H = 120;
const frames = (bar: boolean) =>
  Array.from({ length: 4 }, (_, k) => ({
    picture: greenScreen({
      bar: bar
        ? [
            [60 + 6 * k, 0],
            [84 + 6 * k, 0],
            [84 + 6 * k, H],
            [60 + 6 * k, H],
          ]
        : [],
      noise: 0.01,
    }).picture,
    quad: SCREEN_QUAD,
  }));

test('spill is proposed all around where something crosses the screen to see it on; else on the rim alone', () => {
  const crossed = measureFront(frames(true), W / H, DISPLAY_COLOUR).spill!;
  const empty = measureFront(frames(false), W / H, DISPLAY_COLOUR).spill!;
  expect(crossed.window).toBeUndefined();
  expect(empty.window).toBeGreaterThan(0);
  expect(empty.window! + empty.falloff!).toBeLessThan(5 / 80);
  expect(empty.colour).toEqual((crossed.colour ?? []).map((v) => expect.closeTo(v, 2) as number));
});
