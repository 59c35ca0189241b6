import { describe, expect, test } from 'vitest';
import type { Quad } from '../../base/geometry/quad.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import { codeToLight } from '../../base/image/transfer.ts';
import { measureFront } from '../matte/measure-front.ts';
import type { Look } from '../../base/schemas/types.ts';
import { GREEN, greenScreen, SCREEN_QUAD } from '../../test/green-screen.ts';
import { composeFrame, composeWithMatte } from './compose-frame.ts';
import { buildContentPyramid } from '../pin/content-pyramid.ts';
import { quadAtDepth } from '../pin/depth.ts';
import { NEUTRAL_LEVELS, resolveLook } from '../look/look.ts';
import { markerPixels } from '../matte/screen-markers.ts';
import type { PinnedSurface } from '../pin/pinned-surface.ts';
import { scaledLook } from './scaled-look.ts';
import { ShownContent } from '../pin/shown-content.ts';
import { at, blue, pinned, scene } from '../../test/keyed-insert.ts';

const near = (values: readonly number[], precision: number): unknown[] =>
  values.map((v): unknown => expect.closeTo(v, precision));

describe('content behind a keyed front', () => {
  const { picture, matte } = composeWithMatte(scene.picture, pinned({ keys: 'measure', spill: 'measure' }), 'final');

  test('the matte is the screen’s share, nothing else of the plate is touched', () => {
    let sum = 0;
    let n = 0;
    for (let i = 0; i < matte!.length; i++) {
      if (scene.screen[i]! > 0) {
        sum += Math.abs(matte![i]! - scene.screen[i]!);
        n++;
      } else expect(matte![i]).toBeLessThan(0.02);
    }
    expect(sum / n).toBeLessThan(0.02);
    for (const [col, row] of [
      [5, 5],
      [150, 110],
      [20, 60],
    ] as const)
      expect(at(picture, col, row)).toEqual(at(scene.picture, col, row));
  });
  test('a marker is grown over along its smear, by half of the frame where no smear is asked for', () => {
    const box = { left: 0, top: 0, right: 160, bottom: 120 };
    const moved = (by: number) => SCREEN_QUAD.map(([x, y]) => [x + by, y]) as unknown as Quad;
    const motion = { before: moved(-20), now: SCREEN_QUAD, after: moved(20) };
    const wide = (shutter: number) =>
      markerPixels([[0.5, 0.5, 0.05, 0.05]], motion, box, { shutter, phase: 0 })!
        .subarray(60 * 160, 61 * 160)
        .reduce((a, b) => a + b, 0);
    expect(wide(0)).toBe(wide(180));
    expect(wide(180) - wide(90)).toBeCloseTo(5, -0.5);
    expect(wide(270)).toBeGreaterThan(wide(180));
  });
  test('on a marker that is smeared over the border no more is content than the surface covers', () => {
    const mark: [number, number][] = [
      [70, 26],
      [90, 26],
      [90, 34],
      [70, 34],
    ];
    const still = greenScreen({ bar: [], marks: [mark] });
    const found = measureFront([{ picture: still.picture, quad: SCREEN_QUAD }], 1.2, DISPLAY_COLOUR);
    const moved = (by: number) => SCREEN_QUAD.map(([x, y]) => [x, y + by]) as unknown as Quad;
    const surface: PinnedSurface = {
      ...pinned({}),
      look: resolveLook(
        { keys: 'measure', markers: [[0.5, 0.07, 0.13, 0.06]], motionBlur: { shutter: 180, phase: 0 } },
        found,
      ),
      motion: { before: moved(-32), now: SCREEN_QUAD, after: moved(32) },
    };
    const { matte: seen } = composeWithMatte(still.picture, surface, 'final');
    // The border goes from row 18.5 to 34.5 in the middle of the mark.
    for (const row of [20, 22, 24, 26]) expect(seen![row * 160 + 80]).toBeCloseTo((row + 0.5 - 18.5) / 16, 2);
  });
  test('the bar keeps its grey and has no green seam', () => {
    for (let row = 35; row < 85; row += 10) {
      const middle = at(picture, 77 - Math.round((row - 60) / 12), row);
      expect(Math.abs(middle[0]! - middle[1]!)).toBeLessThan(4);
      for (let col = 55; col < 100; col++) {
        const [r, g, b] = at(picture, col, row) as [number, number, number];
        expect(g - Math.max(r, b)).toBeLessThan(6);
      }
    }
  });
  test('faint content lets the screen be seen behind it, not through the bar', () => {
    const faint = composeFrame(scene.picture, pinned({ keys: 'measure', opacity: 0.5 }), 'final');
    const [r, g, b] = at(faint, 108, 60).map((v) => codeToLight(v / 255)) as [number, number, number];
    expect(g).toBeCloseTo(0.5 * GREEN[1] + 0.5 * codeToLight(60 / 255), 1);
    expect(b).toBeGreaterThan(0.2);
    expect(r).toBeLessThan(0.06);
    expect(at(composeFrame(scene.picture, pinned({ keys: 'measure', opacity: 0 }), 'final'), 108, 60)).toEqual(
      near(at(scene.picture, 108, 60), -0.5),
    );
  });
  test('a picture of half the size shows the same', () => {
    const half = greenScreen({
      width: 80,
      height: 60,
      quad: SCREEN_QUAD.map(([x, y]) => [x / 2, y / 2]) as unknown as Quad,
      bar: [
        [35, 0],
        [47.5, 0],
        [42.5, 60],
        [30, 60],
      ],
      softness: 0.35,
    });
    const small = pinned(
      {
        keys: 'measure',
        shapes: [
          {
            points: [
              [90, 30],
              [110, 30],
              [110, 50],
              [90, 50],
            ],
            soft: [2, 2],
          },
        ],
      },
      SCREEN_QUAD.map(([x, y]) => [x / 2, y / 2]) as unknown as Quad,
    );
    const seen = composeFrame(half.picture, { ...small, look: scaledLook(small.look, 0.5) }, 'final');
    expect(at(seen, 50, 20)).toEqual(at(half.picture, 50, 20));
    expect(at(seen, 56, 35)[2]).toBeGreaterThan(150);
  });
});

