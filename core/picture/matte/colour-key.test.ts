import { describe, expect, test } from 'vitest';
import type { Point } from '../../base/geometry/homography.ts';
import { boxBlur } from '../../base/image/box-blur.ts';
import { GREEN } from '../../test/green-screen.ts';
import { canBeKeyed, excess, keyMatte, shareOf } from './colour-key.ts';
import { coverageOf } from './coverage.ts';
import { grownMatte } from './grow-matte.ts';
import { pushPull } from './push-pull.ts';
import { coarseFill, filledBlocks } from './coarse-fill.ts';
import { softEdgeAlpha } from './soft-edge-alpha.ts';

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
