import { clamp } from '../../base/geometry/clamp.ts';
import { Damping } from '../../base/geometry/damped-least-squares.ts';
import { factorCholesky, inverseOfFactor, substitute } from '../../base/geometry/linear-solve.ts';
import { rotationFromVector, turnedBy } from '../pose/rotation.ts';
import { CAMERA_UNKNOWNS, projectWithSlopes, type CameraState, type Projected } from './scene-camera.ts';

/** Which of the lens's numbers are looked for besides the cameras' places. */
export interface BundleFreedom {
  /** The cameras only turn: their places stay, and points are directions. */
  readonly turning: boolean;
  /** The focal length is known; one for all frames; each frame's own. */
  readonly focal: 'known' | 'constant' | 'zoom';
  /** How many terms of the distortion: none, k1, k1 and k2. */
  readonly terms: 0 | 1 | 2;
  /** How far apart in time rows are read is looked for, too (`Bundle.rows`). */
  readonly rows?: boolean;
}

/** Cameras and points with where each point is seen by which camera; changed in place by `adjust`. */
export interface Bundle {
  /** By camera. */
  readonly cameras: CameraState[];
  /** Common to all cameras. */
  k1: number;
  k2: number;
  /** Three numbers a point. */
  readonly points: Float64Array;
  /** Observations sorted by point: those of point i are from `starts[i]` up to `starts[i + 1]`. */
  readonly starts: Int32Array;
  readonly camera: Int32Array;
  /** Seen at, px from the picture's middle. */
  readonly x: Float64Array;
  readonly y: Float64Array;
  /** Where rows are read one after the other: how far each observation goes with their time, px a unit; and by how many units they were moved. */
  readonly rows?: { readonly x: Float64Array; readonly y: Float64Array; time: number };
}

export interface BundleSettings {
  readonly freedom: BundleFreedom;
  /** What an observation is usually off, px: those that are off by much more are listened to less (Cauchy). */
  readonly sigma: number;
  readonly rounds: number;
  /** The focal length that pictures of this size usually have, px: what the shot does not tell stays near it. */
  readonly usualFocal: number;
  /** The camera that stays where it is. */
  readonly still?: number;
}

/** Shared unknowns, after the cameras': logarithm of the focal length, k1, k2; then, where it is looked for, the rows' time. */
const SHARED = 3;
const P = CAMERA_UNKNOWNS;
/** From this many σ on, Cauchy's weight is below a half. Source: P. Holland, R. Welsch, Robust regression using iteratively reweighted least squares, 1977. */
const CAUCHY = 2.385;
/** What lenses have, so that what the shot does not tell stays there; how the logarithm of the focal length changes from key frame to key frame, and how this change does. */
const USUAL_K1 = 0.2;
const USUAL_K2 = 0.2;
const FOCAL_OFF = 0.7;
const ZOOM_BEND = 0.05;
const SMALLEST_GAIN = 1e-7;

/** What came of an adjustment: root mean square of the distances (each as far as it is listened to), px. */
export interface Adjusted {
  readonly rms: number;
  readonly cost: number;
  readonly rounds: number;
}

/**
 * Bundle adjustment: cameras, points and lens together by damped least squares of the distances in the picture, the points eliminated block by block
 * (Schur's complement), so that what is solved is as large as the cameras only.
 * Source: B. Triggs, P. McLauchlan, R. Hartley, A. Fitzgibbon, Bundle adjustment — a modern synthesis, 2000, §6.1; weights by Cauchy.
 */
export function adjust(bundle: Bundle, settings: BundleSettings): Adjusted {
  const system = new ReducedSystem(bundle, settings);
  let cost = costOf(bundle, settings);
  const damping = new Damping({ grow: 6, least: 1e-9, most: 1e6, attempts: 7 });
  let round = 0;
  for (; round < settings.rounds; round++) {
    system.build();
    let gained = 0;
    damping.untilBetter((share) => {
      const before = stateOf(bundle);
      const now = system.solve(share) ? costOf(bundle, settings) : Infinity;
      if (!(now < cost)) {
        restore(bundle, before);
        return false;
      }
      gained = (cost - now) / cost;
      cost = now;
      return true;
    });
    if (gained < SMALLEST_GAIN) break;
  }
  return { rms: rmsOf(bundle, settings.sigma), cost, rounds: round };
}

