import type { Quad } from '../../base/geometry/quad.ts';
import { poseOfQuad, surfaceCorners, type SurfaceCamera } from '../../motion/pose/plane-pose.ts';
import { turnVector } from '../../motion/pose/rotation.ts';

/** Times the light at a place of the picture: a + b·x + c·y. */
export type LightSlope = readonly [a: number, b: number, c: number];

/**
 * What a screen's light loses by being looked at from the side: the cosine of the angle to its normal, to a power, at its four corners, and the plane
 * through them. Null where the quad has no pose.
 */
export function viewingFalloff(quad: Quad, camera: SurfaceCamera, power: number): LightSlope | null {
  const pose = poseOfQuad(quad, camera)?.pose;
  if (!pose) return null;
  const normal = turnVector(pose.rotation, [0, 0, 1]);
  const light = surfaceCorners(camera.ratio).map(([px, py]) => {
    const turned = turnVector(pose.rotation, [px, py, 0]);
    const at = turned.map((v, i) => v + pose.position[i]!);
    const far = Math.hypot(...at);
    return Math.abs((normal[0] * at[0]! + normal[1] * at[1]! + normal[2] * at[2]!) / far) ** power;
  });
  return planeThrough(quad, light);
}

/** The plane that fits values at four points best. */
function planeThrough(quad: Quad, values: readonly number[]): LightSlope {
  const mx = quad.reduce((s, [x]) => s + x, 0) / 4;
  const my = quad.reduce((s, [, y]) => s + y, 0) / 4;
  const mean = values.reduce((s, v) => s + v, 0) / 4;
  let xx = 0;
  let xy = 0;
  let yy = 0;
  let xv = 0;
  let yv = 0;
  quad.forEach(([x, y], i) => {
    const dx = x - mx;
    const dy = y - my;
    const dv = values[i]! - mean;
    xx += dx * dx;
    xy += dx * dy;
    yy += dy * dy;
    xv += dx * dv;
    yv += dy * dv;
  });
  const det = xx * yy - xy * xy;
  if (Math.abs(det) < 1e-9) return [mean, 0, 0];
  const b = (yy * xv - xy * yv) / det;
  const c = (xx * yv - xy * xv) / det;
  return [mean - b * mx - c * my, b, c];
}
