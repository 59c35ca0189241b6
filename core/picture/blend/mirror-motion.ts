import type { Point } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { poseOfQuad, type SurfaceCamera } from '../../motion/pose/plane-pose.ts';
import { turnVector, type Vector3 } from '../../motion/pose/rotation.ts';

/**
 * How what a surface mirrors moves in the picture when the surface turns, of something far away that stands still before the camera: a point seen at
 * `p` while the surface is at `from` lies in the direction d = v − 2(v·n)n, v being the ray through p; with the surface at `to` it is seen along the
 * ray that the other normal turns into d. Null where a quad has no pose; a point that would be behind the camera comes out as it was.
 *
 * Source: the law of reflection in vector form, as in any textbook of optics (Hecht, Optics, §4.3).
 */
export function mirrorMotion(from: Quad, to: Quad, camera: SurfaceCamera): ((p: Point) => Point) | null {
  const normals = [from, to].map((quad) => {
    const pose = poseOfQuad(quad, camera)?.pose;
    return pose ? turnVector(pose.rotation, [0, 0, 1]) : null;
  });
  const [first, second] = normals;
  if (!first || !second) return null;
  return ([x, y]) => {
    const [vx, vy, vz] = reflect(
      reflect([(x - camera.cx) / camera.focal, (y - camera.cy) / camera.focal, 1], first),
      second,
    );
    return vz > 1e-6 ? [camera.cx + (camera.focal * vx) / vz, camera.cy + (camera.focal * vy) / vz] : [x, y];
  };
}

function reflect(v: Vector3, n: Vector3): Vector3 {
  const along = 2 * (v[0] * n[0] + v[1] * n[1] + v[2] * n[2]);
  return [v[0] - along * n[0], v[1] - along * n[1], v[2] - along * n[2]];
}
