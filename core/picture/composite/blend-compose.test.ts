import { describe, expect, test } from 'vitest';
import type { Quad } from '../../base/geometry/quad.ts';
import type { CodedPicture, ContentPicture } from '../../base/image/picture.ts';
import { codeToLight, encodeLight } from '../../base/image/transfer.ts';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import { cleanLit } from '../measure/measure-clean.ts';
import { movingDevice } from '../../test/generated-device.ts';
import { checkLook } from './check-look.ts';
import { composeFrame } from './compose-frame.ts';
import { buildContentPyramid, ContentPyramid } from '../pin/content-pyramid.ts';
import { NEUTRAL_LEVELS, resolveLook } from '../look/look.ts';
import type { PinnedSurface } from '../pin/pinned-surface.ts';
import { scaledLook } from './scaled-look.ts';

const W = 120;
const H = 90;
const QUAD: Quad = [
  [30, 20],
  [90, 20],
  [90, 65],
  [30, 65],
];
const grey = (value: number): CodedPicture => ({
  width: W,
  height: H,
  data: new Uint8Array(W * H * 3).fill(value),
  peak: 255,
});
const one = (r: number, g = r, b = r): ContentPicture => ({
  width: 8,
  height: 6,
  data: Uint8Array.from({ length: 192 }, (_, i) => [r, g, b, 255][i % 4]!),
  peak: 255,
});
const pyramidOf = (picture: ContentPicture) => buildContentPyramid(picture, NEUTRAL_LEVELS);
const surface = (look: Parameters<typeof resolveLook>[0], pyramid = pyramidOf(one(200)), frame = 0): PinnedSurface => ({
  contents: [{ pyramid }],
  motion: { before: null, now: QUAD, after: null },
  ratio: 60 / 45,
  look: resolveLook(look),
  frame,
});
const at = (picture: CodedPicture, col: number, row: number, c = 0) =>
  picture.data[3 * (row * picture.width + col) + c]!;
const mid = (picture: CodedPicture, c = 0) => at(picture, 60, 42, c);
const code = (light: number) => Math.round(255 * encodeLight(light));

describe('values over time', () => {
  test('exposure in stops and gain multiply light; both go straight between keys', () => {
    const look = {
      exposure: [
        { frame: 0, value: 0 },
        { frame: 10, value: -2 },
      ] as never,
      gain: 0.5,
    };
    const light = codeToLight(200 / 255);
    for (const [frame, factor] of [
      [0, 0.5],
      [5, 0.25],
      [10, 0.125],
      [30, 0.125],
    ] as const)
      expect(
        Math.abs(mid(composeFrame(grey(40), surface(look, undefined, frame), 'final')) - code(light * factor)),
      ).toBeLessThanOrEqual(1);
  });

  test('softness keyed from sharp to soft widens the edge', () => {
    const look = {
      soften: [
        { frame: 0, value: 0 },
        { frame: 8, value: 3 },
      ] as never,
    };
    const edge = (frame: number) =>
      [27, 28, 29].map((x) => at(composeFrame(grey(0), surface(look, pyramidOf(one(255)), frame), 'final'), x, 42));
    expect(edge(0)).toEqual([0, 0, 0]);
    expect(edge(8).every((v) => v > 30)).toBe(true);
  });

  test('levels tint black, turn and drain colour in light', () => {
    const pyramid = (levels: object) =>
      buildContentPyramid(one(255, 0, 0), { ...NEUTRAL_LEVELS, ...levels }).level(0).data;
    expect(pyramid({ saturation: 0 })[0]).toBeCloseTo(0.213, 3);
    expect(pyramid({ saturation: 0 })[1]).toBeCloseTo(0.213, 3);
    expect(pyramid({ tint: [0.5, 1, 1] })[0]).toBeCloseTo(0.5, 5);
    expect(pyramid({ blackTint: [0, 0, 0.1] })[2]).toBeCloseTo(codeToLight(0.1), 5);
  });

  test('keys out of order, and blends that no one knows, are refused with the field', () => {
    expect(() =>
      checkLook(
        {
          exposure: [
            { frame: 5, value: 0 },
            { frame: 2, value: 1 },
          ],
        },
        'LOOK',
      ),
    ).toThrow(/exposure/);
    expect(() => checkLook({ levels: { gamma: 0 } }, 'LOOK')).toThrow(/gamma/);
    expect(() => checkLook({ soften: -1 }, 'LOOK')).toThrow(/soften/);
    expect(() =>
      checkLook(
        {
          grain: {
            levels: [
              { level: 0.5, sigma: [0, 0, 0] },
              { level: 0.2, sigma: [0, 0, 0] },
            ],
          },
        },
        'LOOK',
      ),
    ).toThrow(/grain/);
    expect(() => checkLook({ reflections: { from: 'drawn' } }, 'LOOK')).toThrow(/shape/);
  });
});