/** How uncertain the cameras are: covariances (unit: square px of σ) of all cameras' unknowns and the shared ones, with one camera and one distance held. Null where they are not fixed. */
export function covarianceOf(bundle: Bundle, settings: BundleSettings): Float64Array | null {
  const system = new ReducedSystem(bundle, settings);
  system.build();
  return system.covariance();
}

/** The normal equations without the points. Rows: P unknowns of each camera, then the shared ones. */
export class ReducedSystem {
  readonly size: number;
  /** How many unknowns are common to all cameras. */
  private readonly common: number;
  private readonly matrix: Float64Array;
  private readonly right: Float64Array;
  private readonly step: Float64Array;
  private readonly own: Float64Array;
  private readonly ownRight: Float64Array;
  /** Which of a camera's unknowns, and of those common to all, are looked for: equations of the others are empty. */
  private readonly soughtOfCamera: Int32Array;
  private readonly soughtOfAll: Int32Array;
  /** Per observation: W (P×3), and the shared block's W (SHARED×3) per point; per point V (6, lower triangle) and its right side. */
  private readonly w: Float64Array;
  private readonly ws: Float64Array;
  private readonly v: Float64Array;
  private readonly vr: Float64Array;

  constructor(
    private readonly bundle: Bundle,
    private readonly settings: BundleSettings,
  ) {
    const points = bundle.points.length / 3;
    this.common = SHARED + (settings.freedom.rows && bundle.rows ? 1 : 0);
    this.soughtOfCamera = Int32Array.from(Array(P).keys()).filter((k) => !isHeld(k, settings.freedom));
    this.soughtOfAll = Int32Array.from(Array(this.common).keys()).filter((k) => !isHeldForAll(k, settings.freedom));
    this.size = bundle.cameras.length * P + this.common;
    this.matrix = new Float64Array(this.size ** 2);
    this.own = new Float64Array(this.size ** 2);
    this.ownRight = new Float64Array(this.size);
    this.right = new Float64Array(this.size);
    this.step = new Float64Array(this.size);
    this.w = new Float64Array(bundle.camera.length * P * 3);
    this.ws = new Float64Array(points * this.common * 3);
    this.v = new Float64Array(points * 6);
    this.vr = new Float64Array(points * 3);
  }

  /** Sums the equations at where the bundle stands. */
  build(): void {
    const {
      bundle,
      settings: { freedom, sigma },
      size,
      common,
      own,
      ownRight,
      w,
      ws,
      v,
      vr,
    } = this;
    const shared = bundle.cameras.length * P;
    const p = projected();
    const slopes = new Float64Array(2 * common);
    const { rows } = bundle;
    for (const a of [own, ownRight, w, ws, v, vr]) a.fill(0);
    const jc = p.camera;
    const js = slopes;
    const jp = p.point;
    const c2 = (CAUCHY * sigma) ** 2;
    for (let i = 0; i + 1 < bundle.starts.length; i++) {
      for (let o = bundle.starts[i]!; o < bundle.starts[i + 1]!; o++) {
        const cam = bundle.camera[o]!;
        if (!projectWithSlopes(bundle.cameras[cam]!, bundle.k1, bundle.k2, bundle.points, 3 * i, p)) continue;
        hold(p, freedom);
        for (let axis = 0; axis < 2; axis++) {
          for (let k = 0; k < SHARED; k++) slopes[axis * common + k] = p.shared[axis * SHARED + k]!;
          // What moves an observation forwards moves what is left of it as a camera does that moves it back.
          if (common > SHARED) slopes[axis * common + SHARED] = -(axis === 0 ? rows!.x[o]! : rows!.y[o]!);
        }
        for (let axis = 0; axis < 2; axis++) {
          const e = (axis === 0 ? bundle.x[o]! : bundle.y[o]!) - p.at[axis]!;
          const ex = bundle.x[o]! - p.at[0]!;
          const ey = bundle.y[o]! - p.at[1]!;
          const weight = 1 / (1 + (ex * ex + ey * ey) / c2);
          const a = axis * P;
          const s = axis * common;
          const q = axis * 3;
          const at = cam * P;
          for (let r = 0; r < P; r++) {
            const g = weight * jc[a + r]!;
            if (g === 0) continue;
            ownRight[at + r]! += g * e;
            for (let k = 0; k <= r; k++) own[(at + r) * size + at + k]! += g * jc[a + k]!;
            for (let k = 0; k < 3; k++) w[(o * P + r) * 3 + k]! += g * jp[q + k]!;
          }
          for (let r = 0; r < common; r++) {
            const g = weight * js[s + r]!;
            if (g === 0) continue;
            ownRight[shared + r]! += g * e;
            for (let k = 0; k < P; k++) own[(shared + r) * size + at + k]! += g * jc[a + k]!;
            for (let k = 0; k <= r; k++) own[(shared + r) * size + shared + k]! += g * js[s + k]!;
            for (let k = 0; k < 3; k++) ws[(i * common + r) * 3 + k]! += g * jp[q + k]!;
          }
          for (let r = 0, n = 0; r < 3; r++) {
            const g = weight * jp[q + r]!;
            vr[3 * i + r]! += g * e;
            for (let k = 0; k <= r; k++) v[6 * i + n++]! += g * jp[q + k]!;
          }
        }
      }
    }
    this.priors();
  }

