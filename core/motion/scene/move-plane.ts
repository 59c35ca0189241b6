import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { solveCholesky } from '../../base/geometry/linear-solve.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import type { Vector3 } from '../pose/rotation.ts';
import { alongRay, between, closenessOf, filmedAt, rayOf, type ScenePlane } from './scene-plane.ts';
import type { Scene } from './scene.ts';

/** How much more a dragged corner counts than the three others, which are to stay as near as they were. */
const DRAGGED = 1e4;
const STEPS = 40;

/**
 * The plane with which a corner (0…3, given on the plane's own frame) is seen where it is dragged to on another frame: as near to the place as its ray
 * passes there, the other corners' depths changed as little as may be. Null where that frame has no camera, or the camera has not moved between them.
 */
export function planeThroughDrag(
  scene: Scene,
  plane: ScenePlane,
  corners: Quad,
  corner: number,
  frame: number,
  to: Point,
): ScenePlane | null {
  const home = scene.frames.find((f) => f.frame === plane.frame);
  const on = scene.frames.find((f) => f.frame === frame);
  if (!home || !on) return null;
  const way = between(home.camera, on.camera);
  const rays = corners.map((c) => rayOf(scene, home.camera, c));
  const ray = rays[corner]!;
  const now = closenessOf(plane.normal, ray);
  const off = (closeness: number) => {
    const at = filmedAt(scene, on.camera, alongRay(way, ray, closeness));
    return at ? Math.hypot(at[0] - to[0], at[1] - to[1]) : Infinity;
  };
  // The corner moves along a line as its depth changes: the nearest place on it, by golden sections of the closeness.
  let low = now / 4;
  let high = now * 4;
  if (!(Math.abs(off(low) - off(high)) > 1e-6) && !(Math.abs(off(now) - off(high)) > 1e-6)) return null;
  const golden = (Math.sqrt(5) - 1) / 2;
  for (let k = 0; k < STEPS; k++) {
    const a = high - golden * (high - low);
    const b = low + golden * (high - low);
    if (off(a) < off(b)) high = b;
    else low = a;
  }
  const wanted = rays.map((r, i) => (i === corner ? (low + high) / 2 : closenessOf(plane.normal, r)));
  return through(
    plane,
    rays,
    wanted,
    rays.map((_, i) => (i === corner ? DRAGGED : 1)),
  );
}

/** The plane at a depth times as far. */
export function planeAtDistance(plane: ScenePlane, times: number): ScenePlane {
  return {
    ...plane,
    normal: mapTuple(plane.normal, (v) => v / times),
    covariance: plane.covariance.map((v) => v / times ** 2),
  };
}

/** The plane turned about its middle, as seen from its frame: its right side and its lower side so many degrees farther away. */
export function planeTurned(
  scene: Scene,
  plane: ScenePlane,
  corners: Quad,
  right: number,
  down: number,
): ScenePlane | null {
  const home = scene.frames.find((f) => f.frame === plane.frame);
  if (!home) return null;
  const rays = corners.map((c) => rayOf(scene, home.camera, c));
  const middle = [0, 1].map((k) => rays.reduce((s, r) => s + r[k]!, 0) / 4) as [number, number];
  const closeness = closenessOf(plane.normal, [middle[0], middle[1], 1]);
  const [ax, ay] = [right, down].map((degrees) => (degrees * Math.PI) / 180) as [number, number];
  const [x, y, z] = plane.normal;
  const cx = Math.cos(ax);
  const sx = Math.sin(ax);
  const cy = Math.cos(ay);
  const sy = Math.sin(ay);
  // A right side that is farther away: the normal, which points away, leans to the left.
  const x1 = cx * x - sx * z;
  const z1 = sx * x + cx * z;
  const y2 = cy * y - sy * z1;
  const z2 = sy * y + cy * z1;
  const there = x1 * middle[0] + y2 * middle[1] + z2;
  if (!(Math.abs(there) > 1e-9) || Math.sign(there) !== Math.sign(closeness)) return null;
  const size = closeness / there;
  return { ...plane, normal: [x1 * size, y2 * size, z2 * size] };
}

function through(
  plane: ScenePlane,
  rays: readonly Vector3[],
  closeness: readonly number[],
  weights: readonly number[],
): ScenePlane | null {
  const a = new Float64Array(9);
  const b = new Float64Array(3);
  const n = new Float64Array(3);
  rays.forEach((ray, i) =>
    ray.forEach((v, r) => {
      b[r]! += weights[i]! * v * closeness[i]!;
      ray.forEach((w, c) => {
        a[3 * r + c]! += weights[i]! * v * w;
      });
    }),
  );
  return solveCholesky(a, b, n, 3) ? { ...plane, normal: [n[0]!, n[1]!, n[2]!] } : null;
}