describe('edges', () => {
  test('crop takes off sides, in order top, right, bottom, left', () => {
    const out = composeFrame(grey(0), surface({ crop: [5, 10, 0, 2] }, pyramidOf(one(255))), 'final');
    expect([
      at(out, 60, 24),
      at(out, 60, 26),
      at(out, 81, 42),
      at(out, 78, 42),
      at(out, 60, 64),
      at(out, 31, 42),
      at(out, 33, 42),
    ]).toEqual([0, 255, 0, 255, 255, 0, 255]);
  });

  test('a radius rounds the corners and nothing else', () => {
    const out = composeFrame(grey(0), surface({ radius: 12 }, pyramidOf(one(255))), 'final');
    expect(at(out, 31, 21)).toBe(0);
    expect(at(out, 88, 63)).toBe(0);
    expect(at(out, 43, 20)).toBe(255);
    expect(at(out, 30, 42)).toBe(255);
    // On the diagonal the arc is r·(1 − 1/√2) from both sides.
    const on = 12 * (1 - Math.SQRT1_2);
    expect(at(out, 30 + Math.floor(on - 1), 20 + Math.floor(on - 1))).toBe(0);
    expect(at(out, 30 + Math.ceil(on + 1), 20 + Math.ceil(on + 1))).toBe(255);
  });

  test('a disc spreads an edge over its width and no further', () => {
    const out = composeFrame(grey(0), surface({ disc: 4 }, pyramidOf(one(255))), 'final');
    expect(at(out, 25, 42)).toBe(0);
    expect(at(out, 28, 42)).toBeGreaterThan(20);
    expect(at(out, 35, 42)).toBe(255);
  });

  test('the light of the screen as filmed does not stay along a soft border', () => {
    // A bright screen in a dark frame, softened as a lens does; content is black.
    const device = movingDevice({ screen: () => 0.8, softness: 1.5 });
    const { picture, quad } = device(0);
    const goal = movingDevice({ screen: () => 0, softness: 1.5 })(0).picture;
    const clean = cleanLit([{ picture, quad, stops: 0 }], DISPLAY_COLOUR, 1.5)!;
    const pinned = (oldScreen: 'keep' | 'edges'): PinnedSurface => ({
      contents: [{ pyramid: pyramidOf(one(0)) }],
      motion: { before: null, now: quad, after: null },
      ratio: 1.5,
      look: resolveLook({ soften: 1.5, oldScreen }),
      frame: 0,
      clean,
    });
    const worst = (out: CodedPicture) =>
      Array.from(out.data).reduce((m, v, i) => Math.max(m, Math.abs(v - goal.data[i]!)), 0);
    const kept = worst(composeFrame(picture, pinned('keep'), 'final'));
    const taken = worst(composeFrame(picture, pinned('edges'), 'final'));
    expect(kept).toBeGreaterThan(60);
    expect(taken).toBeLessThan(0.4 * kept);
  });
});

