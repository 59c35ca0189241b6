import type { PinnedSurface } from '../../core/picture/pin/pinned-surface.ts';
import { lookNow } from '../../core/picture/look/look.ts';
import { quadAt, shutterTimes } from '../../core/picture/pin/shutter-path.ts';
import { homographyBetweenQuads } from '../../core/base/geometry/estimate-homography.ts';
import { grownOutline } from '../../core/base/geometry/grow-outline.ts';
import { compose, scaling, translation, type Point } from '../../core/base/geometry/homography.ts';
import { distance, UNIT_SQUARE } from '../../core/base/geometry/quad.ts';
import type { FrontScene } from '../../core/picture/matte/front-of-frame.ts';
import { momentsOf, shapeOutline } from '../../core/picture/matte/roto-shapes.ts';
import { LONG, SWEPT } from '../../core/picture/matte/hold-to-swept.ts';
import { outlinesSwept } from '../../core/picture/matte/swept-cover.ts';
import type { FrontShape } from '../../core/base/schemas/types.ts';
import type { AnyMat, LibraryRoom } from './library-room.ts';

/** The box of the picture that is worked on. */
export interface Rect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** A look at squares so wide stands for a pixel, as in core/picture/pin/pin-layer.ts. */
const PIXEL = 1 / Math.sqrt(3);

/** Content seen at every moment of the shutter between two of its levels, averaged, softened: a warp for each moment and level. */
export function smearedContent(room: LibraryRoom, base: AnyMat, { motion, look }: PinnedSurface, rect: Rect): AnyMat {
  const { cv } = room;
  const now = lookNow(look, 0);
  const times = shutterTimes(motion, now.motionBlur);
  const size = new cv.Size(rect.width, rect.height);
  const zero = new cv.Scalar(0, 0, 0, 0);
  const layer = room.filled(rect.height, rect.width, cv.CV_32FC4);
  const seen = room.out();
  const [a, b, , d] = motion.now;
  const across = base.cols / distance(a, b);
  const down = base.rows / distance(a, d);
  let extent = Math.max(across, down) * (times.length < 4 ? 1 : PIXEL);
  let level = base;
  const halved = () => {
    const half = room.out();
    cv.pyrDown(level, half, new cv.Size(Math.ceil(level.cols / 2), Math.ceil(level.rows / 2)), cv.BORDER_REFLECT_101);
    return half;
  };
  for (; extent >= 2; extent /= 2) level = halved();
  const share = Math.max(0, extent - 1);
  const looks: [AnyMat, number][] = [[level, 1 - share], ...(share > 0 ? [[halved(), share] as [AnyMat, number]] : [])];
  const at = translation(-rect.x, -rect.y);
  for (const time of times) {
    const quad = homographyBetweenQuads(UNIT_SQUARE, quadAt(motion, time))!;
    for (const [from, part] of looks) {
      const map = room.keep(new cv.Mat(3, 3, cv.CV_64FC1));
      map.data64F.set(compose(at, quad, scaling(1 / from.cols, 1 / from.rows), translation(0.5, 0.5)));
      cv.warpPerspective(from, seen, map, size, cv.INTER_LINEAR, cv.BORDER_CONSTANT, zero);
      cv.addWeighted(layer, 1, seen, part / times.length, 0, layer);
    }
  }
  cv.GaussianBlur(layer, layer, new cv.Size(0, 0), now.soften, now.soften, cv.BORDER_REFLECT_101);
  return layer;
}

/** A shape with its soft edge, the mean over the moments that ours is measured at; one distance transform each. */
export function smearedShape(room: LibraryRoom, shape: FrontShape, scene: FrontScene, rect: Rect): AnyMat {
  const { cv } = room;
  const times = momentsOf(shape, scene);
  const sum = room.filled(rect.height, rect.width, cv.CV_32FC1);
  const one = room.filled(rect.height, rect.width, cv.CV_32FC1, 1);
  const far = room.out();
  const within = room.out();
  for (const time of times) {
    const drawn = room.filled(rect.height, rect.width, cv.CV_8UC1);
    room.fill(drawn, shapeOutline(shape, scene, time)!.points, 255, rect);
    cv.distanceTransform(drawn, far, cv.DIST_L2, 3);
    far.convertTo(within, -1, 0.25);
    cv.min(within, one, within);
    cv.addWeighted(sum, 1, within, 1 / times.length, 0, sum);
  }
  return sum;
}

