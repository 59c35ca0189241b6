import { clamp } from '../../base/geometry/clamp.ts';
import { upperMedian } from '../../base/image/statistics.ts';
import { dampDiagonal, Damping } from '../../base/geometry/damped-least-squares.ts';
import { factorCholesky, inverseOfFactor, solveCholesky } from '../../base/geometry/linear-solve.ts';
import { rotationFromVector, turnedBy } from '../pose/rotation.ts';
import { CAMERA_UNKNOWNS, projectWithSlopes, type CameraState, type Projected } from './scene-camera.ts';

/** Points that are known in the scene and seen on a frame, px from the picture's middle. */
export interface Seen {
  readonly points: Float64Array;
  readonly x: Float64Array;
  readonly y: Float64Array;
}

export interface ResectSettings {
  readonly k1: number;
  readonly k2: number;
  /** What a point is usually off, px. */
  readonly sigma: number;
  readonly turning: boolean;
  /** Whether the focal length of the frame is looked for, and how freely (standard deviation of its logarithm about where it starts). */
  readonly zoom?: number | undefined;
  readonly rounds?: number;
}

export interface Resected {
  readonly camera: CameraState;
  /** Points that are off by less than 3 σ. */
  readonly holds: number;
  /** Root mean square of what these are off, px. */
  readonly rms: number;
  /** Covariance of the camera's unknowns for observations of σ = 1 px, CAMERA_UNKNOWNS²; zero for what is held. */
  readonly covariance: Float64Array;
}

const P = CAMERA_UNKNOWNS;
const CAUCHY = 2.385;
const ROUNDS = 25;
const SETTLED = 1e-9;

/**
 * Where a camera is that sees known points, near `start`: damped least squares of the distances in the picture, those far off listened to less
 * (Cauchy's weights, narrowed from coarse to fine so that a start some way off still comes home). Null where fewer than four points are before the camera.
 */
export function resect(start: CameraState, { points, x, y }: Seen, settings: ResectSettings): Resected | null {
  const n = x.length;
  const p: Projected = {
    at: new Float64Array(2),
    camera: new Float64Array(2 * P),
    shared: new Float64Array(6),
    point: new Float64Array(6),
  };
  const { k1, k2, turning, zoom, rounds = ROUNDS } = settings;
  const normal = new Float64Array(P * P);
  const right = new Float64Array(P);
  const damped = new Float64Array(P * P);
  const step = new Float64Array(P);
  const far = new Float64Array(n);
  const distances = (camera: CameraState): number => {
    let inFront = 0;
    for (let i = 0; i < n; i++) {
      const seen = projectWithSlopes(camera, k1, k2, points, 3 * i, p);
      far[i] = seen ? Math.hypot(x[i]! - p.at[0]!, y[i]! - p.at[1]!) : Infinity;
      if (seen) inFront++;
    }
    return inFront;
  };
  if (distances(start) < 4) return null;
  const middle = upperMedian(far);
  let camera = start;
  let width = Math.max(settings.sigma, Math.min(60, Number.isFinite(middle) ? middle : 60));
  const held = [...(turning ? [3, 4, 5] : []), ...(zoom === undefined ? [6] : [])];
  const logStart = Math.log(start.focal);
  const cost = (at: CameraState, c2: number) => {
    distances(at);
    let sum = zoom === undefined ? 0 : ((Math.log(at.focal) - logStart) / zoom) ** 2 * settings.sigma ** 2;
    for (let i = 0; i < n; i++) sum += c2 * Math.log1p(Math.min(1e8, far[i]! ** 2) / c2);
    return sum;
  };
  const build = (c2: number) => {
    normal.fill(0);
    right.fill(0);
    for (let i = 0; i < n; i++) {
      if (!projectWithSlopes(camera, k1, k2, points, 3 * i, p)) continue;
      const ex = x[i]! - p.at[0]!;
      const ey = y[i]! - p.at[1]!;
      const weight = 1 / (1 + (ex * ex + ey * ey) / c2);
      for (let axis = 0; axis < 2; axis++) {
        const e = axis === 0 ? ex : ey;
        const at = axis * P;
        for (let r = 0; r < P; r++) {
          const g = weight * p.camera[at + r]!;
          right[r]! += g * e;
          for (let k = 0; k <= r; k++) normal[r * P + k]! += g * p.camera[at + k]!;
        }
      }
    }
    for (const k of held) {
      for (let r = 0; r < P; r++) normal[Math.max(k, r) * P + Math.min(k, r)] = r === k ? 1 : 0;
      right[k] = 0;
    }
    if (zoom !== undefined) {
      normal[6 * P + 6]! += settings.sigma ** 2 / zoom ** 2;
      right[6]! -= (settings.sigma ** 2 * (Math.log(camera.focal) - logStart)) / zoom ** 2;
    }
  };
  const damping = new Damping({ grow: 8, fall: 7.5, least: 1e-9, most: 1e6, attempts: 6 });
  for (let round = 0; round < rounds; round++) {
    const c2 = (CAUCHY * width) ** 2;
    build(c2);
    const before = cost(camera, c2);
    let gained = 0;
    damping.untilBetter((share) => {
      dampDiagonal(normal, damped, P, share);
      if (!solveCholesky(damped, right, step, P) || !step.every(Number.isFinite)) return false;
      const next: CameraState = {
        rotation: turnedBy(rotationFromVector([step[0]!, step[1]!, step[2]!]), camera.rotation),
        focal: camera.focal * Math.exp(clamp(step[6]!, -0.3, 0.3)),
        position: [camera.position[0] + step[3]!, camera.position[1] + step[4]!, camera.position[2] + step[5]!],
      };
      const now = cost(next, c2);
      if (!(now < before)) return false;
      gained = (before - now) / Math.max(1e-12, before);
      camera = next;
      return true;
    });
    if (width > settings.sigma && (gained < 0.05 || round % 2 === 1)) width = Math.max(settings.sigma, width / 2);
    else if (gained < SETTLED) break;
  }
  if (distances(camera) < 4) return null;
  let holds = 0;
  let sum = 0;
  for (let i = 0; i < n; i++)
    if (far[i]! < 3 * settings.sigma) {
      holds++;
      sum += far[i]! ** 2;
    }
  build((CAUCHY * settings.sigma) ** 2);
  return { camera, holds, rms: Math.sqrt(sum / Math.max(1, holds)), covariance: inverseOf(normal, held) };
}

/** NaN where the points leave the camera open; none of what is held. */
function inverseOf(normal: Float64Array, held: readonly number[]): Float64Array {
  const factor = normal.slice();
  if (!factorCholesky(factor, P)) return factor.fill(NaN);
  const out = inverseOfFactor(factor, P);
  for (const k of held) out[k * (P + 1)] = 0;
  return out;
}