describe('blending', () => {
  test.each([
    ['multiply', 'display', Math.round((200 * 100) / 255)],
    ['screen', 'display', Math.round(255 - (155 * 55) / 255)],
    ['lighten', 'light', 200],
    ['add', 'light', code(codeToLight(200 / 255) + codeToLight(100 / 255))],
  ] as const)('%s in %s', (blend, blendIn, expected) => {
    expect(Math.abs(mid(composeFrame(grey(100), surface({ blend, blendIn }), 'final')) - expected)).toBeLessThanOrEqual(
      1,
    );
  });

  test('half the opacity goes half the way, in light', () => {
    const whole = codeToLight(mid(composeFrame(grey(100), surface({ blend: 'add' }), 'final')) / 255);
    const half = codeToLight(mid(composeFrame(grey(100), surface({ blend: 'add', opacity: 0.5 }), 'final')) / 255);
    expect(half).toBeCloseTo((whole + codeToLight(100 / 255)) / 2, 2);
  });
});

describe('grain', () => {
  const grain = { levels: [{ level: 0, sigma: [0.02, 0.02, 0.04] }] } as never;
  test('lies on the content alone, with the spread asked for, new on each frame', () => {
    const a = composeFrame(grey(100), surface({ grain }), 'final');
    const b = composeFrame(grey(100), surface({ grain }, undefined, 1), 'final');
    const values = (picture: CodedPicture, c: number) =>
      Array.from({ length: 50 * 35 }, (_, i) => at(picture, 35 + (i % 50), 25 + Math.floor(i / 50), c));
    const spread = (v: number[]) => Math.sqrt(v.reduce((s, x) => s + (x - 200) ** 2, 0) / v.length);
    expect(Math.abs(spread(values(a, 0)) / 5.1 - 1)).toBeLessThan(0.1);
    expect(Math.abs(spread(values(a, 2)) / 10.2 - 1)).toBeLessThan(0.1);
    expect(at(a, 10, 10)).toBe(100);
    expect(values(a, 0)).not.toEqual(values(b, 0));
    expect(composeFrame(grey(100), surface({ grain }), 'final').data).toEqual(a.data);
  });

  test('half shown content takes as much as makes the whole alike', () => {
    const out = composeFrame(grey(200), surface({ grain, opacity: 0.5 }), 'final');
    const v = Array.from({ length: 50 * 35 }, (_, i) => at(out, 35 + (i % 50), 25 + Math.floor(i / 50)));
    expect(
      Math.abs(Math.sqrt(v.reduce((s, x) => s + (x - 200) ** 2, 0) / v.length) / (5.1 * Math.sqrt(0.75)) - 1),
    ).toBeLessThan(0.12);
  });
});

describe('reflections', () => {
  test('of a dark screen stay over the content, exactly, along the border too', () => {
    const mirrored = (_: number, u: number) => 0.25 * Math.exp(-(((u - 0.4) / 0.2) ** 2));
    const screen = () => 0.01;
    const made = movingDevice({ screen, mirrored });
    const { picture, quad } = made(0);
    const goal = movingDevice({ screen: () => codeToLight(120 / 255), mirrored })(0).picture;
    const out = composeFrame(
      picture,
      {
        contents: [{ pyramid: pyramidOf(one(120)) }],
        motion: { before: null, now: quad, after: null },
        ratio: 1.5,
        look: resolveLook({ soften: 0.6, reflections: { from: 'dark', black: [0.01, 0.01, 0.01] } }),
        frame: 0,
      },
      'final',
    );
    let worst = 0;
    for (let i = 0; i < out.data.length; i++) worst = Math.max(worst, Math.abs(out.data[i]! - goal.data[i]!));
    expect(worst).toBeLessThan(16);
    const middle = (quad[0][0] + quad[2][0]) / 2;
    const row = Math.round((quad[0][1] + quad[2][1]) / 2);
    for (let x = -60; x < 60; x += 10)
      expect(
        Math.abs(at(out, Math.round(middle + x), row) - at(goal, Math.round(middle + x), row)),
      ).toBeLessThanOrEqual(2);
  });

  test('a drawn one is a colour times its shape, relit by its gain', () => {
    const shape = {
      points: [
        [40, 25],
        [55, 25],
        [55, 60],
        [40, 60],
      ] as [number, number][],
    };
    const look = {
      reflections: { from: 'drawn' as const, shape, colour: [0.1, 0.1, 0.1] as [number, number, number], gain: 0.5 },
    };
    const out = composeFrame(grey(40), surface(look, pyramidOf(one(100))), 'final');
    expect(Math.abs(at(out, 48, 40) - code(codeToLight(100 / 255) + 0.05))).toBeLessThanOrEqual(1);
    expect(at(out, 70, 40)).toBe(100);
    expect(at(out, 10, 40)).toBe(40);
  });

  test("a keyed screen's are determined by colour, its markers left out", () => {
    const plate = grey(60);
    const mirrored = (x: number) => (x > 50 && x < 70 ? 0.08 : 0);
    for (let row = 20; row < 65; row++)
      for (let col = 30; col < 90; col++)
        [0.03, 0.5, 0.07].forEach((v, c) => (plate.data[3 * (row * W + col) + c] = code(v + mirrored(col))));
    const out = composeFrame(
      plate,
      surface(
        { keys: [{ colour: [0.03, 0.5, 0.07] }], reflections: { from: 'key', black: [0.03, 0.5, 0.07] } },
        pyramidOf(one(100)),
      ),
      'final',
    );
    expect(Math.abs(at(out, 60, 42) - code(codeToLight(100 / 255) + 0.08))).toBeLessThanOrEqual(2);
    expect(Math.abs(at(out, 40, 42) - 100)).toBeLessThanOrEqual(2);
  });
});

