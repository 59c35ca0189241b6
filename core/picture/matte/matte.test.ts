import { describe, expect, test } from 'vitest';
import { loadOpenCv } from '../../../bench/reference/opencv.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import { boxBlur } from '../../base/image/box-blur.ts';
import { FRAME, GREEN, greenScreen, SCREEN_QUAD } from '../../test/green-screen.ts';
import { canBeKeyed, excess, keyMatte, shareOf } from './colour-key.ts';
import { coverageOf } from './coverage.ts';
import { applyShape, flattened, shapeOnFrame, takeShape, type ShapeSetting } from './roto-shapes.ts';
import { grownMatte } from './grow-matte.ts';
import { applyHueTable, hueTable, changeAt, changeColour } from './hue-curves.ts';
import { measureFront } from './measure-front.ts';
import type { PixelBox } from '../../base/image/pixel-box.ts';
import type { FrontShape } from '../../base/schemas/types.ts';
import { pushPull } from './push-pull.ts';
import { coarseFill, filledBlocks } from './coarse-fill.ts';
import { shapeMatte } from './shape-matte.ts';
import { softEdgeAlpha } from './soft-edge-alpha.ts';
import { planeRows, replaceSpill } from './despill.ts';
import { differenceOf } from './difference-matte.ts';
import { lightOfRegion } from '../../base/image/light-region.ts';

describe('the colour-difference key', () => {
  test('the excess of a colour: worked by hand', () => {
    expect(excess(0.5, 0.04, 0.08, 0.5)).toBeCloseTo(0.44, 12);
    expect(excess(0.5, 0.04, 0.08, 1)).toBeCloseTo(0.42, 12);
    expect(excess(0.3, 0.3, 0.3, 0.5)).toBeCloseTo(0, 12);
  });

  test('the matting equation with a grey front is solved exactly (Smith and Blinn 1996, §2.2)', () => {
    // C = α·F + (1 − α)·B with F grey: the excess that is left is (1 − α) of the screen's.
    for (const alpha of [0, 0.25, 0.5, 0.8, 1]) {
      const c = GREEN.map((b) => alpha * 0.3 + (1 - alpha) * b);
      const e = Float32Array.of(excess(c[1]!, c[0]!, c[2]!, 0.5));
      const screen = Float32Array.of(excess(GREEN[1], GREEN[0], GREEN[2], 0.5));
      expect(keyMatte(e, screen, { floor: 0.01, ceiling: 1 })[0]).toBeCloseTo(alpha, 5);
    }
  });

  test('up to the floor it is clear, from the ceiling on solid, and in between it only rises', () => {
    expect(shareOf(0.1, 0.1, 0.6)).toBe(0);
    expect(shareOf(0.6, 0.1, 0.6)).toBe(1);
    expect(shareOf(0.3, 0.1, 0.6)).toBeCloseTo(0.5, 12);
    let last = -1;
    for (let g = 0; g < 1; g += 0.01) {
      expect(shareOf(g, 0.2, 0.35)).toBeGreaterThanOrEqual(last);
      last = shareOf(g, 0.2, 0.35);
    }
  });

  test('grey cannot be keyed, screens can', () => {
    for (const colour of [
      [0.3, 0.3, 0.3],
      [0.3, 0.34, 0.31],
      [0, 0.005, 0],
    ])
      expect(canBeKeyed(colour)).toBe(false);
    for (const colour of [GREEN, [0.02, 0.1, 0.5], [0.5, 0.05, 0.06]]) expect(canBeKeyed(colour)).toBe(true);
  });

  test('a soft edge against a dark frame ends where the frame does, not where the ceiling says', () => {
    const n = 40;
    const excesses = new Float32Array(n * 3);
    const screen = new Float32Array(n * 3).fill(0.44);
    for (let i = 0; i < excesses.length; i++) excesses[i] = 0.44 * Math.min(1, Math.max(0, 1 - ((i % n) - 10) / 3));
    const hard = keyMatte(excesses, screen, { floor: 0.02, ceiling: 0.8 });
    const soft = softEdgeAlpha(hard, excesses, screen, 0.02, n, 3);
    const at = n + 12;
    expect(hard[at]).toBeCloseTo(2 / 3 / 0.8, 5);
    expect(soft[at]).toBeCloseTo(2 / 3, 1);
  });
});

