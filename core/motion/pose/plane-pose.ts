import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import type { Homography, Point } from '../../base/geometry/homography.ts';
import { dampDiagonal, Damping } from '../../base/geometry/damped-least-squares.ts';
import { solveCholesky } from '../../base/geometry/linear-solve.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { rotationFromVector, turnedBy, turnVector, type Rotation, type Vector3 } from './rotation.ts';

/** A camera without distortion that looks through the middle of the picture, and the surface's proportions: all that a quad's pose depends on. */
export interface SurfaceCamera {
  /** Focal length, px. */
  readonly focal: number;
  /** Where it looks, continuous pixels. */
  readonly cx: number;
  readonly cy: number;
  /** Width of the surface over its height. */
  readonly ratio: number;
}

/** Where a surface is in the camera's own axes: points of the surface X go to R·X + t. Unit of length: the surface's height. */
export interface PlanePose {
  readonly rotation: Rotation;
  readonly position: Vector3;
}

export interface FittedPose {
  readonly pose: PlanePose;
  /** Root mean square distance left over the points, px. */
  readonly rms: number;
}

/** The surface's corners on the surface, about its middle. */
export function surfaceCorners(ratio: number): Quad {
  const x = ratio / 2;
  const y = 0.5;
  return [
    [-x, -y],
    [x, -y],
    [x, y],
    [-x, y],
  ];
}

/** The map of the surface's plane to the picture. */
export function homographyOfPose(
  { rotation: r, position: [x, y, z] }: PlanePose,
  { focal, cx, cy }: SurfaceCamera,
): Homography {
  const row = (axis: number, along: number, middle: number, shift: number) => [
    focal * r[axis]! + middle * r[6]!,
    focal * r[axis + 1]! + middle * r[7]!,
    focal * shift + middle * along,
  ];
  return [...row(0, z, cx, x), ...row(3, z, cy, y), r[6]!, r[7]!, z];
}

/** Where points of the surface are seen; null where one is not in front of the camera. */
export function project(
  { rotation, position }: PlanePose,
  { focal, cx, cy }: SurfaceCamera,
  points: readonly Point[],
): [number, number][] | null {
  const out: [number, number][] = [];
  for (const [px, py] of points) {
    const [x, y, z] = turnVector(rotation, [px, py, 0]);
    const depth = z + position[2];
    if (!(depth > 1e-9)) return null;
    out.push([cx + (focal * (x + position[0])) / depth, cy + (focal * (y + position[1])) / depth]);
  }
  return out;
}

/** The corners of the surface in the picture, or null. */
export function cornersOfPose(pose: PlanePose, camera: SurfaceCamera): Quad | null {
  return project(pose, camera, surfaceCorners(camera.ratio)) as Quad | null;
}

/**
 * The poses that a quad may be seen from, the one that fits best first. A plane seen weakly in perspective has two that fit almost alike,
 * leaning to opposite sides; both are returned. None where three corners lie on a line.
 *
 * Source: Z. Zhang, A flexible new technique for camera calibration, PAMI 22(11), 2000, §3.1 (pose from a plane's homography), then the least
 * squares of what is left in the picture; the second pose: G. Schweighofer, A. Pinz, Robust pose estimation from a planar target, PAMI 28(12), 2006.
 */
export function posesOfQuad(corners: Quad, camera: SurfaceCamera): FittedPose[] {
  const plane = surfaceCorners(camera.ratio);
  const h = homographyBetweenQuads(plane, corners);
  const first = h && poseFromHomography(h, camera);
  if (!first) return [];
  const fitted = [
    refinePose(first, plane, corners, camera),
    refinePose(leaningTheOtherWay(first), plane, corners, camera),
  ].filter((f): f is FittedPose => f !== null);
  const [a, b] = fitted;
  if (a && b && poseDistance(a.pose, b.pose) < 1e-4) fitted.pop();
  return fitted.sort((p, q) => p.rms - q.rms);
}

/** The pose that fits a quad, of the two where there are two the one that the map of its plane gives; null where there is none. */
export function poseOfQuad(corners: Quad, camera: SurfaceCamera): FittedPose | null {
  const plane = surfaceCorners(camera.ratio);
  const h = homographyBetweenQuads(plane, corners);
  const first = h && poseFromHomography(h, camera);
  return first && refinePose(first, plane, corners, camera);
}

/** The pose that a map of the surface's plane to the picture comes from, were it exact; null where it is none. */
export function poseFromHomography(h: Homography, { focal, cx, cy }: SurfaceCamera): PlanePose | null {
  const column = (k: number): Vector3 => [
    (h[k]! - cx * h[6 + k]!) / focal,
    (h[3 + k]! - cy * h[6 + k]!) / focal,
    h[6 + k]!,
  ];
  const first = column(0);
  const second = column(1);
  const third = column(2);
  const size = Math.sqrt(Math.hypot(...first) * Math.hypot(...second));
  const scale = Math.sign(third[2]) / size;
  if (!Number.isFinite(scale) || scale === 0) return null;
  // The pair of axes at right angles and of length 1 that is nearest to the two columns.
  const sum = first.map((v, i) => scale * (v + second[i]!)) as [number, number, number];
  const difference = first.map((v, i) => scale * (v - second[i]!)) as [number, number, number];
  const p = unit(sum);
  const along = difference[0] * p[0] + difference[1] * p[1] + difference[2] * p[2];
  const q = unit([difference[0] - along * p[0], difference[1] - along * p[1], difference[2] - along * p[2]]);
  const x = p.map((v, i) => (v + q[i]!) / Math.SQRT2);
  const y = p.map((v, i) => (v - q[i]!) / Math.SQRT2);
  const z = [x[1]! * y[2]! - x[2]! * y[1]!, x[2]! * y[0]! - x[0]! * y[2]!, x[0]! * y[1]! - x[1]! * y[0]!];
  const rotation = [x[0]!, y[0]!, z[0]!, x[1]!, y[1]!, z[1]!, x[2]!, y[2]!, z[2]!];
  return rotation.every(Number.isFinite)
    ? { rotation, position: [scale * third[0], scale * third[1], scale * third[2]] }
    : null;
}

