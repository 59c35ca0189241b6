import { expect, test } from 'vitest';
import type { Quad } from '../../base/geometry/quad.ts';
import type { CodedPicture } from '../../base/image/picture.ts';
import { buildContentPyramid } from '../pin/content-pyramid.ts';
import { composeSurfaces, type StackedSurface } from './compose-surfaces.ts';
import { NEUTRAL_LEVELS, NEUTRAL_LOOK } from '../look/look.ts';

const W = 100;
const H = 60;
const plate: CodedPicture = { width: W, height: H, data: new Uint8Array(W * H * 3).fill(90), peak: 255 };
const plain = (r: number, g: number, b: number) =>
  buildContentPyramid(
    { width: 4, height: 4, data: Uint8Array.from({ length: 64 }, (_, i) => [r, g, b, 255][i % 4]!), peak: 255 },
    NEUTRAL_LEVELS,
  );
const box = (left: number, right: number): Quad => [
  [left, 10],
  [right, 10],
  [right, 50],
  [left, 50],
];
const surface = (
  pyramid: ReturnType<typeof plain>,
  quad: Quad,
  border = 0,
  after: Quad | null = null,
): StackedSurface => ({
  border,
  surface: {
    contents: [{ pyramid }],
    motion: { before: null, now: quad, after },
    ratio: 1,
    look: NEUTRAL_LOOK,
    frame: 0,
  },
});
const at = (picture: CodedPicture, x: number) => [...picture.data.subarray((30 * W + x) * 3, (30 * W + x) * 3 + 3)];

test('the nearer one covers the farther one, and its device hides what is next to it', () => {
  const far = surface(plain(200, 0, 0), box(10, 60));
  const near = surface(plain(0, 0, 200), box(50, 90), 6);
  const { picture, matte } = composeSurfaces(plate, [far, near], 'final', undefined, true);
  expect(at(picture, 30)).toEqual([200, 0, 0]);
  expect(at(picture, 55)).toEqual([0, 0, 200]);
  expect(at(picture, 47)).toEqual([90, 90, 90]);
  expect([30, 47, 55].map((x) => Math.round(matte![30 * W + x]!))).toEqual([1, 0, 1]);
});

test('a single surface is finished as by itself, whatever order others have', () => {
  const one = surface(plain(10, 200, 30), box(20, 40));
  expect(at(composeSurfaces(plate, [one], 'final').picture, 30)).toEqual([10, 200, 30]);
  expect(composeSurfaces(plate, [], 'final').picture.data).toEqual(plate.data);
});