describe('pushPull', () => {
  test('keeps what is known and fills the rest with what is around', () => {
    const width = 33;
    const height = 17;
    const plane = new Float32Array(width * height).fill(2);
    const weight = new Float32Array(plane.length).fill(1);
    for (let row = 5; row < 11; row++)
      for (let col = 8; col < 20; col++) [plane[row * width + col], weight[row * width + col]] = [99, 0];
    const [filled] = pushPull([plane], weight, width, height);
    for (const v of filled!) expect(v).toBeCloseTo(2, 4);
  });
  test('a hole in a slope is filled by the slope, nearly', () => {
    const width = 64;
    const plane = Float32Array.from({ length: width * width }, (_, i) => (i % width) / width);
    const weight = new Float32Array(plane.length).fill(1);
    for (let row = 24; row < 40; row++) for (let col = 24; col < 40; col++) weight[row * width + col] = 0;
    const [filled] = pushPull([plane], weight, width, width);
    expect(Math.abs(filled![32 * width + 32]! - 0.5)).toBeLessThan(0.05);
  });
});

test('boxBlur is the mean over its square, borders repeated', () => {
  const width = 9;
  const height = 7;
  const data = Float32Array.from({ length: 63 }, (_, i) => ((i * 37) % 11) / 11);
  const out = boxBlur(data, width, height, 2);
  for (let row = 0; row < height; row++)
    for (let col = 0; col < width; col++) {
      let sum = 0;
      for (let j = -2; j <= 2; j++)
        for (let i = -2; i <= 2; i++)
          sum += data[Math.min(height - 1, Math.max(0, row + j)) * width + Math.min(width - 1, Math.max(0, col + i))]!;
      expect(out[row * width + col]).toBeCloseTo(sum / 25, 5);
    }
});

describe('grownMatte', () => {
  const disc = coverageOf(
    [
      Array.from({ length: 64 }, (_, k): Point => [
        30 + 12 * Math.cos((k * Math.PI) / 32),
        30 + 12 * Math.sin((k * Math.PI) / 32),
      ]),
    ],
    { left: 0, top: 0, right: 60, bottom: 60 },
  ).data;
  const radius = (m: Float32Array) => Math.sqrt(m.reduce((a, b) => a + b, 0) / Math.PI);
  test.each([-3, -1.4, -0.5, 0.5, 1.4, 3])('a disc grown by %f px has a radius larger by that', (by) => {
    expect(Math.abs(radius(grownMatte(disc, 60, 60, by)) - radius(disc) - by)).toBeLessThan(0.15);
  });
});

