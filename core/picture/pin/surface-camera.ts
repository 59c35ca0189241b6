import type { Quad } from '../../base/geometry/quad.ts';
import { fitCamera } from '../../motion/pose/fit-camera.ts';
import type { SurfaceCamera } from '../../motion/pose/plane-pose.ts';

/** Focal length in longer sides of the picture where nothing else is known: common practice, no source. */
const USUAL_FOCAL = 1.1;

/** A camera that looks through the middle of a picture at a surface; of the usual focal length where none is known. */
export function cameraFor(
  { width, height }: { width: number; height: number },
  ratio: number,
  focal = USUAL_FOCAL * Math.max(width, height),
): SurfaceCamera {
  return { focal, cx: width / 2, cy: height / 2, ratio };
}

/** The focal length that a surface's corners over a shot suggest, px; undefined where they tell none. `known` is used as it is. */
export function surfaceFocal(
  quads: readonly Quad[],
  size: { width: number; height: number },
  ratio: number,
  known?: number,
): number | undefined {
  return known ?? fitCamera(quads, size.width, size.height, { ratio })?.camera.focal;
}
