import { describe, expect, test } from 'vitest';
import { planeToPicture, project, turnedPlane } from '../../../demo/scene/camera.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { estimateCornerRadius } from './corner-radius.ts';
import { impliedProportions, nearestProportions } from '../../motion/pose/implied-proportions.ts';
import { lightPicture } from '../../base/image/light-sampler.ts';
import { outsetQuad } from './seat-outset.ts';
import { MIRROR, orderBetween, QUARTER_TURN, reorder, reorderMoves, reorderSides } from './turn-quad.ts';

const QUAD: Quad = [
  [100, 100],
  [300, 110],
  [290, 230],
  [105, 220],
];

describe('proportions', () => {
  const seen = (width: number, height: number, yaw: number, pitch: number): Quad => {
    const map = planeToPicture(
      turnedPlane([2, 1, 0], width, height, yaw, pitch),
      { position: [0, 4, 60], target: [0, 0, 0], roll: 0.05 },
      { width: 1280, height: 720, focal: 1100 },
    );
    return [
      [0, 0],
      [width, 0],
      [width, height],
      [0, height],
    ].map(([x, y]) => project(map, x!, y!)) as unknown as Quad;
  };
  test('of a rectangle that turns before a camera are found, and with them its focal length', () => {
    const found = impliedProportions(
      [0.6, 0.3, 0, -0.4].map((yaw) => seen(21, 13.125, yaw, -0.3)),
      1280,
      720,
    )!;
    expect(found.ratio).toBeCloseTo(1.6, 2);
    expect(Math.abs(found.focal / 1100 - 1)).toBeLessThan(0.05);
  });
  test('are named, lying and standing, with how far off they are', () => {
    expect(nearestProportions(1.6)).toMatchObject({ name: '16:10', mismatch: 0 });
    expect(nearestProportions(9 / 19.5)).toMatchObject({ name: '9:19.5' });
    expect(nearestProportions(1.8).mismatch).toBeCloseTo(1.8 / (16 / 9) - 1, 9);
  });
  test('of nothing are not known', () => expect(impliedProportions([], 1280, 720)).toBeNull());
});

describe('outset', () => {
  test('px move the sides along their normals', () => {
    const flat: Quad = [
      [10, 10],
      [110, 10],
      [110, 60],
      [10, 60],
    ];
    expect(outsetQuad(flat, { unit: 'px', sides: [1, 2, 3, -4] })).toEqual([
      [14, 9],
      [112, 9],
      [112, 63],
      [14, 63],
    ]);
  });
  test('hundredths are the surface’s own, in perspective', () => {
    const flat: Quad = [
      [10, 10],
      [110, 10],
      [110, 60],
      [10, 60],
    ];
    outsetQuad(flat, { unit: '%', sides: [10, 0, 0, 10] }).forEach((corner, i) =>
      corner.forEach((v, k) =>
        expect(v).toBeCloseTo(
          [
            [0, 5],
            [110, 5],
            [110, 60],
            [0, 60],
          ][i]![k]!,
          9,
        ),
      ),
    );
  });
  test('what would turn it inside out is not done; none is the quad itself', () => {
    expect(outsetQuad(QUAD, { unit: 'px', sides: [-90, 0, -90, 0] })).toBe(QUAD);
    expect(outsetQuad(QUAD, { unit: '%', sides: [0, 0, 0, 0] })).toBe(QUAD);
  });
});

describe('content turned on its corners', () => {
  test('four quarter turns, and two mirrors, are none', () => {
    let turned: number[] = [0, 1, 2, 3];
    for (let i = 0; i < 4; i++) turned = reorder(turned, QUARTER_TURN);
    expect(turned).toEqual([0, 1, 2, 3]);
    expect(reorder(reorder([0, 1, 2, 3], MIRROR), MIRROR)).toEqual([0, 1, 2, 3]);
  });
  test('sides and moves go with their corners', () => {
    expect(reorderSides(['top', 'right', 'bottom', 'left'], QUARTER_TURN)).toEqual(['right', 'bottom', 'left', 'top']);
    expect(reorderSides(['top', 'right', 'bottom', 'left'], MIRROR)).toEqual(['top', 'left', 'bottom', 'right']);
    expect(reorderMoves([0, 1, 2, 3, 4, 5, 6, 7], MIRROR)).toEqual([2, 3, 0, 1, 6, 7, 4, 5]);
  });
  test('an order is determined from where the corners lie', () => {
    for (const order of [[0, 1, 2, 3], QUARTER_TURN, MIRROR, [2, 3, 0, 1], [3, 2, 1, 0]] as const)
      expect(orderBetween(QUAD, reorder(QUAD, order).map(([x, y]) => [x + 1, y - 2]) as unknown as Quad)).toEqual([
        ...order,
      ]);
  });
});

test.each([0, 9, 20])('a corner radius of %i px is measured in the picture', (radius) => {
  const width = 320;
  const height = 240;
  const codes = new Uint8Array(width * height);
  const [l, t, r, b] = [60, 50, 260, 190];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let inside = 0;
      for (let k = 0; k < 16; k++) {
        const px = x + ((k % 4) + 0.5) / 4;
        const py = y + (Math.floor(k / 4) + 0.5) / 4;
        const dx = Math.max(l + radius - px, px - r + radius, 0);
        const dy = Math.max(t + radius - py, py - b + radius, 0);
        if (px > l && px < r && py > t && py < b && Math.hypot(dx, dy) <= radius + (radius === 0 ? 1 : 0)) inside++;
      }
      codes[y * width + x] = 20 + (180 * inside) / 16;
    }
  }
  expect(
    Math.abs(
      estimateCornerRadius(lightPicture({ width, height, codes, peak: 255 }), [
        [l, t],
        [r, t],
        [r, b],
        [l, b],
      ]) - radius,
    ),
  ).toBeLessThan(1.6);
});