describe('content behind a drawn shape', () => {
  const keep: Look = {
    shapes: [
      {
        points: [
          [60, 20],
          [98, 20],
          [98, 100],
          [60, 100],
        ],
        rides: 'plate',
      },
    ],
  };
  test('what is in it stays the plate’s, softly at its edge', () => {
    const seen = composeFrame(scene.picture, pinned(keep), 'final');
    expect(at(seen, 80, 60)).toEqual(at(scene.picture, 80, 60));
    expect(at(seen, 108, 60)).toEqual([40, 60, 200]);
    const soft = composeFrame(scene.picture, pinned({ shapes: [{ ...keep.shapes![0]!, soft: [6, 6] }] }), 'final');
    const blues = [92, 96, 100, 104].map((col) => at(soft, col, 60)[2]!);
    expect(blues).toEqual([...blues].sort((a, b) => a - b));
    // Known colours: at the soft edge the green that lay behind is not carried along.
    expect(at(soft, 101, 60)[1]!).toBeLessThan(150);
  });
  test('one that removes lets the content through the key’s front', () => {
    const seen = composeFrame(
      scene.picture,
      pinned({
        keys: 'measure',
        shapes: [
          {
            points: [
              [60, 40],
              [98, 40],
              [98, 70],
              [60, 70],
            ],
            rides: 'plate',
            does: 'remove',
          },
        ],
      }),
      'final',
    );
    expect(at(seen, 78, 55)).toEqual(near([40, 60, 200], -0.7));
    expect(at(seen, 78, 85)[0]).toBeGreaterThan(100);
  });
});

test('a bent surface bulges over its sides, corners stay', () => {
  const flat = composeFrame(scene.picture, pinned({}), 'final');
  const bent = composeFrame(scene.picture, pinned({ mesh: { columns: 4, rows: 4, bow: 0.06 } }), 'final');
  expect(at(flat, 80, 23)).toEqual(at(scene.picture, 80, 23));
  expect(at(bent, 80, 24)).toEqual([40, 60, 200]);
  expect(at(bent, 36, 22)).toEqual(at(scene.picture, 36, 22));
});

describe('depth', () => {
  const size = { width: 640, height: 480 };
  const square: Quad = [
    [270, 190],
    [370, 190],
    [370, 290],
    [270, 290],
  ];
  test('a surface seen straight on is smaller behind and larger in front, by the ratio of distances', () => {
    // 100 px wide at a focal length of 640: 6.4 widths away.
    const behind = quadAtDepth(square, 1, 1, size, 640)!;
    const before = quadAtDepth(square, -1, 1, size, 640)!;
    expect(behind[1][0] - behind[0][0]).toBeCloseTo((100 * 6.4) / 7.4, 3);
    expect(before[1][0] - before[0][0]).toBeCloseTo((100 * 6.4) / 5.4, 3);
  });
  test('no surface behind the camera', () => expect(quadAtDepth(square, -8, 1, size, 640)).toBeNull());
});

describe('ShownContent', () => {
  const frames = [0, 255].map((v) => ({
    width: 2,
    height: 2,
    data: new Uint8Array(16).fill(v).map((x, i) => (i % 4 === 3 ? 255 : x)),
    peak: 255 as const,
  }));
  const source = { frames: 2, rate: [10, 1] as const, picture: (i: number) => Promise.resolve(frames[i]!) };
  const look = resolveLook({});
  test('nearest and blended frames, and nothing beyond', async () => {
    const value = async (frame: number, time: Look['time']) =>
      (await new ShownContent(source, [20, 1]).at(frame, { ...look, time: time as never }))?.level(0).data[0];
    expect([await value(0, {}), await value(1, {}), await value(2, {})]).toEqual([0, 0, 1]);
    expect(await value(1, { rate: 'blend' })).toBeCloseTo(0.5, 6);
    expect(await value(9, { after: 'nothing' })).toBeUndefined();
  });
  test('crops before it is fitted', async () => {
    expect(await new ShownContent(source, [20, 1]).at(0, { ...look, place: { crop: [1, 0, 0, 1] } })).toMatchObject({
      width: 1,
      height: 1,
    });
  });
});

test('a frame composed again with other content is what it is by itself, though its front is kept', () => {
  const red = buildContentPyramid(
    {
      width: 80,
      height: 66,
      data: Uint8Array.from({ length: 80 * 66 * 4 }, (_, i) => [220, 40, 30, 255][i % 4]!),
      peak: 255,
    },
    NEUTRAL_LEVELS,
  );
  const one = pinned({ keys: 'measure', spill: 'measure' });
  const codes = (plate: CodedPicture, pyramid: typeof red) =>
    Buffer.from(composeFrame(plate, { ...one, contents: [{ pyramid }] }, 'final').data as Uint8Array);
  const again = codes(scene.picture, blue);
  const other = codes(scene.picture, red);
  const back = codes(scene.picture, blue);
  const fresh = codes({ ...scene.picture, data: scene.picture.data.slice() }, red);
  expect(back.equals(again)).toBe(true);
  expect(other.equals(fresh)).toBe(true);
  expect(other.equals(again)).toBe(false);
});
