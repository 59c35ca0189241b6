import { allThere, mapTuple } from '../../base/geometry/map-tuple.ts';
import type { Point } from '../../base/geometry/homography.ts';
import type { Quad } from '../../base/geometry/quad.ts';
import { bend, straighten, type Lens } from '../lens/lens.ts';
import type { Vector3 } from '../pose/rotation.ts';
import type { CameraState } from './scene-camera.ts';
import type { Scene, SceneFrame } from './scene.ts';
import { filmedCorners, standingCorners, type RollingRows } from './rolling-shutter.ts';
import { inCamera, inWorld } from './camera-frames.ts';

/** A plane in space by what it is from one frame's camera: points X in that camera's axes with n·X = 1. */
export interface ScenePlane {
  readonly frame: number;
  readonly normal: Vector3;
  /** Of n, row-major 3×3; zero where the camera only turns, since there depth does not matter. */
  readonly covariance: readonly number[];
}

/** The lens of a scene at a focal length. */
export function lensOf({ k1, k2, centre }: Pick<Scene, 'k1' | 'k2' | 'centre'>, focal: number): Lens {
  return { k1, k2, k3: 0, centre, focal };
}

/** The ray of a filmed point: (x, y, 1) in the camera's axes. */
export function rayOf(scene: Pick<Scene, 'k1' | 'k2' | 'centre'>, camera: CameraState, at: Point): Vector3 {
  const lens = lensOf(scene, camera.focal);
  const [x, y] = scene.k1 === 0 && scene.k2 === 0 ? at : straighten(lens, at);
  return [(x - scene.centre[0]) / camera.focal, (y - scene.centre[1]) / camera.focal, 1];
}

/** Where a point in a camera's axes is filmed; null behind it. */
export function filmedAt(
  scene: Pick<Scene, 'k1' | 'k2' | 'centre'>,
  camera: CameraState,
  [x, y, z]: Vector3,
): [number, number] | null {
  if (!(z > 1e-9)) return null;
  const at: Point = [scene.centre[0] + (camera.focal * x) / z, scene.centre[1] + (camera.focal * y) / z];
  return scene.k1 === 0 && scene.k2 === 0 ? [at[0], at[1]] : bend(lensOf(scene, camera.focal), at);
}

/** From one camera's axes to another's. */
export interface Between {
  readonly turn: readonly number[];
  readonly shift: Vector3;
}

export function between(from: CameraState, to: CameraState): Between {
  const column = (v: Vector3) => {
    const w = inWorld(from, v);
    const a = inCamera(to, w);
    return [a[0] - to.position[0], a[1] - to.position[1], a[2] - to.position[2]];
  };
  const [a, b, c] = [column([1, 0, 0]), column([0, 1, 0]), column([0, 0, 1])];
  const home = inWorld(from, [-from.position[0], -from.position[1], -from.position[2]]);
  return { turn: [a[0]!, b[0]!, c[0]!, a[1]!, b[1]!, c[1]!, a[2]!, b[2]!, c[2]!], shift: inCamera(to, home) };
}

/** A point of the plane along a ray (x, y, 1), in another camera's axes, up to scale: turn·ray + shift·(n·ray). */
export function alongRay(
  { turn: r, shift: t }: Between,
  [x, y, z]: Vector3,
  closeness: number,
): [number, number, number] {
  return [
    r[0]! * x + r[1]! * y + r[2]! * z + t[0] * closeness,
    r[3]! * x + r[4]! * y + r[5]! * z + t[1] * closeness,
    r[6]! * x + r[7]! * y + r[8]! * z + t[2] * closeness,
  ];
}

export const closenessOf = (normal: Vector3, ray: Vector3) =>
  normal[0] * ray[0] + normal[1] * ray[1] + normal[2] * ray[2];

