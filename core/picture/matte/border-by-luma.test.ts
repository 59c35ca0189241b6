import { expect, test } from 'vitest';
import type { Quad } from '../../base/geometry/quad.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import { greenScreen, SCREEN_QUAD } from '../../test/green-screen.ts';
import { borderByLuma } from './border-by-luma.ts';
import { lightOfRegion } from '../../base/image/light-region.ts';
import { frontOfFrame } from './front-of-frame.ts';
import { measureFront } from './measure-front.ts';

/** A picture with its colour at half the fineness both ways, as 4:2:0 holds it (Rec. ITU-R BT.709-6: luma weights; colour differences of codes). */
function subsampled({ width, height, data }: CodedPicture): CodedPicture {
  const out = new Uint8Array(data.length);
  const luma = (i: number) => 0.2126 * data[i]! + 0.7152 * data[i + 1]! + 0.0722 * data[i + 2]!;
  for (let row = 0; row < height; row += 2)
    for (let col = 0; col < width; col += 2) {
      const four = [0, 3, 3 * width, 3 * width + 3].map((by) => 3 * (row * width + col) + by);
      const red = four.reduce((s, i) => s + data[i]! - luma(i), 0) / 4;
      const blue = four.reduce((s, i) => s + data[i + 2]! - luma(i), 0) / 4;
      for (const i of four) {
        const y = luma(i);
        const codes = [y + red, y - (0.2126 * red + 0.0722 * blue) / 0.7152, y + blue];
        codes.forEach((v, c) => (out[i + c] = Math.min(255, Math.max(0, Math.round(v)))));
      }
    }
  return { width, height, data: out, peak: 255 };
}

const scene = greenScreen({ bar: [], noise: 0.004 });
const plate = subsampled(scene.picture);
const { keys } = measureFront([{ picture: plate, quad: SCREEN_QUAD }], 1.2, DISPLAY_COLOUR);
const at = (quad: Quad, smeared: readonly Quad[] = [quad]) => ({
  outline: quad,
  smeared,
  motion: { before: null, now: quad, after: null },
  frame: 0,
  reference: null,
  referenceFrame: 0,
  shutter: 0,
  phase: 0,
  mostMoments: 1,
});
const whole = { left: 0, top: 0, right: 160, bottom: 120 };

test('colour at half the fineness: the border is measured to a third of the colour’s own error, and no more than that is changed', () => {
  const found = frontOfFrame(
    plate,
    DISPLAY_COLOUR,
    { keys: [...keys], markers: [], shapes: [], difference: null, spill: null, edge: {} },
    at(SCREEN_QUAD),
  )!;
  const { box, front, marked } = found;
  const byColour = frontOfFrame(
    plate,
    DISPLAY_COLOUR,
    { keys: [...keys], markers: [], shapes: [], difference: null, spill: null, edge: {} },
    at(SCREEN_QUAD, [SCREEN_QUAD.map(([x, y]) => [x + 9, y]) as unknown as Quad]),
  )!;
  let told = 0;
  let colour = 0;
  let n = 0;
  for (let row = box.top, i = 0; row < box.bottom; row++)
    for (let col = box.left; col < box.right; col++, i++) {
      const screen = scene.screen[row * 160 + col]!;
      const j = (row - byColour.box.top) * (byColour.box.right - byColour.box.left) + col - byColour.box.left;
      if (marked![i] !== 1) continue;
      told += (1 - front[i]! - screen) ** 2;
      colour += (1 - byColour.front[j]! - screen) ** 2;
      n++;
    }
  expect(n).toBeGreaterThan(500);
  expect(n).toBeLessThan(2 * 310 * 4);
  expect(Math.sqrt(told / n)).toBeLessThan(0.05);
  expect(Math.sqrt(told / n)).toBeLessThan(0.4 * Math.sqrt(colour / n));
});

test('a smeared border, one as bright as the screen, and marks are left to the colour', () => {
  const region = lightOfRegion(plate, whole, DISPLAY_COLOUR);
  const screen = region.planes.map((_, c) =>
    new Float32Array(160 * 120).fill(keys[0]!.colour[c]!),
  ) as unknown as typeof region.planes;
  const matte = () => Float32Array.from(scene.screen, (v) => 1 - v);
  expect(
    borderByLuma(matte(), region, screen, SCREEN_QUAD, [SCREEN_QUAD.map(([x, y]) => [x, y + 6] as const)], null),
  ).toBeNull();
  expect(
    borderByLuma(matte(), region, screen, SCREEN_QUAD, [SCREEN_QUAD], new Float32Array(160 * 120).fill(1)),
  ).toBeNull();
  const alike = greenScreen({ bar: [], frame: [0.45, 0.38, 0.4] }).picture;
  expect(
    borderByLuma(matte(), lightOfRegion(alike, whole, DISPLAY_COLOUR), screen, SCREEN_QUAD, [SCREEN_QUAD], null),
  ).toBeNull();
});
