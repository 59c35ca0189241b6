import { describe, expect, test } from 'vitest';
import { gaussianFrom, randomFrom } from '../../../demo/scene/random.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint, invert, type Point } from '../../base/geometry/homography.ts';
import { UNIT_SQUARE, type Quad } from '../../base/geometry/quad.ts';
import type { CodedPicture, LightPicture } from '../../base/image/picture.ts';
import { DISPLAY_COLOUR } from '../../base/image/plate-colour.ts';
import { cleanFrame } from './clean-frame.ts';
import { fixesOn, type CleanFix } from '../look/clean-fix.ts';
import type { FixOnFrame } from './fix-on-frame.ts';
import { usualSurface } from './usual-surface.ts';
import { foundFixes } from './find-fixes.ts';
import { findSpots } from './find-spots.ts';

const W = 320;
const H = 200;
const QUAD: Quad = [
  [40, 30],
  [290, 22],
  [300, 180],
  [34, 170],
];
const MAP = homographyBetweenQuads(UNIT_SQUARE, QUAD)!;
const BACK = invert(MAP)!;
const random = randomFrom(7);
const gauss = gaussianFrom(random);

/** A screen lit unevenly, with a mark or without; `noise` in codes. */
function plate(
  mark: (u: number, v: number) => number,
  noise = 0,
  light = (x: number, y: number) => 90 + 60 * (x / W) + 30 * Math.sin(y / 50),
): CodedPicture {
  const data = new Uint8Array(W * H * 3);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const [u, v] = applyToPoint(BACK, [x + 0.5, y + 0.5]);
      const value = light(x, y) - mark(u, v);
      for (let c = 0; c < 3; c++) data[(y * W + x) * 3 + c] = Math.round(value * (c === 1 ? 1 : 0.6) + noise * gauss());
    }
  return { width: W, height: H, data, peak: 255 };
}
const cross = (u: number, v: number) =>
  Math.max(Math.abs(u - 0.5), Math.abs(v - 0.4)) < 0.04 && Math.min(Math.abs(u - 0.5), Math.abs(v - 0.4)) < 0.01
    ? 55
    : 0;
const none = () => 0;
const box = (u: number, v: number, r: number): Point[] => [
  [u - r, v - r],
  [u + r, v - r],
  [u + r, v + r],
  [u - r, v + r],
];
const FIX: CleanFix = { outline: box(0.5, 0.4, 0.05), method: 'smooth' };
const ON: FixOnFrame = { outline: FIX.outline!, method: 'smooth', from: undefined, soft: undefined, opacity: 1 };

function inside(a: CodedPicture, b: CodedPicture, fix: CleanFix): { rms: number; mean: number } {
  let squares = 0;
  let sum = 0;
  let n = 0;
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const [u, v] = applyToPoint(BACK, [x + 0.5, y + 0.5]);
      const [left, , right] = fix.outline as [Point, Point, Point];
      if (u < left[0] || v < left[1] || u > right[0] || v > right[1]) continue;
      for (let c = 0; c < 3; c++) {
        const d = a.data[(y * W + x) * 3 + c]! - b.data[(y * W + x) * 3 + c]!;
        squares += d * d;
        sum += d;
        n++;
      }
    }
  return { rms: Math.sqrt(squares / n), mean: sum / n };
}
const plain = { maps: [MAP], front: null, grain: false, colour: DISPLAY_COLOUR };