describe('light of the screen', () => {
  test('glow is seen around bright content, and falls off', () => {
    const out = composeFrame(
      grey(20),
      surface({ texture: { glow: { amount: 0.05, radius: 12 } } }, pyramidOf(one(255))),
      'final',
    );
    expect(at(out, 25, 42)).toBeGreaterThan(22);
    expect(at(out, 25, 42)).toBeGreaterThan(at(out, 5, 42));
    expect(at(out, 0, 0)).toBeLessThanOrEqual(21);
  });

  test("cast light takes the content's colour, where its area is and content is not", () => {
    const shape = {
      points: [
        [0, 66],
        [119, 66],
        [119, 89],
        [0, 89],
      ] as [number, number][],
      rides: 'plate' as const,
    };
    const out = composeFrame(
      grey(100),
      surface({ cast: { areas: [{ shape, strength: 0.5 }] } }, pyramidOf(one(255, 0, 0))),
      'final',
    );
    expect(at(out, 60, 80, 0)).toBe(code(codeToLight(100 / 255) * 1.5));
    expect(at(out, 60, 80, 1)).toBe(100);
    expect(at(out, 60, 10, 0)).toBe(100);
    expect(mid(out)).toBe(255);
  });

  test('flicker changes the light from frame to frame by its amount', () => {
    const lights = [0, 1, 2, 3, 4].map((frame) =>
      codeToLight(
        mid(
          composeFrame(
            grey(40),
            surface({ texture: { flicker: { amount: 0.1, rate: 5 } } }, undefined, frame),
            'final',
          ),
        ) / 255,
      ),
    );
    expect(Math.max(...lights) / Math.min(...lights)).toBeGreaterThan(1.15);
    expect(Math.max(...lights) / Math.min(...lights)).toBeLessThan(1.23);
  });
});

describe('a look for a smaller picture', () => {
  test('scales what is given in pixels, keyed or not', () => {
    const look = scaledLook(
      resolveLook({
        soften: [{ frame: 0, value: 2 }],
        disc: 3,
        crop: [1, 2, 3, 4],
        radius: 8,
        reflections: { from: 'dark', blur: 6 },
        texture: { glow: { amount: 0.1, radius: 40 } },
      }),
      0.5,
    );
    expect(look.soften).toEqual([{ frame: 0, value: 1 }]);
    expect([look.disc, look.radius, look.reflections!.blur, look.texture!.glow!.radius]).toEqual([1.5, 4, 3, 20]);
    expect(look.crop).toEqual([0.5, 1, 1.5, 2]);
  });
});

test('content pyramids of one pixel stand for one light everywhere', () => {
  expect(new ContentPyramid({ width: 1, height: 1, data: Float32Array.of(0.2, 0.3, 0.4, 1) }, 0).coarsest).toBe(0);
});
