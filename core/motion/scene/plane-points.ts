import { MAD_TO_DEVIATION, upperMedian } from '../../base/image/statistics.ts';
import type { Point } from '../../base/geometry/homography.ts';
import { contains } from '../../base/geometry/polygon.ts';
import { solveCholesky } from '../../base/geometry/linear-solve.ts';
import type { Vector3 } from '../pose/rotation.ts';
import { filmedAt } from './scene-plane.ts';
import type { Scene } from './scene.ts';
import { inCamera } from './camera-frames.ts';

/** Places of a plane as a camera sees them: the inverse of the depth is linear in the ray. */
interface Depth {
  readonly x: number;
  readonly y: number;
  readonly inverse: number;
}

const TRIES = 120;
const LEAST = 3;

/** Inverse depths of the scene's points, from a frame's camera, with where they are filmed. */
export function depthsFrom(scene: Scene, frame: number): (Depth & { at: Point })[] {
  const camera = scene.frames.find((f) => f.frame === frame)?.camera;
  return camera
    ? scene.points.flatMap(({ at }) => {
        const [x, y, z] = inCamera(camera, at);
        const seen = filmedAt(scene, camera, [x, y, z]);
        return seen ? [{ x: x / z, y: y / z, inverse: 1 / z, at: seen }] : [];
      })
    : [];
}

/**
 * The plane through points of the scene that are filmed inside an outline, those that are not of it left out (least median of squares:
 * P. Rousseeuw, 1984); null where fewer than three, or all on a line. `random` 0…1.
 */
export function planeThroughPoints(
  scene: Scene,
  frame: number,
  outline: readonly Point[],
  random: () => number,
): { normal: Vector3; points: number } | null {
  const depths = depthsFrom(scene, frame).filter(({ at }) => contains(outline, at[0], at[1]));
  if (depths.length < LEAST) return null;
  let best: Vector3 | null = null;
  let least = Infinity;
  for (let k = 0; k < TRIES; k++) {
    const three = [0, 1, 2].map(() => depths[Math.floor(random() * depths.length)]!);
    const n = fit(three);
    if (!n) continue;
    const off = upperMedian(depths.map((d) => Math.abs(n[0] * d.x + n[1] * d.y + n[2] - d.inverse)));
    if (off < least) [best, least] = [n, off];
  }
  if (!best) return null;
  const chosen = best;
  const spread = Math.max(1e-9, MAD_TO_DEVIATION * least);
  const kept = depths.filter((d) => Math.abs(chosen[0] * d.x + chosen[1] * d.y + chosen[2] - d.inverse) < 2.5 * spread);
  const n = fit(kept);
  return { normal: n ?? chosen, points: kept.length };
}

function fit(depths: readonly Depth[]): Vector3 | null {
  const a = new Float64Array(9);
  const b = new Float64Array(3);
  const n = new Float64Array(3);
  for (const { x, y, inverse } of depths)
    [x, y, 1].forEach((v, i) => {
      b[i]! += v * inverse;
      [x, y, 1].forEach((w, k) => {
        a[3 * i + k]! += v * w;
      });
    });
  return solveCholesky(a, b, n, 3) ? [n[0]!, n[1]!, n[2]!] : null;
}
