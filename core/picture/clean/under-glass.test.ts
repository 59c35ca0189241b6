import { describe, expect, test } from 'vitest';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint, invert, type Point } from '../../base/geometry/homography.ts';
import { UNIT_SQUARE } from '../../base/geometry/quad.ts';
import type { CodedPicture, LightPicture } from '../../base/image/picture.ts';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import {
  bars,
  blurred,
  boxAround,
  leftInMarks,
  MARKED_QUAD,
  MARKED_SIZE,
  markedScreen,
  MARKS,
  RADIUS,
  TAKES,
  type MarkedShot,
} from '../../test/marked-screen.ts';
import { cleanFrame } from './clean-frame.ts';
import type { FixOnFrame } from './fix-on-frame.ts';
import { foundFixes } from './find-fixes.ts';
import { markLights } from './mark-light.ts';
import { lieUnderGlass } from './tell-glass.ts';
import { usualSurface } from './usual-surface.ts';

const MAP = homographyBetweenQuads(UNIT_SQUARE, MARKED_QUAD)!;
const BACK = invert(MAP)!;
const W = MARKED_SIZE.width;
const H = MARKED_SIZE.height;
const fixes = (method: FixOnFrame['method']) =>
  MARKS.map((at): FixOnFrame => ({ outline: boxAround(at), method, from: undefined, soft: undefined, opacity: 1 }));
const FRAMES = [0, 1, 2, 3, 4, 5, 6, 7].map((k) => ({
  quad: MARKED_QUAD,
  picture: markedScreen({ marked: true, mirrored: bars(k) }),
}));
const USUAL = usualSurface(FRAMES, 1.45)!;
const plain = { maps: [MAP], front: null, grain: false, colour: DISPLAY_COLOUR, usual: USUAL };

describe('marks under glass', () => {
  test('go, and what is mirrored over them stays, to the pixel', () => {
    let glass = 0;
    let smooth = 0;
    for (const k of [1, 4, 6]) {
      const truth = markedScreen({ marked: false, mirrored: bars(k) });
      glass = Math.max(glass, leftInMarks(cleanFrame(FRAMES[k]!.picture, fixes('glass'), plain).picture, truth));
      smooth = Math.max(smooth, leftInMarks(cleanFrame(FRAMES[k]!.picture, fixes('smooth'), plain).picture, truth));
    }
    expect(glass).toBeLessThan(1.5);
    expect(smooth).toBeGreaterThan(3 * glass);
  });
  test('their light is that of the frame: brighter or darker, shifted, blurred', () => {
    const off = (shot: Omit<MarkedShot, 'marked'>, also = (p: CodedPicture) => p) => {
      const [marked, bare] = [true, false].map((m) => also(markedScreen({ ...shot, marked: m }))) as [
        CodedPicture,
        CodedPicture,
      ];
      const left = (method: FixOnFrame['method']) =>
        leftInMarks(cleanFrame(marked, fixes(method), plain).picture, bare);
      return [left('glass'), left('smooth')] as const;
    };
    for (const [glass, smooth] of [
      off({ gain: 0.5, mirrored: bars(3) }),
      off({ gain: 1.6, mirrored: bars(3) }),
      off({ shift: 0.4, mirrored: bars(5) }),
      off({ mirrored: bars(2) }, blurred),
    ]) {
      expect(glass).toBeLessThan(3.5);
      expect(glass).toBeLessThan(0.6 * smooth);
    }
  });
  test('a frame that shows nothing around them is filled, too; what stands in front is not', () => {
    const truth = markedScreen({ marked: false, mirrored: bars(4) });
    const front = new Float32Array(W * H);
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const [u, v] = applyToPoint(BACK, [x + 0.5, y + 0.5]);
        if (!MARKS.some(([a, b]) => Math.max(Math.abs(u - a), Math.abs(v - b)) < RADIUS + 0.02)) front[y * W + x] = 1;
      }
    const hand = markedScreen({ marked: true, mirrored: bars(4) });
    for (let i = 0; i < front.length; i++) if (front[i] === 1) hand.data.fill(9, 3 * i, 3 * i + 3);
    const { picture, left } = cleanFrame(hand, fixes('glass'), { ...plain, front });
    expect(left).toEqual([]);
    expect(cleanFrame(hand, fixes('smooth'), { ...plain, front }).left.length).toBeGreaterThan(0);
    expect(leftInMarks(picture, truth)).toBeLessThan(6);
    let changed = 0;
    for (let i = 0; i < front.length; i++)
      if (front[i] === 1) changed = Math.max(changed, Math.abs(picture.data[3 * i]! - 9));
    expect(changed).toBe(0);
  });
  test('what a mark takes is measured in light, and nothing by too few frames: then it is filled from its surroundings', () => {
    const [first] = markLights(USUAL, fixes('glass'), DISPLAY_COLOUR);
    const { hole, planes } = first!;
    const { width, height } = USUAL.picture;
    const at =
      Math.round(MARKS[0]![1] * height - 0.5 - hole.top) * hole.width +
      Math.round(MARKS[0]![0] * width - 0.5 - hole.left);
    expect(planes[1][at]).toBeCloseTo(TAKES, 1.7);
    expect(planes[0][at]! / planes[1][at]!).toBeCloseTo(0.7, 1);
    // One that rides is placed a little differently on every frame, and is measured once all the same.
    const riding = (by: number) =>
      markLights(
        USUAL,
        fixes('glass').map((fix) => ({
          ...fix,
          outline: fix.outline.map(([u, v]): Point => [Number(u.toFixed(5)) + by, Number(v.toFixed(5)) - by]),
        })),
        DISPLAY_COLOUR,
      );
    const at0 = riding(0);
    for (const by of [1e-9, -1e-9]) riding(by).forEach((told, i) => expect(told).toBe(at0[i]));
    const two = { ...USUAL, frames: USUAL.frames.slice(0, 2) };
    expect(markLights(two, fixes('glass'), DISPLAY_COLOUR)).toEqual([null, null, null, null]);
    expect(cleanFrame(FRAMES[1]!.picture, fixes('glass'), { ...plain, usual: two }).picture).toEqual(
      cleanFrame(FRAMES[1]!.picture, fixes('smooth'), plain).picture,
    );
  });
  test('with floats what is brighter than white keeps its light', () => {
    const floats = (p: CodedPicture): CodedPicture => ({
      ...p,
      peak: 1,
      data: Float32Array.from(p.data, (v) => (1.5 * v) / 255),
    });
    const usual = usualSurface(
      FRAMES.map(({ quad, picture }) => ({ quad, picture: floats(picture) })),
      1.45,
    )!;
    const { picture } = cleanFrame(floats(FRAMES[4]!.picture), fixes('glass'), { ...plain, usual });
    const truth = floats(markedScreen({ marked: false, mirrored: bars(4) }));
    expect(255 * leftInMarks(picture, truth)).toBeLessThan(3);
  });
});

