import type { PinnedSurface, PictureSize } from '../pin/pinned-surface.ts';
import { cameraFor } from '../pin/surface-camera.ts';
import { applyToPoint, type Point } from '../../base/geometry/homography.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import type { PixelBox } from '../../base/image/pixel-box.ts';
import { shapeOnFrame, type ShapeSetting } from '../matte/roto-shapes.ts';
import type { FrontShape, Reflections } from '../../base/schemas/types.ts';
import { mirrorMotion } from './mirror-motion.ts';

/** Light of a faint window where no colour was picked: common practice, no source. */
export const FAINT: readonly [number, number, number] = [0.06, 0.06, 0.065];

/** A drawn reflection's light over a box: its colour times what the shape covers. */
export function drawnReflection(
  { shape, colour = [...FAINT], rides }: Reflections,
  surface: PinnedSurface,
  setting: ShapeSetting,
  box: PixelBox,
  size: PictureSize,
): [Float32Array, Float32Array, Float32Array] | null {
  if (!shape) return null;
  const carried = rides === 'mirror' ? mirroredShape(shape, surface, size) : shape;
  const covers = shapeOnFrame(carried, setting, box);
  return colour.map((v) => covers.map((share) => share * v)) as [Float32Array, Float32Array, Float32Array];
}

/** The shape as it is seen on this frame, when it goes as something far away does in a mirror; told in the picture. */
function mirroredShape(
  shape: FrontShape,
  { reference, motion, ratio, focal }: PinnedSurface,
  size: PictureSize,
): FrontShape {
  const from = reference ?? motion.now;
  const camera = cameraFor(size, ratio, focal);
  const move = mirrorMotion(from, motion.now, camera) ?? ridingMotion(from, motion.now);
  const { handles: _, keys: __, softness: ___, ...rest } = shape;
  return {
    ...rest,
    rides: 'plate',
    points: shape.points.map(([x, y]) => {
      const [px, py] = move([x, y]);
      return [px, py];
    }),
  };
}

function ridingMotion(from: PinnedSurface['motion']['now'], to: PinnedSurface['motion']['now']): (p: Point) => Point {
  const h = homographyBetweenQuads(from, to);
  return (p) => (h ? applyToPoint(h, p) : p);
}
