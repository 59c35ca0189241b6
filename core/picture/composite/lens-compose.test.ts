import { expect, test } from 'vitest';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import { applyToPoint, invert } from '../../base/geometry/homography.ts';
import { UNIT_SQUARE, type Quad } from '../../base/geometry/quad.ts';
import type { CodedPicture, ContentPicture } from '../../base/image/picture.ts';
import { bend, straighten, type Lens } from '../../motion/lens/lens.ts';
import { composeWithMatte } from './compose-frame.ts';
import { buildContentPyramid } from '../pin/content-pyramid.ts';
import { NEUTRAL_LEVELS, resolveLook } from '../look/look.ts';

const WIDTH = 320;
const HEIGHT = 180;
const SIDE = 256;
const lens: Lens = { k1: -0.16, k2: 0.01, k3: 0, centre: [160, 90], focal: 230 };
const plate: CodedPicture = {
  width: WIDTH,
  height: HEIGHT,
  data: new Uint8Array(WIDTH * HEIGHT * 3).fill(40),
  peak: 255,
};
/** Smooth in the surface, so that what it shows at a place says which place it is. */
const shade = (u: number, v: number) =>
  [128 + 70 * Math.sin(9 * u), 128 + 70 * Math.sin(8 * v), 128 + 50 * Math.cos(6 * (u + v))] as const;
const content: ContentPicture = { width: SIDE, height: SIDE, peak: 255, data: new Uint8Array(SIDE * SIDE * 4) };
for (let i = 0; i < SIDE * SIDE; i++)
  content.data.set(
    [...shade(((i % SIDE) + 0.5) / SIDE, (Math.floor(i / SIDE) + 0.5) / SIDE).map(Math.round), 255],
    4 * i,
  );

const ideal: Quad = [
  [24, 16],
  [300, 6],
  [308, 176],
  [12, 160],
];
const filmed = ideal.map((p) => bend(lens, p)) as unknown as Quad;
const toUnit = invert(homographyBetweenQuads(UNIT_SQUARE, ideal)!)!;
const surface = (through: Lens | undefined) => ({
  contents: [{ pyramid: buildContentPyramid(content, NEUTRAL_LEVELS) }],
  motion: { before: null, now: filmed, after: null },
  ratio: 1.6,
  look: resolveLook({}),
  frame: 0,
  lens: through,
});

test('content is bent as the lens bends: every pixel shows the place that is filmed there, and the matte ends on the bent outline', () => {
  const { picture, matte } = composeWithMatte(plate, surface(lens), 'final');
  const flat = composeWithMatte(plate, surface(undefined), 'final').picture;
  let worst = 0;
  let without = 0;
  let edge = 0;
  for (let row = 0; row < HEIGHT; row++)
    for (let col = 0; col < WIDTH; col++) {
      const [u, v] = applyToPoint(toUnit, straighten(lens, [col + 0.5, row + 0.5]));
      const at = row * WIDTH + col;
      if (u > 0.02 && v > 0.02 && u < 0.98 && v < 0.98)
        shade(u, v).forEach((value, c) => {
          worst = Math.max(worst, Math.abs(picture.data[3 * at + c]! - value));
          without = Math.max(without, Math.abs(flat.data[3 * at + c]! - value));
        });
      // Well inside it covers, well outside it does not: the sides bulge by two pixels and more.
      const inside = Math.min(u, v, 1 - u, 1 - v);
      if (inside > 0.006) edge = Math.max(edge, 1 - matte![at]!);
      if (inside < -0.006) edge = Math.max(edge, matte![at]!);
    }
  expect(without).toBeGreaterThan(10);
  expect(worst).toBeLessThan(2);
  expect(edge).toBeLessThan(0.01);
});
