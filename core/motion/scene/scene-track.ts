import { mapTuple } from '../../base/geometry/map-tuple.ts';
import type { Certainty } from '../follow/certainty.ts';
import type { TrackedFrame } from '../follow/tracked-frame.ts';
import { homographyBetweenQuads } from '../../base/geometry/estimate-homography.ts';
import {
  applyToPoint,
  compose,
  IDENTITY,
  invert,
  jacobianAt,
  scaling,
  translation,
  type Homography,
} from '../../base/geometry/homography.ts';
import { warpDerivatives } from '../../base/geometry/motion-model.ts';
import { bounds, type Quad } from '../../base/geometry/quad.ts';
import { rotationFromVector, turnedBy } from '../pose/rotation.ts';
import type { CameraState } from './scene-camera.ts';
import { carried, cornersOnFrame, type ScenePlane } from './scene-plane.ts';
import type { Scene, SceneFrame } from './scene.ts';

/** Fewest static points; between this and so many more the confidence grows. */
const FEWEST = 8;
const PLENTY = 40;
/**
 * Systematic errors of cameras, as a share of what one frame's own points leave open: neighbouring frames share their points. Where the
 * lens zooms, focal length and distance make up for each other over the whole shot, which no frame's own points tell (measured on generated zooms, bench/scene).
 */
const SHARED = 2;
const SHARED_ZOOM = 6;

/**
 * The track of a plane of the scene: where its corners are on every frame, and how sure that is, from what the cameras of both frames and the plane's
 * depth leave open. Frames without a camera are lost.
 */
export function motionOfPlane(
  scene: Scene,
  plane: ScenePlane,
  corners: Quad,
  [first, last]: readonly [number, number],
): TrackedFrame[] {
  const byFrame = new Map(scene.frames.map((f) => [f.frame, f]));
  const home = byFrame.get(plane.frame);
  return Array.from({ length: last - first + 1 }, (_, i): TrackedFrame => {
    const frame = first + i;
    const on = byFrame.get(frame);
    if (frame === plane.frame) return { frame, homography: IDENTITY, error: 0, confidence: 1 };
    const quad = on && cornersOnFrame(scene, plane, corners, on);
    const homography = quad && homographyBetweenQuads(corners, quad);
    if (!home || !on || !quad || !homography)
      return {
        frame,
        homography: null,
        error: 0,
        confidence: 0,
        lost: on ? 'the plane is not in front of the camera' : 'fewer than eight still points are seen',
      };
    const certainty = certaintyOf(scene, plane, corners, home, on, homography);
    return {
      frame,
      homography,
      error: on.rms,
      confidence: Math.min(1, on.holds / PLENTY) * (on.holds < FEWEST ? 0 : 1),
      ...(certainty ? { certainty } : {}),
    };
  });
}

/** The covariance of the eight coordinates of the corners, as one of a perspective warp's parameters. */
function certaintyOf(
  scene: Scene,
  plane: ScenePlane,
  corners: Quad,
  home: SceneFrame,
  on: SceneFrame,
  homography: Homography,
): Certainty | null {
  const spread = new Float64Array(64);
  const variance = ((scene.zooms ? SHARED_ZOOM : SHARED) * Math.max(0.05, scene.sigma)) ** 2;
  // How rows are read moves what is uncertain hardly at all.
  const at = (p: ScenePlane, h: SceneFrame, o: SceneFrame) => carried(scene, h, p, corners, o)?.flat() ?? null;
  const base = at(plane, home, on);
  if (!base) return null;
  const slopesOf = (moved: (k: number, by: number) => number[] | null, count: number, step: (k: number) => number) =>
    Array.from({ length: count }, (_, k) => {
      const h = step(k);
      const there = moved(k, h);
      return there ? there.map((v, i) => (v - base[i]!) / h) : base.map(() => 0);
    });
  const addUp = (slopes: readonly number[][], covariance: ArrayLike<number>, factor: number) => {
    const n = slopes.length;
    for (let a = 0; a < n; a++)
      for (let b = 0; b < n; b++) {
        const c = factor * covariance[a * n + b]!;
        if (!Number.isFinite(c) || c === 0) continue;
        for (let i = 0; i < 8; i++)
          for (let k = 0; k < 8; k++) spread[8 * i + k]! += c * slopes[a]![i]! * slopes[b]![k]!;
      }
  };
  const size = Math.hypot(...plane.normal);
  addUp(
    slopesOf(
      (k, by) => at({ ...plane, normal: mapTuple(plane.normal, (v, i) => v + (i === k ? by : 0)) }, home, on),
      3,
      () => 1e-5 * size,
    ),
    plane.covariance,
    1,
  );
  for (const which of [home, on])
    addUp(
      slopesOf(
        (k, by) => {
          const moved = { ...which, camera: nudged(which.camera, k, by) };
          return at(plane, which === home ? moved : home, which === on ? moved : on);
        },
        7,
        () => 1e-6,
      ),
      which.covariance,
      variance,
    );
  return certaintyFromCorners(spread, corners, homography);
}

