import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { Point } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { cornersOfPose, posesOfQuad, type PlanePose, type SurfaceCamera } from './plane-pose.ts';
import { turnBetween, turnPartly } from './rotation.ts';

/**
 * A quad between two others, `share` 0 the first, 1 the second: by the poses of the surface that they show, so that it stays a rigid rectangle, with what
 * they are off one led over; by their corners where there is no camera or no pose.
 */
export function blendQuads(a: Quad, b: Quad, share: number, camera: SurfaceCamera | null): Quad {
  if (share <= 0) return a;
  if (share >= 1) return b;
  const posed = camera && byPose(a, b, share, camera);
  return posed ?? mapTuple(a, (p, i) => between(p, b[i]!, share));
}

function byPose(a: Quad, b: Quad, share: number, camera: SurfaceCamera): Quad | null {
  // Of the two ways in which a quad may lean, those of both that are nearest to each other.
  let nearest: { from: PlanePose; to: PlanePose; away: number } | null = null;
  for (const from of posesOfQuad(a, camera)) {
    for (const to of posesOfQuad(b, camera)) {
      const away = Math.hypot(...turnBetween(from.pose.rotation, to.pose.rotation)) + 0.5 * (from.rms + to.rms);
      if (!nearest || away < nearest.away) nearest = { from: from.pose, to: to.pose, away };
    }
  }
  if (!nearest) return null;
  const { from, to } = nearest;
  const pose: PlanePose = {
    rotation: turnPartly(from.rotation, to.rotation, share),
    position: mapTuple([0, 1, 2], (k) => from.position[k] + share * (to.position[k] - from.position[k])),
  };
  const [at, first, last] = [cornersOfPose(pose, camera), cornersOfPose(from, camera), cornersOfPose(to, camera)];
  if (!at || !first || !last) return null;
  return mapTuple(at, ([x, y], i): Point => {
    const [dx, dy] = between(
      [a[i]![0] - first[i]![0], a[i]![1] - first[i]![1]],
      [b[i]![0] - last[i]![0], b[i]![1] - last[i]![1]],
      share,
    );
    return [x + dx, y + dy];
  });
}

const between = ([x, y]: Point, [u, v]: Point, share: number): Point => [x + share * (u - x), y + share * (v - y)];