/** What the surface covers in the mean of the open shutter takes the matte over where both are alike and the cover changes gently (core/picture/matte/hold-to-swept.ts). In place. */
export function sweptBorder(room: LibraryRoom, matte: AnyMat, scene: FrontScene, markers: boolean, rect: Rect): void {
  const { cv } = room;
  const outlines = outlinesSwept(scene.smeared, markers ? SWEPT : LONG, scene.mostMoments);
  if (!outlines) return;
  const cover = room.filled(rect.height, rect.width, cv.CV_32FC1);
  for (const outline of outlines) {
    const drawn = room.filled(rect.height, rect.width, cv.CV_8UC1);
    const part = room.out();
    room.fill(drawn, outline, 255, rect);
    drawn.convertTo(part, cv.CV_32FC1, 1 / (255 * outlines.length));
    cv.add(cover, part, cover);
  }
  const rest = room.out();
  const off = room.out();
  const alike = room.out();
  const most = room.out();
  const least = room.out();
  const gentle = room.out();
  const kernel = room.keep(cv.matFromArray(3, 3, cv.CV_8UC1, new Array<number>(9).fill(1)));
  cover.convertTo(rest, -1, -1, 1);
  cv.subtract(rest, matte, off);
  cv.absdiff(rest, matte, alike);
  cv.threshold(alike, alike, 0.2, 1, cv.THRESH_BINARY);
  cv.dilate(cover, most, kernel);
  cv.erode(cover, least, kernel);
  cv.subtract(most, least, gentle);
  cv.threshold(gentle, gentle, 1 / 8, 1, cv.THRESH_BINARY);
  cv.max(alike, gentle, alike);
  alike.convertTo(alike, -1, -1, 1);
  cv.multiply(off, alike, off);
  cv.add(matte, off, matte);
}

/** Where the surface goes farther in the shutter, px, its border is left to its colour; elsewhere so far to both sides of it, px, brightness tells it (core/picture/matte/border-by-luma.ts). */
const SMEARED = 2.5;
const BAND = 2.5;

/** The matte along the border from how bright a pixel is between the front grown over it and the screen; square roots stand for the display's curve. In place. */
export function lumaBorder(
  room: LibraryRoom,
  matte: AnyMat,
  light: readonly AnyMat[],
  front: readonly AnyMat[],
  screen: readonly AnyMat[],
  scene: FrontScene,
  rect: Rect,
): void {
  const { cv } = room;
  const moves = Math.max(
    ...scene.smeared.flatMap((other) => other.map((p: Point, i) => distance(p, scene.outline[i]!))),
  );
  if (moves > SMEARED) return;
  const luma = (planes: readonly AnyMat[]): AnyMat => {
    const sum = room.filled(rect.height, rect.width, cv.CV_32FC1);
    const root = room.out();
    planes.forEach((plane, c) => {
      cv.sqrt(plane, root);
      cv.addWeighted(sum, 1, root, [0.2126, 0.7152, 0.0722][c]!, 0, sum);
    });
    return sum;
  };
  const here = luma(light);
  const from = luma(front);
  const to = luma(screen);
  const way = room.out();
  const gone = room.out();
  const told = room.out();
  const band = room.filled(rect.height, rect.width, cv.CV_8UC1);
  const soft = room.out();
  const one = room.filled(rect.height, rect.width, cv.CV_32FC1, 1);
  const none = room.filled(rect.height, rect.width, cv.CV_32FC1);
  cv.subtract(to, from, way);
  cv.subtract(to, here, gone);
  cv.divide(gone, way, told);
  cv.min(told, one, told);
  cv.max(told, none, told);
  room.fill(band, grownOutline(scene.outline, BAND + moves), 255, rect);
  room.fill(band, grownOutline(scene.outline, -BAND - moves), 0, rect);
  cv.inRange(
    matte,
    room.filled(rect.height, rect.width, cv.CV_32FC1, 0.001),
    room.filled(rect.height, rect.width, cv.CV_32FC1, 0.999),
    soft,
  );
  cv.dilate(soft, soft, room.keep(cv.matFromArray(3, 3, cv.CV_8UC1, new Array<number>(9).fill(1))));
  cv.bitwise_and(band, soft, band);
  told.copyTo(matte, band);
}