describe('shapes', () => {
  const box = { left: 0, top: 0, right: 80, bottom: 60 };
  const blob = {
    points: [
      [20, 15],
      [60, 12],
      [66, 45],
      [24, 50],
    ] as Point[],
    handles: [
      [-6, 8, 8, -9],
      [-10, -6, 9, 7],
      [6, -9, -5, 8],
      [9, 3, -7, -9],
    ] as [number, number, number, number][],
  };

  test('a curved outline covers what the reference library fills at 16 times the size (fillPoly)', async () => {
    const cv = await loadOpenCv();
    const fine = 16;
    const { points } = flattened(
      blob.points,
      blob.handles,
      () => [0, 0],
      (p) => p,
    );
    const ours = shapeMatte({ points, inner: points.map(() => 0), outer: points.map(() => 0) }, box).data;
    // Sixteenths of a pixel of the picture are whole pixels there, whose centres lie half a pixel in.
    const big = new cv.Mat(60 * fine, 80 * fine, cv.CV_8UC1, new cv.Scalar(0));
    const list = new cv.MatVector();
    const outline = cv.matFromArray(
      points.length,
      1,
      cv.CV_32SC2,
      points.flatMap(([x, y]) => [Math.round(x * fine * 16 - 8), Math.round(y * fine * 16 - 8)]),
    );
    list.push_back(outline);
    cv.fillPoly(big, list, new cv.Scalar(255), 8, 4);
    let sum = 0;
    let worst = 0;
    for (let row = 0; row < 60; row++)
      for (let col = 0; col < 80; col++) {
        let count = 0;
        for (let j = 0; j < fine; j++)
          for (let i = 0; i < fine; i++) count += big.data[(row * fine + j) * 80 * fine + col * fine + i]! / 255;
        const off = Math.abs(count / fine ** 2 - ours[row * 80 + col]!);
        sum += off;
        worst = Math.max(worst, off);
      }
    for (const mat of [big, outline]) mat.delete();
    list.delete();
    // fillPoly also fills pixels that the border only touches: half a fine pixel more on each side.
    expect(worst).toBeLessThan(1.5 / fine);
    expect(sum / 4800).toBeLessThan(0.003);
  }, 60_000);

  test('a soft edge fades from its outer to its inner width, and widths go from point to point', () => {
    const square: Point[] = [
      [20, 10],
      [60, 10],
      [60, 50],
      [20, 50],
    ];
    const matte = shapeMatte({ points: square, inner: [4, 4, 4, 4], outer: [6, 6, 6, 6] }, box).data;
    const at = (x: number, y: number) => matte[y * 80 + x]!;
    expect(at(13, 30)).toBe(0);
    expect(at(24, 30)).toBeGreaterThan(0.98);
    expect(at(20, 30)).toBeGreaterThan(at(19, 30));
    expect(at(18, 30) + at(19, 30)).toBeLessThan(1.2);
    const uneven = shapeMatte({ points: square, inner: [0, 0, 8, 8], outer: [0, 0, 8, 8] }, box).data;
    expect(uneven[11 * 80 + 15]).toBeLessThan(0.05);
    expect(uneven[48 * 80 + 15]).toBeGreaterThan(0.05);
  });

  const setting = (frame: number): ShapeSetting => ({
    motion: {
      before: null,
      now: [
        [10, 0],
        [50, 0],
        [50, 40],
        [10, 40],
      ],
      after: [
        [20, 0],
        [60, 0],
        [60, 40],
        [20, 40],
      ],
    },
    frame,
    reference: [
      [0, 0],
      [40, 0],
      [40, 40],
      [0, 40],
    ],
    referenceFrame: 0,
    shutter: 180,
    phase: 0,
    mostMoments: 16,
  });
  const centre = (m: Float32Array) =>
    m.reduce((sum, v, i) => sum + v * ((i % 80) + 0.5), 0) / m.reduce((a, b) => a + b, 0);
  const square = {
    points: [
      [5, 5],
      [25, 5],
      [25, 25],
      [5, 25],
    ] as [number, number][],
  };

  test('rides on the surface, or stays in the picture', () => {
    expect(centre(shapeOnFrame(square, setting(0), box))).toBeCloseTo(25, 3);
    expect(centre(shapeOnFrame({ ...square, rides: 'plate' }, setting(0), box))).toBeCloseTo(15, 3);
  });
  test('goes straight between its keys, in whole and in single points', () => {
    const moved = [
      [25, 5],
      [45, 5],
      [45, 25],
      [25, 25],
    ] as [number, number][];
    const shape = { ...square, rides: 'plate' as const, home: 10, keys: [{ frame: 20, points: moved }] };
    expect(centre(shapeOnFrame(shape, setting(15), box))).toBeCloseTo(25, 3);
    expect(centre(shapeOnFrame(shape, setting(5), box))).toBeCloseTo(15, 3);
    expect(centre(shapeOnFrame(shape, setting(30), box))).toBeCloseTo(35, 3);
  });
  test('is smeared by its own motion, keeping what it covers', () => {
    const sharp = shapeOnFrame(square, setting(0), box);
    const smeared = shapeOnFrame({ ...square, blur: true }, setting(0), box);
    const sum = (m: Float32Array) => m.reduce((a, b) => a + b, 0);
    expect(sum(smeared)).toBeCloseTo(sum(sharp), 0);
    expect(smeared.filter((v) => v > 0.05 && v < 0.95).length).toBeGreaterThan(40);
    expect(sharp.filter((v) => v > 0.05 && v < 0.95).length).toBe(0);
  });
  test('keeps, removes, bounds; inverted and faint', () => {
    const one = shapeOnFrame({ ...square, rides: 'plate', opacity: 0.5 }, setting(0), box);
    const matte = new Float32Array(4800).fill(0.4);
    const at = 10 * 80 + 10;
    expect(one[at]).toBe(0.5);
    applyShape(matte, one, 'keep');
    expect(matte[at]).toBeCloseTo(0.7, 6);
    applyShape(matte, one, 'remove');
    expect(matte[at]).toBeCloseTo(0.35, 6);
    applyShape(matte, shapeOnFrame({ ...square, rides: 'plate', invert: true }, setting(0), box), 'within');
    expect(matte[at]).toBe(0);
    expect(matte[0]).toBeCloseTo(0.4, 6);
  });
});

