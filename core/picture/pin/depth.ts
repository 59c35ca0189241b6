import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { cornersOfPose, poseOfQuad } from '../../motion/pose/plane-pose.ts';
import { cameraFor } from './surface-camera.ts';
import { turnVector } from '../../motion/pose/rotation.ts';
import type { Quad } from '../../base/geometry/quad.ts';

/**
 * Corners of a surface as large as one seen at `quad`, and parallel to it, `depth` of its widths behind it (in front when negative). `ratio` is its
 * width over height, `focal` px. Null where the quad has no pose, or the surface would not be in front of the camera.
 */
export function quadAtDepth(
  quad: Quad,
  depth: number,
  ratio: number,
  size: { width: number; height: number },
  focal?: number,
): Quad | null {
  const camera = cameraFor(size, ratio, focal);
  const pose = poseOfQuad(quad, camera)?.pose;
  if (!pose) return null;
  // The normal that points away from the camera; the unit of length is the surface's height.
  const [nx, ny, nz] = turnVector(pose.rotation, [0, 0, 1]);
  const [x, y, z] = pose.position;
  const away = nx * x + ny * y + nz * z > 0 ? depth * ratio : -depth * ratio;
  const there = cornersOfPose(
    { rotation: pose.rotation, position: [x + away * nx, y + away * ny, z + away * nz] },
    camera,
  );
  const here = cornersOfPose(pose, camera);
  // What the pose leaves of the corners stays with them.
  return (
    there &&
    here &&
    mapTuple(there, ([px, py], i) => [px + quad[i]![0] - here[i]![0], py + quad[i]![1] - here[i]![1]] as const)
  );
}
