import { expect, test } from 'vitest';
import { composeFrame } from '../composite/compose-frame.ts';
import { NEUTRAL_LEVELS, resolveLook } from '../look/look.ts';
import { buildContentPyramid } from '../pin/content-pyramid.ts';
import { signedArea } from '../../base/geometry/quad.ts';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import { codeToLight } from '../../base/image/transfer.ts';
import { GREEN, greenScreen, SCREEN_QUAD } from '../../test/green-screen.ts';
import { deviceFrame } from './device-frame.ts';
import { measureFront } from './measure-front.ts';

const RATIO = 1.2;
const key = { colour: [...GREEN] as [number, number, number] };
/** A grey frame that the green screen shines on. */
const LIT = [0.012, 0.06, 0.016];
const scene = (options: Parameters<typeof greenScreen>[0] = {}) =>
  greenScreen({ bar: [], frame: LIT, noise: 0.01, ...options }).picture;

test('the dark frame around a screen is found where it ends, within a pixel and a half', () => {
  const outline = deviceFrame([{ picture: scene(), quad: SCREEN_QUAD }], key, RATIO, DISPLAY_COLOUR, SCREEN_QUAD)!;
  const [[left, top], [right], [, bottom]] = [
    [32, 17],
    [128, 20],
    [126, 103],
  ] as const;
  for (const [x, y] of outline) {
    expect(x).toBeGreaterThan(left - 1.5);
    expect(x).toBeLessThan(right + 1.5);
    expect(y).toBeGreaterThan(top - 1.5);
    expect(y).toBeLessThan(bottom + 1.5);
  }
  // Nearly all of the frame lies within it.
  expect(
    signedArea(outline) /
      signedArea([
        [32, 17],
        [128, 20],
        [126, 103],
        [34, 100],
      ]),
  ).toBeGreaterThan(0.94);
});

test('none is determined where the frame is bright, of its own colour, not shone on, or does not end in the picture', () => {
  const of = (options: Parameters<typeof greenScreen>[0], quad = SCREEN_QUAD) =>
    deviceFrame([{ picture: scene(options), quad }], key, RATIO, DISPLAY_COLOUR, quad);
  expect(of({ frame: [0.4, 0.5, 0.4] })).toBeNull();
  expect(of({ frame: [0.05, 0.05, 0.005] })).toBeNull();
  expect(of({ frame: [0.012, 0.012, 0.012] })).toBeNull();
  const all = scene({
    quad: [
      [2, 2],
      [158, 2],
      [158, 118],
      [2, 118],
    ],
  });
  expect(
    deviceFrame(
      [
        {
          picture: all,
          quad: [
            [2, 2],
            [158, 2],
            [158, 118],
            [2, 118],
          ],
        },
      ],
      key,
      RATIO,
      DISPLAY_COLOUR,
      SCREEN_QUAD,
    ),
  ).toBeNull();
});

test('a frame that is only lit is grey in the composite; the green wall behind it stays as it is', () => {
  const picture = scene();
  const { keys, markers, spill } = measureFront([{ picture, quad: SCREEN_QUAD }], RATIO, DISPLAY_COLOUR, SCREEN_QUAD);
  expect(spill!.areas).toEqual([expect.objectContaining({ lit: true })]);
  const content = buildContentPyramid(
    {
      width: 64,
      height: 64,
      data: Uint8Array.from({ length: 64 * 64 * 4 }, (_, i) => (i % 4 === 3 ? 255 : 128)),
      peak: 255,
    },
    NEUTRAL_LEVELS,
  );
  const out = composeFrame(
    picture,
    {
      contents: [{ pyramid: content }],
      motion: { before: null, now: SCREEN_QUAD, after: null },
      ratio: RATIO,
      look: resolveLook({ keys: [...keys], spill: spill! }, { keys, markers, spill }),
      frame: 0,
      reference: SCREEN_QUAD,
      referenceFrame: 0,
    },
    'final',
    DISPLAY_COLOUR,
  );
  const light = (data: ArrayLike<number>, x: number, y: number) =>
    [0, 1, 2].map((c) => codeToLight(data[(y * picture.width + x) * 3 + c]! / 255));
  for (const [x, y] of [
    [36, 60],
    [80, 22],
    [124, 60],
    [80, 98],
  ] as const) {
    const [r, g, b] = light(out.data, x, y);
    expect(Math.abs(g! - r!)).toBeLessThan(0.01);
    expect(Math.abs(b! - r!)).toBeLessThan(0.01);
  }
  expect(light(out.data, 15, 60)[1]! / light(picture.data, 15, 60)[1]!).toBeCloseTo(1, 2);
});