describe('a shape taken into a matte where it is', () => {
  const big: PixelBox = { left: 3, top: 2, right: 83, bottom: 62 };
  const setting: ShapeSetting = {
    motion: {
      before: [
        [0, 0],
        [40, 0],
        [40, 40],
        [0, 40],
      ],
      now: [
        [10, 0],
        [50, 0],
        [50, 40],
        [10, 40],
      ],
      after: [
        [20, 0],
        [60, 0],
        [60, 40],
        [20, 40],
      ],
    },
    frame: 0,
    reference: [
      [0, 0],
      [40, 0],
      [40, 40],
      [0, 40],
    ],
    referenceFrame: 0,
    shutter: 180,
    phase: 0,
    mostMoments: 12,
  };
  const shape: FrontShape = {
    points: [
      [5, 5],
      [28, 9],
      [22, 31],
    ],
    soft: [2, 4],
    blur: true,
    opacity: 0.8,
  };
  test.each<[string, Partial<FrontShape>]>([
    ['keeps', {}],
    ['removes', { does: 'remove' }],
    ['bounds', { does: 'within' }],
    ['keeps all but itself', { invert: true }],
    [
      'is soft at one point',
      {
        softness: [
          [0, 0],
          [6, 6],
          [1, 1],
        ],
      },
    ],
    [
      'lies outside',
      {
        rides: 'plate',
        points: [
          [-50, -50],
          [-30, -50],
          [-30, -20],
        ],
      },
    ],
  ])('as if it were determined for all of the box: it %s', (_, change) => {
    const one = { ...shape, ...change };
    const start = Float32Array.from({ length: 4800 }, (_v, i) => (i % 7) / 7);
    const whole = start.slice();
    const part = start.slice();
    applyShape(whole, shapeOnFrame(one, setting, big), one.does);
    takeShape(part, one, setting, big);
    whole.forEach((v, i) => expect(Math.abs(v - part[i]!)).toBeLessThan(1e-6));
  });
});

describe('coarse planes', () => {
  test.each([
    [2, 31, 17],
    [8, 40, 9],
    [4, 3, 2],
  ])('read at a pixel they are what the whole plane is there; blocks of %i', (block, width, height) => {
    const values = Float32Array.from({ length: width * height }, (_, i) => Math.sin(i) + 1);
    const weight = Float32Array.from(values, (v) => (v > 1.2 ? 1 : 0));
    const [wide] = coarseFill([values], weight, width, height, block);
    const [coarse] = filledBlocks([values], weight, width, height, block);
    for (let row = 0, i = 0; row < height; row++)
      for (let col = 0; col < width; col++, i++) expect(coarse!.at(col, row)).toBeCloseTo(wide![i]!, 5);
  });
  test('what is known over whole blocks stays, what is not is between', () => {
    const values = Float32Array.from({ length: 64 }, (_, i) => (i % 8 < 4 ? 1 : 3));
    const weight = Float32Array.from({ length: 64 }, (_, i) => (i % 8 < 2 || i % 8 > 5 ? 1 : 0));
    const [plane] = filledBlocks([values], weight, 8, 8, 2);
    expect(plane!.at(0, 3)).toBeCloseTo(1, 5);
    expect(plane!.at(7, 3)).toBeCloseTo(3, 5);
    expect(plane!.at(3, 3)).toBeGreaterThan(1);
    expect(plane!.at(4, 3)).toBeLessThan(3);
  });
});