function nudged(camera: CameraState, k: number, by: number): CameraState {
  const turn = [0, 1, 2].map((i) => (i === k ? by : 0)) as [number, number, number];
  return {
    rotation: k < 3 ? turnedBy(rotationFromVector(turn), camera.rotation) : camera.rotation,
    position: mapTuple(camera.position, (v, i) => v + (i + 3 === k ? by : 0)),
    focal: k === 6 ? camera.focal * Math.exp(by) : camera.focal,
  };
}

/** A certainty whose bounds at the corners are those of the covariance of their eight coordinates. Null where the corners fix no map. */
export function certaintyFromCorners(spread: Float64Array, corners: Quad, homography: Homography): Certainty | null {
  const box = bounds(corners);
  const scale = 2 / Math.max(1, box.right - box.left, box.bottom - box.top);
  const toUnit = compose(scaling(scale), translation(-(box.left + box.right) / 2, -(box.top + box.bottom) / 2));
  const back = compose(homography, invert(toUnit)!);
  const rows: number[][] = [];
  const du = new Float64Array(8);
  const dv = new Float64Array(8);
  for (const corner of corners) {
    const [x, y] = applyToPoint(toUnit, corner);
    const [a, b, c, d] = jacobianAt(back, [x, y]);
    warpDerivatives('perspective', x, y, du, dv);
    rows.push(
      Array.from(du, (u, k) => a * u + b * dv[k]!),
      Array.from(du, (u, k) => c * u + d * dv[k]!),
    );
  }
  const inverse = inverted(rows);
  if (!inverse) return null;
  const half = inverse.map((row) =>
    Array.from({ length: 8 }, (_, k) => row.reduce((s, v, i) => s + v * spread[8 * i + k]!, 0)),
  );
  return {
    motion: 'perspective',
    toUnit,
    covariance: half.flatMap((row) => inverse.map((other) => row.reduce((s, v, i) => s + v * other[i]!, 0))),
  };
}

/** By Gauss and Jordan with pivots. */
function inverted(rows: readonly number[][]): number[][] | null {
  const n = rows.length;
  const a = rows.map((row, i) => [...row, ...row.map((_, k) => (k === i ? 1 : 0))]);
  for (let k = 0; k < n; k++) {
    let pivot = k;
    for (let i = k + 1; i < n; i++) if (Math.abs(a[i]![k]!) > Math.abs(a[pivot]![k]!)) pivot = i;
    if (!(Math.abs(a[pivot]![k]!) > 1e-10)) return null;
    [a[k], a[pivot]] = [a[pivot]!, a[k]!];
    const d = a[k]![k]!;
    a[k] = a[k]!.map((v) => v / d);
    for (let i = 0; i < n; i++)
      if (i !== k && a[i]![k] !== 0) {
        const f = a[i]![k]!;
        a[i] = a[i]!.map((v, j) => v - f * a[k]![j]!);
      }
  }
  return a.map((row) => row.slice(n));
}