describe('a mark on a surface', () => {
  test('is made up from what surrounds it, its light with it', () => {
    const { picture, left } = cleanFrame(plate(cross), [ON], plain);
    const { rms } = inside(picture, plate(none), FIX);
    expect(left).toEqual([]);
    expect(rms).toBeLessThan(1);
    // A frame lit otherwise is filled with its own light.
    const darker = (x: number) => 40 + 20 * (x / W);
    expect(
      inside(cleanFrame(plate(cross, 0, darker), [ON], plain).picture, plate(none, 0, darker), FIX).rms,
    ).toBeLessThan(1);
  });
  test('away from it nothing is touched', () => {
    const before = plate(cross);
    const { picture } = cleanFrame(before, [ON], plain);
    let changed = 0;
    for (let y = 0; y < H; y++)
      for (let x = 0; x < W; x++) {
        const [u, v] = applyToPoint(BACK, [x + 0.5, y + 0.5]);
        if (
          Math.max(Math.abs(u - 0.5), Math.abs(v - 0.4)) > 0.09 &&
          before.data[(y * W + x) * 3] !== picture.data[(y * W + x) * 3]
        )
          changed++;
      }
    expect(changed).toBe(0);
  });
  test('the plate’s own grain lies over it', () => {
    const { picture } = cleanFrame(plate(cross, 4), [ON], { ...plain, grain: true });
    const { rms, mean } = inside(picture, plate(none), FIX);
    expect(rms).toBeGreaterThan(2.8);
    expect(rms).toBeLessThan(5.2);
    expect(Math.abs(mean)).toBeLessThan(1.2);
  });
  test('what is in front stays, and does not run into it', () => {
    const front = new Float32Array(W * H);
    const hand = plate(cross);
    for (let y = 0; y < H; y++)
      for (let x = 165; x < 200; x++) {
        front[y * W + x] = 1;
        for (let c = 0; c < 3; c++) hand.data[(y * W + x) * 3 + c] = 12;
      }
    const { picture } = cleanFrame(hand, [ON], { ...plain, front });
    const bare = plate(none);
    let covered = 0;
    let worst = 0;
    for (let y = 60; y < 120; y++)
      for (let x = 130; x < 200; x++) {
        const i = (y * W + x) * 3;
        const [u, v] = applyToPoint(BACK, [x + 0.5, y + 0.5]);
        if (x >= 165) covered = Math.max(covered, Math.abs(picture.data[i]! - 12));
        else if (Math.abs(u - 0.5) < 0.05 && Math.abs(v - 0.4) < 0.05)
          worst = Math.max(worst, Math.abs(picture.data[i]! - bare.data[i]!));
      }
    expect(covered).toBe(0);
    expect(worst).toBeLessThan(6);
  });
  test('a patch from elsewhere carries its texture, and takes the light of the place', () => {
    const bricks = (u: number, v: number) => ((Math.floor(u * 20) + Math.floor(v * 20)) % 2 === 0 ? 18 : 0);
    const patched: FixOnFrame = { ...ON, method: 'patch', from: [0.2, 0] };
    const marked = plate((u, v) => bricks(u, v) + cross(u, v));
    const truth = plate(bricks);
    expect(inside(cleanFrame(marked, [patched], plain).picture, truth, FIX).rms).toBeLessThan(
      0.7 * inside(cleanFrame(marked, [ON], plain).picture, truth, FIX).rms,
    );
  });
  test('a clone is laid on as it is, its light too', () => {
    const steep = (x: number) => 60 + 120 * (x / W);
    const cloned: FixOnFrame = { ...ON, method: 'clone', from: [0.3, 0] };
    const marked = plate(cross, 0, steep);
    const truth = plate(none, 0, steep);
    // Taken from where it is brighter, it is brighter: a patch is not.
    expect(inside(cleanFrame(marked, [cloned], plain).picture, truth, FIX).mean).toBeGreaterThan(12);
    expect(
      Math.abs(inside(cleanFrame(marked, [{ ...cloned, method: 'patch' }], plain).picture, truth, FIX).mean),
    ).toBeLessThan(1.5);
  });
  test('from other frames it takes what they show there, in the light of this one', () => {
    // A highlight that passes over a pattern, on another place on each frame.
    const bricks = (u: number, v: number) => ((Math.floor(u * 24) + Math.floor(v * 24)) % 2 === 0 ? 25 : 0);
    const shine = (k: number) => (u: number, v: number) =>
      bricks(u, v) - (Math.hypot(u - 0.14 * k, v - 0.4) < 0.045 ? 60 : 0);
    const frames = [0, 1, 2, 3, 4, 5, 6].map((k) => ({ picture: plate(shine(k)), quad: QUAD }));
    const usual = usualSurface(frames, 1.5)!;
    const there: FixOnFrame = { ...ON, outline: box(0.56, 0.4, 0.06), method: 'frames' };
    const at: CleanFix = { outline: there.outline, method: 'frames' };
    const darker = (x: number) => 70 + 40 * (x / W);
    const truth = plate(bricks, 0, darker);
    const filled = cleanFrame(plate(shine(4), 0, darker), [there], { ...plain, usual }).picture;
    expect(inside(filled, truth, at).rms).toBeLessThan(5);
    expect(
      inside(cleanFrame(plate(shine(4), 0, darker), [{ ...there, method: 'smooth' }], plain).picture, truth, at).rms,
    ).toBeGreaterThan(2 * inside(filled, truth, at).rms);
    expect(usualSurface(frames.slice(0, 2), 1.5)).toBeNull();
  });
  test('half of a fix is half of what it does', () => {
    const whole = inside(cleanFrame(plate(cross), [ON], plain).picture, plate(cross), FIX).mean;
    const half = inside(cleanFrame(plate(cross), [{ ...ON, opacity: 0.5 }], plain).picture, plate(cross), FIX).mean;
    expect(half / whole).toBeCloseTo(0.5, 1);
  });
  test('one larger than what surrounds it is left, and named; one of other frames is not worked on', () => {
    const whole: FixOnFrame = {
      ...ON,
      outline: [
        [-2, -2],
        [3, -2],
        [3, 3],
        [-2, 3],
      ],
    };
    expect(cleanFrame(plate(cross), [whole], plain).left).toEqual([0]);
    // Behind a hand it is neither seen nor missed.
    const over = new Float32Array(W * H).fill(1);
    expect(cleanFrame(plate(cross), [ON], { ...plain, front: over }).left).toEqual([]);
    over.fill(0.6);
    expect(cleanFrame(plate(cross), [ON], { ...plain, front: over }).left).toEqual([0]);
    expect(fixesOn([{ ...FIX, frames: [3, 5] }, { ...FIX, off: true }, FIX], 6)).toHaveLength(1);
  });
});