describe('spill', () => {
  const place = (near: number) => ({ width: 1, height: 1, weight: Float32Array.of(1), near: Float32Array.of(near) });
  const planes = (r: number, g: number, b: number) =>
    [Float32Array.of(r), Float32Array.of(g), Float32Array.of(b)] as const;
  const lit = (f: readonly number[], l: number, by: readonly number[]) =>
    f.map((v, c) => v * (0.8 + l * by[c]!)) as [number, number, number];

  test('a grey patch under green light returns to grey', () => {
    const p = planes(...lit([0.3, 0.3, 0.3], 0.4, GREEN));
    replaceSpill(planeRows(p, 1), place(1), GREEN, {}, null);
    for (const plane of p) expect(plane[0]).toBeCloseTo(0.24, 3);
  });
  test('the new screen’s light falls where the old one’s did', () => {
    const light = [0.5, 0.4, 0.2] as const;
    const p = planes(...lit([0.3, 0.3, 0.3], 0.4, GREEN));
    const expected = lit([0.3, 0.3, 0.3], 0.4, light);
    replaceSpill(planeRows(p, 1), place(1), GREEN, {}, light);
    p.forEach((plane, c) => expect(plane[0]).toBeCloseTo(expected[c]!, 2));
  });
  test('skin without green light, and leaves away from the surface, stay as they are', () => {
    for (const [colour, near] of [
      [[0.5, 0.3, 0.2], 1],
      [[0.05, 0.35, 0.04], 0],
    ] as const) {
      const p = planes(colour[0], colour[1], colour[2]);
      replaceSpill(planeRows(p, 1), place(near), GREEN, {}, [1, 1, 1]);
      p.forEach((plane, c) => expect(plane[0]).toBeCloseTo(colour[c]!, 6));
    }
  });
  test('a rim of the screen’s colour at its border goes, though hardly any is around it; away from the border it is left as part of what is around', () => {
    const width = 24;
    const height = 12;
    const bezel = 0.012;
    const rim = (near: number) => {
      const p = [0, 1, 2].map((c) =>
        Float32Array.from({ length: width * height }, (_, i) => bezel + (c === 1 && i % width === 12 ? 0.05 : 0)),
      ) as unknown as Parameters<typeof planeRows>[0];
      replaceSpill(
        planeRows(p, width),
        {
          width,
          height,
          weight: new Float32Array(p[0].length).fill(1),
          near: new Float32Array(p[0].length).fill(near),
        },
        GREEN,
        {},
        null,
      );
      return p[1][6 * width + 12]!;
    };
    expect(rim(1)).toBeLessThan(bezel + 0.002);
    expect(rim(0)).toBeGreaterThan(0.03);
  });
  test('the limit is the mean, the larger, or a mix of the other two, as chosen', () => {
    const held = (settings: Parameters<typeof replaceSpill>[3]) => {
      const p = planes(0.3, 0.5, 0.1);
      replaceSpill(planeRows(p, 1), place(1), [0, 1, 0], settings, null);
      return p[1][0];
    };
    expect(held({})).toBeCloseTo(0.2, 5);
    expect(held({ limit: 'larger' })).toBeCloseTo(0.3, 5);
    expect(held({ limit: 'weighted', weight: 0.25 })).toBeCloseTo(0.15, 5);
    expect(held({ allowance: 1.2 })).toBeCloseTo(0.24, 5);
  });
});

describe('hue curves', () => {
  test('between points they are linear around the circle', () => {
    const hues = [
      { hue: 350, shift: 10 },
      { hue: 30, shift: -10, saturation: 0.5 },
    ];
    expect(changeAt(hues, 10).shift).toBeCloseTo(0, 9);
    expect(changeAt(hues, 10).saturation).toBeCloseTo(0.75, 9);
    expect(changeAt(hues, 190).shift).toBeCloseTo(0, 9);
  });
  test('luminance stays, grey stays, three thirds of a turn come home', () => {
    const planes = [Float32Array.of(0.2, 0.3), Float32Array.of(0.4, 0.3), Float32Array.of(0.1, 0.3)] as const;
    const luma = (i: number) => 0.2126 * planes[0][i]! + 0.7152 * planes[1][i]! + 0.0722 * planes[2][i]!;
    const before = luma(0);
    changeColour(planes, 0, 15, 0.8);
    changeColour(planes, 1, 90, 2);
    expect(luma(0)).toBeCloseTo(before, 5);
    expect([0, 1, 2].map((c) => planes[c]![1])).toEqual(Array<unknown>(3).fill(expect.closeTo(0.3, 5)));
    const small = [Float32Array.of(0.31), Float32Array.of(0.3), Float32Array.of(0.29)] as const;
    for (let k = 0; k < 3; k++) changeColour(small, 0, 120, 1);
    expect(small[0][0]).toBeCloseTo(0.31, 5);
    applyHueTable(small, Float32Array.of(1), hueTable([{ hue: 30, saturation: 0 }]));
    expect(small[0][0]).toBeCloseTo(small[1][0]!, 5);
  });
});

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
