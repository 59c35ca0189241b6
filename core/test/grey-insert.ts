import type { Quad } from '../base/geometry/quad.ts';
import type { CodedPicture, ContentPicture } from '../base/image/picture.ts';
import { encodeLight } from '../base/image/transfer.ts';
import { buildContentPyramid } from '../picture/pin/content-pyramid.ts';
import { NEUTRAL_LEVELS, resolveLook } from '../picture/look/look.ts';
import type { PinnedSurface } from '../picture/pin/pinned-surface.ts';

export const W = 120;
export const H = 90;
export const QUAD: Quad = [
  [30, 20],
  [90, 20],
  [90, 65],
  [30, 65],
];
export const grey = (value: number): CodedPicture => ({
  width: W,
  height: H,
  data: new Uint8Array(W * H * 3).fill(value),
  peak: 255,
});
export const one = (r: number, g = r, b = r): ContentPicture => ({
  width: 8,
  height: 6,
  data: Uint8Array.from({ length: 192 }, (_, i) => [r, g, b, 255][i % 4]!),
  peak: 255,
});
export const pyramidOf = (picture: ContentPicture) => buildContentPyramid(picture, NEUTRAL_LEVELS);
export const surface = (
  look: Parameters<typeof resolveLook>[0],
  pyramid = pyramidOf(one(200)),
  frame = 0,
): PinnedSurface => ({
  contents: [{ pyramid }],
  motion: { before: null, now: QUAD, after: null },
  ratio: 60 / 45,
  look: resolveLook(look),
  frame,
});
export const at = (picture: CodedPicture, col: number, row: number, c = 0) =>
  picture.data[3 * (row * picture.width + col) + c]!;
export const mid = (picture: CodedPicture, c = 0) => at(picture, 60, 42, c);
export const code = (light: number) => Math.round(255 * encodeLight(light));