  /** What is not determined by the pictures stays near what is usual; what is held does not move. */
  private priors(): void {
    const {
      bundle,
      settings: { freedom, sigma, usualFocal },
      own,
      ownRight,
      size,
    } = this;
    const shared = bundle.cameras.length * P;
    const square = sigma ** 2;
    const pull = (at: number, off: number, spread: number) => {
      own[at * size + at]! += square / spread ** 2;
      ownRight[at]! -= (square * off) / spread ** 2;
    };
    if (freedom.terms >= 1) pull(shared + 1, bundle.k1, USUAL_K1);
    if (freedom.terms >= 2) pull(shared + 2, bundle.k2, USUAL_K2);
    if (freedom.focal === 'constant') pull(shared, Math.log(bundle.cameras[0]!.focal / usualFocal), FOCAL_OFF);
    if (freedom.focal === 'zoom') {
      bundle.cameras.forEach((camera, i) =>
        pull(i * P + 6, Math.log(camera.focal / usualFocal), FOCAL_OFF * Math.sqrt(bundle.cameras.length)),
      );
      const logs = bundle.cameras.map((c) => Math.log(c.focal));
      const weight = square / ZOOM_BEND ** 2;
      for (let i = 1; i + 1 < logs.length; i++) {
        const rows = [
          [i - 1, 1],
          [i, -2],
          [i + 1, 1],
        ] as const;
        const bend = logs[i - 1]! - 2 * logs[i]! + logs[i + 1]!;
        for (const [a, ga] of rows) {
          ownRight[a * P + 6]! -= weight * ga * bend;
          for (const [b, gb] of rows) if (b <= a) own[(a * P + 6) * size + b * P + 6]! += weight * ga * gb;
        }
      }
    }
  }

  /** Eliminates the points and moves the bundle by the solution; false where there is none. */
  solve(damping: number): boolean {
    if (!this.reduce(damping) || !factorCholesky(this.matrix, this.size)) return false;
    substitute(this.matrix, this.right, this.step, this.size);
    return this.move(damping);
  }