describe('whether marks lie under glass', () => {
  const square = (u: number, v: number) => MARKS.some(([x, y]) => Math.max(Math.abs(u - x), Math.abs(v - y)) < RADIUS);
  const flat = (k: number, of: (k: number, mirrored: number, takes: number) => number): LightPicture => {
    const width = 120;
    const height = 80;
    const data = new Float32Array(4 * width * height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const u = (x + 0.5) / width;
        const v = (y + 0.5) / height;
        const light = of(k, u < 0.12 * k ? 0.06 : 0, square(u, v) ? TAKES : 0);
        data.set([light, light, light, 1], 4 * (y * width + x));
      }
    return { width, height, data };
  };
  const told = (of: (k: number, mirrored: number, takes: number) => number) =>
    lieUnderGlass(
      [0, 1, 2, 3, 4, 5, 6, 7].map((k) => flat(k, of)),
      MARKS.map((at) => boxAround(at, RADIUS)),
    );
  test('they do where what is mirrored is added to their light, too', () => {
    expect(told((_, mirrored, takes) => 0.35 - takes + mirrored)).toBe(true);
  });
  test('not where they are stuck onto it, are lit with it, nothing changes, or a hand passes', () => {
    expect(told((_, mirrored, takes) => (takes > 0 ? 0.15 : 0.35 + mirrored))).toBe(false);
    expect(told((k, _, takes) => (0.35 - takes) * (1 + 0.05 * k))).toBe(false);
    expect(told((_, _m, takes) => 0.35 - takes)).toBe(false);
    expect(told((k, mirrored, takes) => (mirrored > 0 && k < 3 ? 0.05 : 0.35 - takes))).toBe(false);
    expect(lieUnderGlass([], [])).toBe(false);
  });
  test('marks that are found are filled accordingly', () => {
    const found = foundFixes(
      [0, 2, 4, 6, 7].map((k) => ({
        quad: MARKED_QUAD,
        picture: markedScreen({ marked: true, mirrored: (u) => (u < 0.13 * k ? 0.06 : 0) }),
      })),
      1.45,
      DISPLAY_COLOUR,
    );
    const bare = { quad: MARKED_QUAD, picture: markedScreen({ marked: true }) };
    const still = foundFixes([bare, bare, bare], 1.45, DISPLAY_COLOUR);
    expect(found.map(({ method }) => method)).toEqual(Array(4).fill('glass'));
    expect(still.map(({ method }) => method)).toEqual(Array(4).fill('smooth'));
  });
});