const ROUNDS = 25;
const SMALLEST_GAIN = 1e-12;

/**
 * The pose near `start` from which points of the surface (at least three) are seen where they are, by damped least squares of the distances in
 * the picture. `weights` (one a point, 1 unless given) count the points. Null where none is in front of the camera.
 */
export function refinePose(
  start: PlanePose,
  plane: readonly Point[],
  seen: readonly Point[],
  camera: SurfaceCamera,
  weights?: readonly number[],
): FittedPose | null {
  if (plane.length < 3 || plane.length !== seen.length)
    throw new RangeError(
      `a pose needs three points or more, and as many where they are seen; got ${plane.length} and ${seen.length}`,
    );
  let pose = start;
  let cost = costOf(pose, plane, seen, camera, weights);
  const damping = new Damping({ grow: 8, fall: 3.75, least: 0, attempts: 8 });
  if (!Number.isFinite(cost)) return null;
  const normal = new Float64Array(36);
  const damped = new Float64Array(36);
  const right = new Float64Array(6);
  const step = new Float64Array(6);
  const row = new Float64Array(6);
  for (let round = 0; round < ROUNDS; round++) {
    normal.fill(0);
    right.fill(0);
    plane.forEach(([px, py], i) => {
      const [rx, ry, rz] = turnVector(pose.rotation, [px, py, 0]);
      const x = rx + pose.position[0];
      const y = ry + pose.position[1];
      const z = rz + pose.position[2];
      const f = camera.focal / z;
      const weight = weights?.[i] ?? 1;
      const add = (across: readonly [number, number, number], residual: number) => {
        // d(point)/d(turn) = −[R·X]×
        row[0] = f * (across[2] * ry - across[1] * rz);
        row[1] = f * (across[0] * rz - across[2] * rx);
        row[2] = f * (across[1] * rx - across[0] * ry);
        for (let k = 0; k < 3; k++) row[3 + k] = f * across[k]!;
        for (let a = 0; a < 6; a++) {
          right[a]! += weight * row[a]! * residual;
          for (let b = 0; b < 6; b++) normal[6 * a + b]! += weight * row[a]! * row[b]!;
        }
      };
      add([1, 0, -x / z], seen[i]![0] - camera.cx - f * x);
      add([0, 1, -y / z], seen[i]![1] - camera.cy - f * y);
    });
    let better = false;
    damping.untilBetter((share) => {
      dampDiagonal(normal, damped, 6, share, 1e-12);
      if (!solveCholesky(damped, right, step, 6)) return false;
      const next: PlanePose = {
        rotation: turnedBy(rotationFromVector([step[0]!, step[1]!, step[2]!]), pose.rotation),
        position: [pose.position[0] + step[3]!, pose.position[1] + step[4]!, pose.position[2] + step[5]!],
      };
      const now = costOf(next, plane, seen, camera, weights);
      if (!(now <= cost)) return false;
      better = cost - now > SMALLEST_GAIN * (1 + cost);
      pose = next;
      cost = now;
      return true;
    });
    if (!better) break;
  }
  const total = weights ? weights.reduce((a, b) => a + b, 0) : plane.length;
  return { pose, rms: Math.sqrt(cost / Math.max(1e-12, total)) };
}

function costOf(
  pose: PlanePose,
  plane: readonly Point[],
  seen: readonly Point[],
  camera: SurfaceCamera,
  weights?: readonly number[],
): number {
  const at = project(pose, camera, plane);
  return at
    ? at.reduce((sum, [x, y], i) => sum + (weights?.[i] ?? 1) * ((x - seen[i]![0]) ** 2 + (y - seen[i]![1]) ** 2), 0)
    : Infinity;
}

/** The surface leaning to the other side of the line of sight. */
function leaningTheOtherWay({ rotation, position }: PlanePose): PlanePose {
  const normal: Vector3 = [rotation[2]!, rotation[5]!, rotation[8]!];
  const sight = unit(position);
  const along = normal[0] * sight[0] + normal[1] * sight[1] + normal[2] * sight[2];
  const axis: Vector3 = [
    normal[1] * sight[2] - normal[2] * sight[1],
    normal[2] * sight[0] - normal[0] * sight[2],
    normal[0] * sight[1] - normal[1] * sight[0],
  ];
  const sin = Math.hypot(...axis);
  if (sin < 1e-9) return { rotation, position };
  // The normal is led past the line of sight by as much as it was before it, or, seen from behind, past the line away from it.
  const angle = 2 * Math.atan2(sin, Math.abs(along)) * (along < 0 ? -1 : 1);
  return {
    rotation: turnedBy(
      rotationFromVector([(axis[0] / sin) * angle, (axis[1] / sin) * angle, (axis[2] / sin) * angle]),
      rotation,
    ),
    position,
  };
}

/** How far two poses are apart: radians of turn, and places in surface heights. */
function poseDistance(a: PlanePose, b: PlanePose): number {
  return (
    Math.hypot(...a.rotation.map((v, i) => v - b.rotation[i]!)) +
    Math.hypot(...a.position.map((v, i) => v - b.position[i]!))
  );
}

function unit([x, y, z]: Vector3): Vector3 {
  const length = Math.hypot(x, y, z);
  return [x / length, y / length, z / length];
}
