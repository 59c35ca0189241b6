import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import type { Vector3 } from '../pose/rotation.ts';
import { randomFrom } from './seeded-random.ts';
import type { Scene } from './scene.ts';
import { placeInWorld } from './camera-frames.ts';

/** A plane of the scene: points X with up·X = height. */
export interface GroundPlane {
  readonly up: Vector3;
  readonly height: number;
  /** The middle of the points that lie on it, and how far they reach from there. */
  readonly middle: Vector3;
  readonly reach: number;
  readonly points: number;
}

/** Tries of three points each. */
const TRIES = 400;
/** A ground may lean so far from what the cameras hold level (cosine), and points lie on it within this share of their distance from the camera. */
const LEANS = Math.cos((40 * Math.PI) / 180);
const ON = 0.012;
/** It holds at least so many points, and this share of all; no more than this share lies under it. */
const FEWEST = 12;
const SHARE = 0.08;
const UNDER = 0.1;

const dot = (a: readonly number[], b: readonly number[]) => a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;

/**
 * The plane that most things stand on: nearly level as the cameras are held, with many points on it and few under it. Null where there is none, and where the camera only turned, so that nothing has a depth.
 * Source: M. Fischler, R. Bolles, Random sample consensus, CACM 24(6), 1981; then least squares of the distances.
 */
export function groundPlane({
  motion,
  frames,
  points,
}: Pick<Scene, 'motion' | 'frames' | 'points'>): GroundPlane | null {
  if (motion !== 'walks' || points.length < FEWEST || frames.length === 0) return null;
  // Down is y of the cameras, in the mean.
  const down = mapTuple([0, 1, 2], (k) => frames.reduce((sum, { camera }) => sum + camera.rotation[3 + k]!, 0));
  const length = Math.hypot(...down);
  const level = mapTuple(down, (v) => -v / length);
  const random = randomFrom(1);
  const homes = frames.map(({ camera }) => placeInWorld(camera, [0, 0, 0]));
  const home = [0, 1, 2].map((k) => homes.reduce((s, h) => s + h[k]!, 0) / homes.length);
  const near = points.map(({ at }) => ON * Math.hypot(at[0] - home[0]!, at[1] - home[1]!, at[2] - home[2]!));
  let best: { up: Vector3; height: number; on: number[] } | null = null;
  for (let k = 0; k < TRIES; k++) {
    const [a, b, c] = [0, 1, 2].map(() => points[Math.floor(random() * points.length)]!.at) as [
      Vector3,
      Vector3,
      Vector3,
    ];
    const u = [0, 1, 2].map((i) => b[i]! - a[i]!);
    const v = [0, 1, 2].map((i) => c[i]! - a[i]!);
    const n: Vector3 = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!];
    const size = Math.hypot(...n);
    if (!(size > 1e-12)) continue;
    const sign = dot(n, level) > 0 ? 1 : -1;
    const up = mapTuple(n, (w) => (sign * w) / size);
    if (dot(up, level) < LEANS) continue;
    const height = dot(up, a);
    const on: number[] = [];
    let under = 0;
    points.forEach(({ at }, i) => {
      const off = dot(up, at) - height;
      if (Math.abs(off) <= near[i]!) on.push(i);
      else if (off < 0) under++;
    });
    if (under <= UNDER * points.length && on.length > (best?.on.length ?? 0)) best = { up, height, on };
  }
  return best && best.on.length >= Math.max(FEWEST, SHARE * points.length)
    ? fitted(
        best.on.map((i) => points[i]!.at),
        level,
      )
    : null;
}

/** The plane of least squares through points, and where they are. */
function fitted(points: readonly Vector3[], level: Vector3): GroundPlane {
  const n = points.length;
  const middle = mapTuple([0, 1, 2], (k) => points.reduce((s, p) => s + p[k], 0) / n);
  const spread = Matrix.zeros(3, 3);
  for (const p of points)
    for (let i = 0; i < 3; i++)
      for (let j = 0; j < 3; j++) spread.set(i, j, spread.get(i, j) + (p[i]! - middle[i]!) * (p[j]! - middle[j]!));
  // The direction in which they spread least; eigenvalues come in ascending order.
  const { eigenvectorMatrix } = new EigenvalueDecomposition(spread, { assumeSymmetric: true });
  const normal = mapTuple([0, 1, 2], (k) => eigenvectorMatrix.get(k, 0));
  const sign = dot(normal, level) > 0 ? 1 : -1;
  const up = mapTuple(normal, (v) => sign * v);
  return {
    up,
    height: dot(up, middle),
    middle,
    reach: Math.max(...points.map((p) => Math.hypot(p[0] - middle[0], p[1] - middle[1], p[2] - middle[2]))),
    points: n,
  };
}
