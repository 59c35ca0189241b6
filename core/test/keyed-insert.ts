import type { Quad } from '../base/geometry/quad.ts';
import type { CodedPicture } from '../base/image/picture.ts';
import { DISPLAY_COLOUR } from '../base/image/plate-colour.ts';
import { measureFront } from '../picture/matte/measure-front.ts';
import type { Look } from '../base/schemas/types.ts';
import { greenScreen, SCREEN_QUAD } from './green-screen.ts';
import { buildContentPyramid } from '../picture/pin/content-pyramid.ts';
import { NEUTRAL_LEVELS, resolveLook } from '../picture/look/look.ts';
import type { PinnedSurface } from '../picture/pin/pinned-surface.ts';

export const blue = buildContentPyramid(
  {
    width: 80,
    height: 66,
    data: Uint8Array.from({ length: 80 * 66 * 4 }, (_, i) => [40, 60, 200, 255][i % 4]!),
    peak: 255,
  },
  NEUTRAL_LEVELS,
);
export const scene = greenScreen({ noise: 0.01 });
export const measured = measureFront([{ picture: scene.picture, quad: SCREEN_QUAD }], 1.2, DISPLAY_COLOUR);
export const pinned = (look: Look, quad: Quad = SCREEN_QUAD): PinnedSurface => ({
  contents: [{ pyramid: blue }],
  motion: { before: null, now: quad, after: null },
  ratio: 1.2,
  look: resolveLook(look, measured),
  frame: 0,
  reference: quad,
});
export const at = (picture: CodedPicture, col: number, row: number) => [
  ...picture.data.subarray((row * picture.width + col) * 3, (row * picture.width + col) * 3 + 3),
];