  /** Lower triangle of the reduced matrix, and the right side. */
  private reduce(damping: number): boolean {
    const { bundle, size, common, matrix, right, own, ownRight, w, ws } = this;
    const n = bundle.cameras.length;
    const shared = n * P;
    const y = new Float64Array(P * 3);
    const inverse = new Float64Array(9);
    const still = this.settings.still ?? 0;
    matrix.set(own);
    right.set(ownRight);
    for (let i = 0; i < size; i++) {
      matrix[i * size + i]! += damping * own[i * size + i]!;
      if (own[i * size + i]! === 0) matrix[i * size + i] = 1;
    }
    for (let k = 0; k < 6; k++) matrix[(still * P + k) * (size + 1)]! += 1e9 * (1 + own[(still * P + k) * (size + 1)]!);
    for (let i = 0; i + 1 < bundle.starts.length; i++) {
      if (!this.invertPoint(i, damping, inverse)) continue;
      for (let o = bundle.starts[i]!; o <= bundle.starts[i + 1]!; o++) {
        // After the last observation comes the point's share in what is common to all cameras.
        const last = o === bundle.starts[i + 1]!;
        const from = last ? ws : w;
        const rows = last ? this.soughtOfAll : this.soughtOfCamera;
        const base = last ? i * common * 3 : o * P * 3;
        const at = last ? shared : bundle.camera[o]! * P;
        for (const r of rows) {
          const a = from[base + 3 * r]!;
          const b = from[base + 3 * r + 1]!;
          const c = from[base + 3 * r + 2]!;
          for (let k = 0; k < 3; k++) y[3 * r + k] = a * inverse[k]! + b * inverse[3 + k]! + c * inverse[6 + k]!;
          right[at + r]! -=
            y[3 * r]! * this.vr[3 * i]! + y[3 * r + 1]! * this.vr[3 * i + 1]! + y[3 * r + 2]! * this.vr[3 * i + 2]!;
        }
        for (let q = bundle.starts[i]!; q <= o; q++) {
          const lastToo = q === bundle.starts[i + 1]!;
          const other = lastToo ? ws : w;
          const columns = lastToo ? this.soughtOfAll : this.soughtOfCamera;
          const start = lastToo ? i * common * 3 : q * P * 3;
          const across = lastToo ? shared : bundle.camera[q]! * P;
          // Observations of a point are in the order of their cameras, so that this is the lower triangle.
          for (let line = 0; line < rows.length; line++) {
            const r = rows[line]!;
            const y0 = y[3 * r]!;
            const y1 = y[3 * r + 1]!;
            const y2 = y[3 * r + 2]!;
            const to = (at + r) * size + across;
            for (let j = 0; j < columns.length; j++) {
              const k = columns[j]!;
              const column = start + 3 * k;
              matrix[to + k]! -= y0 * other[column]! + y1 * other[column + 1]! + y2 * other[column + 2]!;
            }
          }
        }
      }
    }
    return true;
  }

  private invertPoint(i: number, damping: number, out: Float64Array): boolean {
    const { v, bundle } = this;
    const at = 6 * i;
    const x = bundle.points[3 * i]!;
    const y = bundle.points[3 * i + 1]!;
    const z = bundle.points[3 * i + 2]!;
    let a = v[at]! * (1 + damping);
    let b = v[at + 1]!;
    let c = v[at + 2]! * (1 + damping);
    let d = v[at + 3]!;
    let e = v[at + 4]!;
    let f = v[at + 5]! * (1 + damping);
    // How far away a direction is means nothing.
    const along = this.settings.freedom.turning
      ? (a + c + f) / Math.max(1e-12, x * x + y * y + z * z)
      : 1e-12 * (a + c + f);
    if (this.settings.freedom.turning)
      [a, b, c, d, e, f] = [
        a + along * x * x,
        b + along * x * y,
        c + along * y * y,
        d + along * x * z,
        e + along * y * z,
        f + along * z * z,
      ];
    else [a, c, f] = [a + along, c + along, f + along];
    const p = c * f - e * e;
    const q = d * e - b * f;
    const r = b * e - c * d;
    const det = a * p + b * q + d * r;
    if (!(det > 0)) return false;
    out.set([
      p / det,
      q / det,
      r / det,
      q / det,
      (a * f - d * d) / det,
      (b * d - a * e) / det,
      r / det,
      (b * d - a * e) / det,
      (a * c - b * b) / det,
    ]);
    return true;
  }