describe('marks found by themselves', () => {
  const flat = (mark: (u: number, v: number) => number, reflection: number): LightPicture => {
    const width = 240;
    const height = 150;
    const data = new Float32Array(4 * width * height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const i = 4 * (y * width + x);
        const u = x / width;
        const v = y / height;
        const light = 0.3 + 0.1 * u - mark(u, v) / 255 + (Math.abs(u - reflection) < 0.08 ? 0.25 : 0);
        data.set([light, light, light, 1], i);
      }
    return { width, height, data };
  };
  const dots = [
    [0.2, 0.3],
    [0.7, 0.3],
    [0.5, 0.8],
  ] as const;
  const marks = (u: number, v: number) => (dots.some(([a, b]) => Math.hypot((u - a) * 1.6, v - b) < 0.025) ? 50 : 0);
  test('dots that ride with the surface, and not a reflection that passes', () => {
    const found = findSpots([0.1, 0.4, 0.65, 0.9, 0.25].map((at) => flat(marks, at)));
    expect(found).toHaveLength(3);
    for (const { outline, contrast } of found) {
      expect(contrast).toBeLessThan(-0.05);
      const u = outline.reduce((s, p) => s + p[0], 0) / outline.length;
      const v = outline.reduce((s, p) => s + p[1], 0) / outline.length;
      expect(Math.min(...dots.map(([a, b]) => Math.hypot(u - a, v - b)))).toBeLessThan(0.01);
    }
  });
  test('one of a set that a hand hides on most frames is found where it shows', () => {
    const grid = [0.15, 0.4, 0.65, 0.9].flatMap((u) => [0.25, 0.7].map((v) => [u, v] as const));
    const covered = grid[2]!;
    const dot = (u: number, v: number) => (grid.some(([a, b]) => Math.hypot((u - a) * 1.4, v - b) < 0.03) ? 55 : 0);
    const frames = [0, 1, 2, 3, 4].map((k) => ({
      quad: QUAD,
      picture: plate((u, v) =>
        k > 1 && Math.abs(u - covered[0] - 0.01 * k) < 0.1 && v < covered[1] + 0.12 ? -45 : dot(u, v),
      ),
    }));
    const found = foundFixes(frames, 1.5, DISPLAY_COLOUR).map(({ outline }) =>
      [0, 1].map((c) => outline!.reduce((sum, p) => sum + p[c]!, 0) / outline!.length),
    );
    for (const [u, v] of grid)
      expect(Math.min(...found.map(([a, b]) => Math.hypot(a! - u, b! - v))), `${u} ${v}`).toBeLessThan(0.015);
    expect(found).toHaveLength(grid.length);
  });
  test('a picture full of detail is no set of marks; too few frames tell nothing', () => {
    expect(
      findSpots([0, 1, 2].map((k) => flat((u, v) => (Math.sin(u * 120) * Math.sin(v * 120) > 0.6 ? 50 : 0), 5 + k))),
    ).toEqual([]);
    expect(findSpots([flat(marks, 5)])).toEqual([]);
  });
});
