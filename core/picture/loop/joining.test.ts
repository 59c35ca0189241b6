import { describe, expect, test } from 'vitest';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import type { ShotDocument } from '../../base/schemas/types.ts';
import { AS_IT_IS, LoopJoin, TakesJoin, type JoinSettings } from './joining.ts';
import { checkShotLoop, mapByNumbers, shotJoin } from './shot-loop.ts';

const W = 60;
const H = 40;
const SIZE = { width: W, height: H, colour: DISPLAY_COLOUR };
const ASKED: JoinSettings = {
  plan: { motion: 'translation' },
  told: AS_IT_IS,
  light: false,
  splitAt: null,
  where: 'the loop',
};
/** A picture of one grey: frame n of a take is 50 + n. */
const grey = (value: number): CodedPicture => ({
  width: W,
  height: H,
  peak: 255,
  data: new Uint8Array(3 * W * H).fill(value),
});
const take = (frame: number) => grey(50 + frame);
const luma = () => ({ width: W, height: H, peak: 255 as const, codes: new Uint8Array(W * H) });
const at = ({ data }: CodedPicture, x: number, y: number) => data[3 * (y * W + x)]!;

describe('a loop', () => {
  test('begins after what is used up, ends before it, and between goes over', async () => {
    const join = new LoopJoin(ASKED, SIZE, [0, 29], 10);
    expect(await join.prepare(luma)).toBe(0);
    expect(join.times.length).toBe(20);
    expect(at(await join.make(0, take), 5, 5)).toBe(60);
    expect(at(await join.make(9, take), 5, 5)).toBe(69);
    // The way over starts with the end's and closes with the beginning's; it never leaves what lies between both.
    const way = await Promise.all(
      Array.from({ length: 10 }, (_, i) => join.make(10 + i, take).then((p) => at(p, 5, 5))),
    );
    expect(way[0]).toBeGreaterThan(68);
    expect(Math.abs(way[9]! - 59)).toBeLessThanOrEqual(1);
    expect(Math.max(...way)).toBeLessThanOrEqual(80);
    expect(join.report()).toMatchObject({ frames: [0, 29], fade: 10, length: 20, joins: { length: 10 } });
  });
  test('too short for its fade it is refused; nothing to align by as well', async () => {
    expect(() => new LoopJoin(ASKED, SIZE, [0, 19], 10)).toThrow(/20 frames is too short.*least 21|too short/);
    await expect(new LoopJoin({ ...ASKED, told: null }, SIZE, [0, 29], 4).prepare(luma)).rejects.toThrow(
      /could not be laid on each other/,
    );
  });
  test('divided, what is within goes over first', async () => {
    const split = (): Float32Array => Float32Array.from({ length: W * H }, (_, i) => (i % W >= W / 2 ? 1 : 0));
    const join = new LoopJoin({ ...ASKED, splitAt: split }, SIZE, [0, 29], 9);
    await join.prepare(luma);
    const middle = await join.make(join.middle, take);
    const left = at(middle, 5, 20);
    const right = at(middle, W - 5, 20);
    // In the middle the right half shows the beginning, the left half the end.
    expect(left - right).toBeGreaterThan(15);
  });
});

describe('two takes', () => {
  test('are joined where both are; elsewhere the first stays', async () => {
    const second = (frame: number) => grey(150 + frame);
    const split = (): Float32Array => new Float32Array(W * H).fill(1);
    const join = new TakesJoin({ ...ASKED, splitAt: split }, SIZE, [0, 9], -3, 20);
    await join.prepare(luma, luma);
    expect(join.both).toEqual([3, 9]);
    expect(at(await join.make(2, take, second), 9, 9)).toBe(52);
    expect(at(await join.make(5, take, second), 9, 9)).toBe(152);
    expect(() => new TakesJoin({ ...ASKED, splitAt: split }, SIZE, [0, 9], 40, 20)).toThrow(
      /no frame of the second take \(20 frames\)/,
    );
  });
});

describe('how a shot tells it', () => {
  const corners: Quad = [
    [10, 10],
    [50, 10],
    [50, 30],
    [10, 30],
  ];
  const moved: Quad = [
    [14, 12],
    [54, 12],
    [54, 32],
    [14, 32],
  ];
  const document = (loop: ShotDocument['loop']) =>
    ({ loop, keepOut: [], corners, referenceFrame: 0 }) as unknown as ShotDocument;
  test('a shape rides on the surface; where that is not known it is nowhere; one of the picture stays', () => {
    const points: [number, number][] = [
      [20, 15],
      [40, 15],
      [40, 25],
      [20, 25],
    ];
    const known = new Map([
      [0, corners],
      [5, moved],
    ]);
    const inside = (m: Float32Array, x: number, y: number) => m[y * W + x]!;
    const { splitAt } = shotJoin(document({ split: { shape: { points, home: 0 } } }), SIZE, 0, known);
    expect([
      inside(splitAt!(0), 21, 16),
      inside(splitAt!(5), 21, 16),
      inside(splitAt!(5), 42, 26),
      inside(splitAt!(9), 30, 20),
    ]).toEqual([1, 0, 1, 0]);
    expect(
      inside(
        shotJoin(document({ split: { shape: { points, home: 0, rides: 'plate' } } }), SIZE, 0, known).splitAt!(9),
        30,
        20,
      ),
    ).toBe(1);
  });
  test('numbers by hand are a move, then a turn and a scale about the middle', () => {
    const [x, y] = applyToPoint(mapByNumbers({ move: [3, -2], turn: 90, scale: 2 }, W, H), [27, 22]);
    // (27, 22) moved is (30, 20), the middle, which stays.
    expect([x, y].map((v) => Number(v.toFixed(9)))).toEqual([30, 20]);
    expect(applyToPoint(mapByNumbers({ move: [0, 0], turn: 90, scale: 2 }, W, H), [31, 20])[1]).toBeCloseTo(22, 9);
    const told = shotJoin(document({ byHand: { move: [1, 0], turn: 0, scale: 1 } }), SIZE, 0, new Map()).told!;
    expect(told.map).toEqual(
      homographyBetweenQuads(
        [
          [0, 0],
          [1, 0],
          [1, 1],
          [0, 1],
        ],
        [
          [1, 0],
          [2, 0],
          [2, 1],
          [1, 1],
        ],
      )!.map((v) => expect.closeTo(v, 9) as number),
    );
  });
  test('what cannot be done is reported', () => {
    const line = {
      points: [
        [0, 0],
        [0, 9],
      ] as [number, number][],
    };
    expect(() => checkShotLoop({ second: { mediaId: 3 } }, 'x')).toThrow(/divided by a line or a shape/);
    expect(() =>
      checkShotLoop(
        {
          split: {
            line,
            shape: {
              points: [
                [0, 0],
                [1, 0],
                [1, 1],
              ],
            },
          },
        },
        'x',
      ),
    ).toThrow(/one of them/);
    expect(() => checkShotLoop({ split: { line: { ...line, keys: [{ frame: 3, points: [[1, 1]] }] } } }, 'x')).toThrow(
      /two points/,
    );
    expect(() => checkShotLoop({ second: { mediaId: 3 }, split: { line } }, 'x')).not.toThrow();
  });
});