  private move(damping: number): boolean {
    const { bundle, step, common, w, ws, vr } = this;
    const n = bundle.cameras.length;
    const shared = n * P;
    const inverse = new Float64Array(9);
    if (!step.every(Number.isFinite)) return false;
    for (let i = 0; i + 1 < bundle.starts.length; i++) {
      if (!this.invertPoint(i, damping, inverse)) continue;
      let a = vr[3 * i]!;
      let b = vr[3 * i + 1]!;
      let c = vr[3 * i + 2]!;
      const take = (from: Float64Array, base: number, rows: number, at: number) => {
        for (let r = 0; r < rows; r++) {
          const s = step[at + r]!;
          a -= from[base + 3 * r]! * s;
          b -= from[base + 3 * r + 1]! * s;
          c -= from[base + 3 * r + 2]! * s;
        }
      };
      for (let o = bundle.starts[i]!; o < bundle.starts[i + 1]!; o++) take(w, o * P * 3, P, bundle.camera[o]! * P);
      take(ws, i * common * 3, common, shared);
      for (let k = 0; k < 3; k++)
        bundle.points[3 * i + k]! += inverse[3 * k]! * a + inverse[3 * k + 1]! * b + inverse[3 * k + 2]! * c;
    }
    bundle.cameras.forEach((camera, i) => {
      const s = step.subarray(i * P, (i + 1) * P);
      bundle.cameras[i] = moved(camera, s, step[shared]!);
    });
    bundle.k1 += step[shared + 1]!;
    bundle.k2 += step[shared + 2]!;
    if (common > SHARED) moveRows(bundle, step[shared + SHARED]!);
    return true;
  }

  covariance(): Float64Array | null {
    const { size, matrix } = this;
    this.reduce(1e-9);
    // The size of everything is free too: the camera farthest from the still one keeps its distance.
    this.holdScale();
    return factorCholesky(matrix, size) ? inverseOfFactor(matrix, size) : null;
  }

  private holdScale(): void {
    const {
      bundle: { cameras },
      settings: { freedom, still = 0 },
      matrix,
      own,
      size,
    } = this;
    if (freedom.turning) return;
    const home = centreOf(cameras[still]!);
    const away = cameras.map((c) => {
      const at = centreOf(c);
      return Math.hypot(at[0] - home[0], at[1] - home[1], at[2] - home[2]);
    });
    const far = away.indexOf(Math.max(...away));
    const { rotation: r } = cameras[far]!;
    const at = centreOf(cameras[far]!);
    // t = −R·C, so that a move of the camera along the base line is one of t along −R·(base line).
    const b = [0, 1, 2].map((k) => (at[k]! - home[k]!) / Math.max(1e-12, away[far]!));
    const g = [0, 1, 2].map((k) => r[3 * k]! * b[0]! + r[3 * k + 1]! * b[1]! + r[3 * k + 2]! * b[2]!);
    let trace = 0;
    for (let k = 0; k < size; k++) trace = Math.max(trace, own[k * size + k]!);
    for (let i = 0; i < 3; i++)
      for (let k = 0; k <= i; k++) matrix[(far * P + 3 + i) * size + far * P + 3 + k]! += 1e3 * trace * g[i]! * g[k]!;
  }
}

/** Where a camera is: −Rᵀ·t. */
export function centreOf({ rotation: r, position: [x, y, z] }: CameraState): [number, number, number] {
  return [0, 1, 2].map((k) => -(r[k]! * x + r[3 + k]! * y + r[6 + k]! * z)) as [number, number, number];
}

function moved(camera: CameraState, s: Float64Array, sharedLog: number): CameraState {
  return {
    rotation: turnedBy(rotationFromVector([s[0]!, s[1]!, s[2]!]), camera.rotation),
    position: [camera.position[0] + s[3]!, camera.position[1] + s[4]!, camera.position[2] + s[5]!],
    focal: camera.focal * Math.exp(clamp(s[6]! + sharedLog, -0.5, 0.5)),
  };
}

/** Whether a camera's unknown is not looked for: its place where cameras only turn, its own focal length where that does not change. */
const isHeld = (k: number, { turning, focal }: BundleFreedom) =>
  (turning && k >= 3 && k < 6) || (focal !== 'zoom' && k === 6);
/** The same for the unknowns that are common to all. */
const isHeldForAll = (k: number, { focal, terms }: BundleFreedom) =>
  (k === 0 && focal !== 'constant') || (k === 1 && terms < 1) || (k === 2 && terms < 2);

/** Slopes of what is not looked for are none. */
function hold(p: Projected, freedom: BundleFreedom): void {
  for (let axis = 0; axis < 2; axis++) {
    for (let k = 0; k < P; k++) if (isHeld(k, freedom)) p.camera[axis * P + k] = 0;
    for (let k = 0; k < SHARED; k++) if (isHeldForAll(k, freedom)) p.shared[axis * SHARED + k] = 0;
  }
}

