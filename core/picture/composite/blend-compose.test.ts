import { describe, expect, test } from 'vitest';
import type { CodedPicture } from '../../base/image/picture.ts';
import { codeToLight } from '../../base/image/transfer.ts';
import { movingDevice } from '../../test/generated-device.ts';
import { composeFrame } from './compose-frame.ts';
import { ContentPyramid } from '../pin/content-pyramid.ts';
import { resolveLook } from '../look/look.ts';
import { scaledLook } from './scaled-look.ts';
import { W, grey, one, pyramidOf, surface, at, mid, code } from '../../test/grey-insert.ts';

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
