import { describe, expect, test } from 'vitest';
import type { CodedPicture } from '../../base/image/picture.ts';
import { codeToLight } from '../../base/image/transfer.ts';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import { cleanLit } from '../measure/measure-clean.ts';
import { movingDevice } from '../../test/generated-device.ts';
import { checkLook } from './check-look.ts';
import { composeFrame } from './compose-frame.ts';
import { buildContentPyramid } from '../pin/content-pyramid.ts';
import { NEUTRAL_LEVELS, resolveLook } from '../look/look.ts';
import type { PinnedSurface } from '../pin/pinned-surface.ts';
import { grey, one, pyramidOf, surface, at, mid, code } from '../../test/grey-insert.ts';

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