/** Corners given on the plane's frame as they are filmed there, as they are filmed on another frame of the scene; null where one is behind the camera. */
export function cornersOnFrame(scene: Scene, plane: ScenePlane, corners: Quad, on: SceneFrame): Quad | null {
  const home = frameOf(scene, plane.frame);
  if (!home) return null;
  if (!scene.rows) return carried(scene, home, plane, corners, on);
  if (on.frame === home.frame) return corners;
  const { rows } = scene;
  const standing = standingAtHome(scene, rows, home, plane, corners);
  const now = carried(scene, home, plane, standing, on);
  return (
    now &&
    filmedCorners(
      rows,
      onFrame(scene, home, plane, standing, on.frame - 1),
      now,
      onFrame(scene, home, plane, standing, on.frame + 1),
    )
  );
}

/** The same where a camera would see them on that frame that reads all its rows at once. */
export function standingOnFrame(scene: Scene, plane: ScenePlane, corners: Quad, on: SceneFrame): Quad | null {
  const home = frameOf(scene, plane.frame);
  return (
    home &&
    carried(scene, home, plane, scene.rows ? standingAtHome(scene, scene.rows, home, plane, corners) : corners, on)
  );
}

function standingAtHome(scene: Scene, rows: RollingRows, home: SceneFrame, plane: ScenePlane, corners: Quad): Quad {
  return standingCorners(rows, corners, (now) => ({
    before: onFrame(scene, home, plane, now, home.frame - 1),
    after: onFrame(scene, home, plane, now, home.frame + 1),
  }));
}

function onFrame(scene: Scene, home: SceneFrame, plane: ScenePlane, standing: Quad, frame: number): Quad | null {
  const there = frameOf(scene, frame);
  return there && carried(scene, home, plane, standing, there);
}

const frameOf = (scene: Scene, frame: number) => scene.frames.find((f) => f.frame === frame) ?? null;

/** The same where all rows are read at once. */
export function carried(
  scene: Pick<Scene, 'k1' | 'k2' | 'centre'>,
  home: SceneFrame,
  plane: ScenePlane,
  corners: Quad,
  on: SceneFrame,
): Quad | null {
  const way = between(home.camera, on.camera);
  const out = mapTuple(corners, (c) => {
    const ray = rayOf(scene, home.camera, c);
    return filmedAt(scene, on.camera, alongRay(way, ray, closenessOf(plane.normal, ray)));
  });
  return allThere(out);
}

/** A plane as another frame's camera has it; null where that frame has none, or the plane goes through it. */
export function planeSeenFrom(scene: Scene, plane: ScenePlane, frame: number): ScenePlane | null {
  if (frame === plane.frame) return plane;
  const home = scene.frames.find((f) => f.frame === plane.frame);
  const there = scene.frames.find((f) => f.frame === frame);
  if (!home || !there) return null;
  // X = turnᵀ·(X′ − shift), so that n·X = 1 becomes (turn·n)·X′ = 1 + (turn·n)·shift.
  const { turn: r, shift: t } = between(home.camera, there.camera);
  const { normal: n } = plane;
  const turned = [0, 3, 6].map((k) => r[k]! * n[0] + r[k + 1]! * n[1] + r[k + 2]! * n[2]) as [number, number, number];
  const size = 1 + turned[0] * t[0] + turned[1] * t[1] + turned[2] * t[2];
  if (!(Math.abs(size) > 1e-9)) return null;
  // To first order in what is uncertain: n′ = turn·n / size.
  const slopes = [0, 1, 2].map((i) =>
    [0, 1, 2].map(
      (k) => (r[3 * i + k]! - (turned[i]! * (r[k]! * t[0] + r[3 + k]! * t[1] + r[6 + k]! * t[2])) / size) / size,
    ),
  );
  const covariance = [0, 1, 2].flatMap((i) =>
    [0, 1, 2].map((j) =>
      slopes[i]!.reduce(
        (s, a, k) => s + slopes[j]!.reduce((q, b, m) => q + a * b * (plane.covariance[3 * k + m] ?? 0), 0),
        0,
      ),
    ),
  );
  return { frame, normal: [turned[0] / size, turned[1] / size, turned[2] / size], covariance };
}