function projected(): Projected {
  return {
    at: new Float64Array(2),
    camera: new Float64Array(2 * P),
    shared: new Float64Array(2 * SHARED),
    point: new Float64Array(6),
  };
}

/** Σ c²·log(1 + e²/c²) of the distances e, and what the priors count. A point behind its camera counts as far off. */
function costOf(bundle: Bundle, { sigma, freedom, usualFocal }: BundleSettings): number {
  const p = projected();
  const c2 = (CAUCHY * sigma) ** 2;
  const offs = bundle.cameras.map((c) => Math.log(c.focal / usualFocal) / FOCAL_OFF);
  let cost =
    sigma ** 2 *
    ((freedom.terms >= 1 ? (bundle.k1 / USUAL_K1) ** 2 : 0) + (freedom.terms >= 2 ? (bundle.k2 / USUAL_K2) ** 2 : 0));
  if (freedom.focal === 'constant') cost += sigma ** 2 * offs[0]! ** 2;
  if (freedom.focal === 'zoom') cost += (sigma ** 2 * offs.reduce((sum, off) => sum + off * off, 0)) / offs.length;
  if (freedom.focal === 'zoom')
    for (let i = 1; i + 1 < bundle.cameras.length; i++) {
      const [a, b, c] = [i - 1, i, i + 1].map((k) => Math.log(bundle.cameras[k]!.focal));
      cost += (sigma ** 2 * (a! - 2 * b! + c!) ** 2) / ZOOM_BEND ** 2;
    }
  for (let i = 0; i + 1 < bundle.starts.length; i++)
    for (let o = bundle.starts[i]!; o < bundle.starts[i + 1]!; o++) {
      const seen = projectWithSlopes(bundle.cameras[bundle.camera[o]!]!, bundle.k1, bundle.k2, bundle.points, 3 * i, p);
      const e2 = seen ? (bundle.x[o]! - p.at[0]!) ** 2 + (bundle.y[o]! - p.at[1]!) ** 2 : 1e6;
      cost += c2 * Math.log1p(e2 / c2);
    }
  return cost;
}

/** Distances of all observations, px; infinite behind a camera. */
export function distancesOf(bundle: Bundle): Float64Array {
  const out = new Float64Array(bundle.camera.length);
  const p = projected();
  for (let i = 0; i + 1 < bundle.starts.length; i++)
    for (let o = bundle.starts[i]!; o < bundle.starts[i + 1]!; o++) {
      out[o] = projectWithSlopes(bundle.cameras[bundle.camera[o]!]!, bundle.k1, bundle.k2, bundle.points, 3 * i, p)
        ? Math.hypot(bundle.x[o]! - p.at[0]!, bundle.y[o]! - p.at[1]!)
        : Infinity;
    }
  return out;
}

function rmsOf(bundle: Bundle, sigma: number): number {
  let sum = 0;
  let weights = 0;
  for (const e of distancesOf(bundle)) {
    if (!Number.isFinite(e)) continue;
    const weight = 1 / (1 + (e / (CAUCHY * sigma)) ** 2);
    sum += weight * e * e;
    weights += weight;
  }
  return Math.sqrt(sum / Math.max(1e-12, weights));
}

interface State {
  cameras: CameraState[];
  points: Float64Array;
  k1: number;
  k2: number;
  rows: number;
}

const stateOf = (b: Bundle): State => ({
  cameras: [...b.cameras],
  points: b.points.slice(),
  k1: b.k1,
  k2: b.k2,
  rows: b.rows?.time ?? 0,
});

function restore(bundle: Bundle, state: State): void {
  state.cameras.forEach((c, i) => (bundle.cameras[i] = c));
  bundle.points.set(state.points);
  bundle.k1 = state.k1;
  bundle.k2 = state.k2;
  if (bundle.rows) moveRows(bundle, state.rows - bundle.rows.time);
}

function moveRows({ rows, x, y }: Bundle, by: number): void {
  if (!rows || by === 0) return;
  rows.time += by;
  for (let o = 0; o < x.length; o++) {
    x[o]! += by * rows.x[o]!;
    y[o]! += by * rows.y[o]!;
  }
}
