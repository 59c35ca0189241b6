import { describe, expect, test } from 'vitest';
import type { Quad } from '../../base/geometry/quad.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import { measureFront } from '../matte/measure-front.ts';
import { cleanLit } from '../measure/measure-clean.ts';
import type { Look, Reflections } from '../../base/schemas/types.ts';
import { movingDevice } from '../../test/generated-device.ts';
import { greenScreen, SCREEN_QUAD } from '../../test/green-screen.ts';
import { composeFrame } from './compose-frame.ts';
import { composeSurfaces } from './compose-surfaces.ts';
import { buildContentPyramid } from '../pin/content-pyramid.ts';
import { KeptWithPicture, numberOf } from './kept-with-picture.ts';
import { NEUTRAL_LEVELS, resolveLook } from '../look/look.ts';
import type { PinnedSurface } from '../pin/pinned-surface.ts';

const pyramid = buildContentPyramid(
  {
    width: 60,
    height: 50,
    data: Uint8Array.from({ length: 60 * 50 * 4 }, (_, i) => (i % 4 === 3 ? 255 : (40 + 3 * ((i >> 4) % 50)) & 255)),
    peak: 255,
  },
  NEUTRAL_LEVELS,
);

/** Composed on a plate on which other looks were composed before, and on one that is new. */
function bothWays(plate: CodedPicture, surfaces: readonly PinnedSurface[]): void {
  for (const [i, surface] of [...surfaces, ...surfaces].entries()) {
    const worn = composeFrame(plate, surface, 'final').data;
    const fresh = composeFrame({ ...plate }, surface, 'final').data;
    expect(
      worn.every((v, k) => v === fresh[k]),
      `step ${i}`,
    ).toBe(true);
  }
}

describe('what is kept of a plate never shows where it is another', () => {
  test('a keyed screen: its front, spill and what it mirrors, as each of their settings changes and changes back', () => {
    const { picture } = greenScreen({
      noise: 0.01,
      bar: [
        [60, 0],
        [84, 0],
        [98, 120],
        [70, 120],
      ],
    });
    const found = measureFront([{ picture, quad: SCREEN_QUAD }], 1.2, DISPLAY_COLOUR);
    const [key] = found.keys;
    const surface = (look: Look, frame = 0): PinnedSurface => ({
      contents: [{ pyramid }],
      motion: { before: null, now: SCREEN_QUAD, after: null },
      ratio: 1.2,
      look: resolveLook(look, found),
      frame,
      reference: SCREEN_QUAD,
    });
    const looks: Look[] = [
      { keys: 'measure', spill: 'measure' },
      { keys: [{ ...key!, grow: 1 }], spill: 'measure' },
      { keys: 'measure', spill: { ...found.spill!, window: 0.3 } },
      { keys: 'measure', spill: { ...found.spill!, amount: 0.2 } },
      { keys: 'measure', reflections: { from: 'key' } },
      { keys: 'measure', reflections: { from: 'key', black: [0.02, 0.3, 0.04] } },
      { keys: 'measure', reflections: { from: 'key', gain: 3 } },
      { keys: 'measure', opacity: 0.5, levels: { gamma: 2 } },
    ];
    bothWays(
      picture,
      looks.map((look) => surface(look)),
    );
  });

  test('a lit screen whose old light is taken off, and a dark one that mirrors: as corners, softness, exposure, radius and smear change', () => {
    const device = movingDevice({ speed: 3 });
    const made = [0, 1, 2].map((f) => device(f));
    const plate = made[1]!.picture;
    const clean =
      cleanLit(
        made.map((one) => ({ ...one, stops: 0 })),
        DISPLAY_COLOUR,
        0.8,
      ) ?? undefined;
    const surface = (look: Look, by = 0): PinnedSurface => ({
      contents: [{ pyramid }],
      motion: {
        before: made[0]!.quad,
        now: made[1]!.quad.map(([x, y]) => [x + by, y]) as unknown as Quad,
        after: made[2]!.quad,
      },
      ratio: 1.5,
      look: resolveLook(look),
      frame: 1,
      clean,
    });
    const edges = { oldScreen: 'edges' } as const;
    const dark: Reflections = { from: 'dark', black: [0.01, 0.01, 0.01] };
    bothWays(plate, [
      surface(edges),
      surface(edges, 0.6),
      surface({ ...edges, soften: 1.5 }),
      surface({ ...edges, soften: 1.5, exposure: 1 }),
      surface({ ...edges, radius: 9 }),
      surface({ ...edges, motionBlur: { shutter: 180, phase: 0 } }),
      surface({ reflections: dark }),
      surface({ reflections: { ...dark, black: [0.05, 0.02, 0.02] } }),
      surface({ reflections: dark, blend: 'screen' }),
      surface({ ...edges, reflections: dark, crop: [2, 0, 0, 5] }),
    ]);
  });

  test('over another surface nothing is kept: what lies behind may be another', () => {
    const plate: CodedPicture = {
      width: 160,
      height: 120,
      peak: 255,
      data: new Uint8Array(160 * 120 * 3).map((_, i) => 60 + (i % 40)),
    };
    const look = resolveLook({ reflections: { from: 'dark', black: [0.01, 0.01, 0.01] } });
    const at = (x: number, light: number): PinnedSurface => ({
      contents: [
        {
          pyramid: buildContentPyramid(
            { width: 2, height: 2, data: new Uint8Array(16).fill(light), peak: 255 },
            NEUTRAL_LEVELS,
          ),
        },
      ],
      motion: {
        before: null,
        now: [
          [x, 20],
          [x + 60, 20],
          [x + 60, 80],
          [x, 80],
        ],
        after: null,
      },
      ratio: 1,
      look,
      frame: 0,
    });
    const two = (light: number) =>
      composeSurfaces(
        plate,
        [
          { surface: at(20, light), border: 0 },
          { surface: at(50, 90), border: 0 },
        ],
        'final',
      ).picture.data;
    two(40);
    const worn = two(220);
    const fresh = composeSurfaces(
      { ...plate },
      [
        { surface: at(20, 220), border: 0 },
        { surface: at(50, 90), border: 0 },
      ],
      'final',
    ).picture.data;
    expect(worn.every((v, i) => v === fresh[i])).toBe(true);
  });
});

test('only the newest pictures and values are kept', () => {
  const kept = new KeptWithPicture<number>(2, 2);
  const pictures = [0, 1, 2].map((): CodedPicture => ({ width: 1, height: 1, peak: 255, data: new Uint8Array(3) }));
  let made = 0;
  const get = (picture: number, key: string) => kept.get(pictures[picture]!, key, () => ++made);
  expect([get(0, 'a'), get(0, 'a'), get(0, 'b'), get(0, 'a')]).toEqual([1, 1, 2, 1]);
  expect([get(0, 'c'), get(0, 'b'), get(0, 'a')]).toEqual([3, 2, 4]);
  expect([get(1, 'a'), get(2, 'a'), get(0, 'a')]).toEqual([5, 6, 7]);
  expect(get(2, 'a')).toBe(6);
});

test('an object keeps its number, and no other has it', () => {
  const one = {};
  const other = {};
  expect(numberOf(one)).toBe(numberOf(one));
  expect(numberOf(one)).not.toBe(numberOf(other));
});
