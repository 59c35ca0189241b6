import { clamp } from '../../base/geometry/clamp.ts';
import { mapTuple } from '../../base/geometry/map-tuple.ts';
import { invert, multiply, type Homography, type Point } from '../../base/geometry/homography.ts';

/** What a shot has told of camera and plane. */
export interface PoseMemoryState {
  readonly known: readonly number[];
  /** 3×3, row-major. */
  readonly covariance: readonly number[];
  readonly leftOver: number;
}

type Vector = readonly [number, number, number];
/** What a plane's map would have to be stretched and sheared by to be one that a camera sees. */
export type Stretch = readonly [number, number];

/** Focal length that is assumed at first, in longer sides of the picture, and how far off it may be (its logarithm). */
const FOCAL = 1.1;
const FOCAL_OFF = 0.5;
/** How far the plane's normal may be off on the reference, radians: by a rectangle's four corners, and by nothing. */
const NORMAL_OFF = 0.06;
const NORMAL_UNKNOWN = 0.5;
/** What lens and seat leave over, relative stretch: at first, and the least and most that is learnt. */
const LEFT_OVER = 0.004;
const LEAST_LEFT_OVER = 0.0015;
const MOST_LEFT_OVER = 0.03;
/** How fast a frame's finding replaces what was known of that. */
const RATE = 0.1;
/** Frames share the reference's errors: so many of them count as one. */
const SHARED = 8;
/** What is off by more than so many standard deviations does not teach. */
const GATE = 3;
/** Step of numeric derivatives. */
const STEP = 1e-4;

/** How many times more a rigid plane weighs than what is known of it: next to it no evidence counts. */
const RIGID = 1e6;
/** Surprises, in standard deviations, up to which a map is fully believed, and from which not at all. */
const SURPRISING = 4;
const IMPOSSIBLE = 12;

/** A camera, and two directions of the plane on the reference frame. */
interface View {
  readonly focal: number;
  readonly cx: number;
  readonly cy: number;
  /** The directions as the camera sees them: K·e₁ and K·e₂. */
  readonly first: Vector;
  readonly second: Vector;
}

/** What a frame's map should obey: one plane seen by one camera. */
export interface PosePrior {
  readonly view: View;
  /** Inverse of the stretch's covariance, [xx, xy, yy]. */
  readonly weight: readonly [number, number, number];
}

/**
 * The camera's focal length and the plane's normal on the reference frame, as far as a shot has told them. Any map
 * between two pictures can be that of some plane; but of one plane and one camera only those that do not stretch the
 * plane's own directions: with e₁, e₂ across the normal, K⁻¹·H·K·e₁ and K⁻¹·H·K·e₂ stay at right angles and of one
 * length. Where three borders of a device are seen and the fourth is covered, this tells where it must be, and since
 * it goes back to the reference, it does not drift.
 *
 * Source: the constraints of the image of the absolute conic, Z. Zhang, A flexible new technique for camera
 * calibration, PAMI 22(11), 2000, with the plane's pose unknown as in B. Triggs, Autocalibration from planar scenes,
 * ECCV 1998; learnt frame by frame with an extended Kalman filter.
 */
export class PoseMemory {
  /** Logarithm of the focal length over what is assumed; turns of the normal, radians. */
  private known: Vector = [0, 0, 0];
  private covariance: number[];
  private leftOver = LEFT_OVER;
  private readonly focal: number;
  /** Horizon of the plane on the reference, a line about the picture's middle. */
  private readonly horizon: Vector;

  /** `rectangle` in continuous reference pixels: corners of something rectangular on the plane. */
  constructor(
    private readonly width: number,
    private readonly height: number,
    rectangle?: readonly Point[],
  ) {
    this.focal = FOCAL * Math.max(width, height);
    const horizon =
      rectangle?.length === 4 ? horizonOf(rectangle.map(([x, y]): Point => [x - width / 2, y - height / 2])) : null;
    this.horizon = horizon ?? [0, 0, 1];
    const normal = (horizon ? NORMAL_OFF : NORMAL_UNKNOWN) ** 2;
    this.covariance = [FOCAL_OFF ** 2, 0, 0, 0, normal, 0, 0, 0, normal];
  }

  /** What a map near `h` should obey. */
  expect(h: Homography): PosePrior {
    const [xx, xy, yy] = this.spread(h);
    const det = xx * yy - xy * xy;
    return { view: this.viewOf(this.known), weight: [yy / det, -xy / det, xx / det] };
  }

  /** The same with no way out. */
  rigid(h: Homography): PosePrior {
    const {
      view,
      weight: [xx, xy, yy],
    } = this.expect(h);
    return { view, weight: [RIGID * xx, RIGID * xy, RIGID * yy] };
  }

  /** Learns from a map that is sure; `own` is its own stretch's covariance. */
  learn(h: Homography, own: readonly [number, number, number]): void {
    const noise = this.leftOver ** 2;
    const [a, b, c] = [SHARED * own[0] + noise, SHARED * own[1], SHARED * own[2] + noise];
    const jacobian = this.jacobian(h);
    const p = this.covariance;
    const r = stretchOf(this.viewOf(this.known), h);
    const pj = [0, 1, 2].map((i) =>
      [0, 1].map((k) => [0, 1, 2].reduce((s, m) => s + p[3 * i + m]! * jacobian[k]![m]!, 0)),
    );
    const s = (k: number, l: number) => [0, 1, 2].reduce((sum, m) => sum + jacobian[k]![m]! * pj[m]![l]!, 0);
    const xx = s(0, 0) + a;
    const xy = s(0, 1) + b;
    const yy = s(1, 1) + c;
    const det = xx * yy - xy * xy;
    if (!(det > 0) || (yy * r[0] ** 2 - 2 * xy * r[0] * r[1] + xx * r[1] ** 2) / det > GATE ** 2) return;
    const surplus = (r[0] ** 2 + r[1] ** 2) / 2;
    this.leftOver = clamp(
      Math.sqrt(noise + RATE * (Math.min(4 * noise, surplus) - noise)),
      LEAST_LEFT_OVER,
      MOST_LEFT_OVER,
    );
    const gain = pj.map(([u, v]) => [(yy * u! - xy * v!) / det, (xx * v! - xy * u!) / det]);
    this.known = mapTuple(this.known, (v, i) => v - gain[i]![0]! * r[0] - gain[i]![1]! * r[1]);
    this.covariance = p.map(
      (v, at) => v - gain[Math.floor(at / 3)]!.reduce((sum, g, k) => sum + g * pj[at % 3]![k]!, 0),
    );
  }

  state(): PoseMemoryState {
    return { known: [...this.known], covariance: [...this.covariance], leftOver: this.leftOver };
  }

  restore({ known, covariance, leftOver }: PoseMemoryState): void {
    this.leftOver = leftOver;
    this.known = known as Vector;
    this.covariance = [...covariance];
  }

  /** Covariance of a map's stretch by what is not known of camera and plane, and what is left over. */
  private spread(h: Homography): [number, number, number] {
    const [j, k] = this.jacobian(h);
    const p = this.covariance;
    const dot = (a: readonly number[], b: readonly number[]) =>
      a.reduce((sum, v, i) => sum + v * b.reduce((s, w, m) => s + p[3 * i + m]! * w, 0), 0);
    return [dot(j, j) + this.leftOver ** 2, dot(j, k), dot(k, k) + this.leftOver ** 2];
  }

  private jacobian(h: Homography): [number[], number[]] {
    const rows: [number[], number[]] = [[], []];
    for (let i = 0; i < 3; i++) {
      const at = (by: number) => stretchOf(this.viewOf(mapTuple(this.known, (v, m) => (m === i ? v + by : v))), h);
      const ahead = at(STEP);
      const back = at(-STEP);
      for (const k of [0, 1] as const) rows[k].push((ahead[k] - back[k]) / (2 * STEP));
    }
    return rows;
  }

  private viewOf([zoom, turnX, turnY]: Vector): View {
    const f = this.focal * Math.exp(zoom);
    const cx = this.width / 2;
    const cy = this.height / 2;
    const [l, m, n] = this.horizon;
    const normal = unit([f * l, f * m, n]);
    const first = unit(across([1, 0, 0], normal));
    const second = cross(normal, first);
    const turned = unit(add(normal, first, turnX, second, turnY));
    const e1 = unit(across([1, 0, 0], turned));
    const e2 = cross(turned, e1);
    const seen = ([x, y, z]: Vector): Vector => [f * x + cx * z, f * y + cy * z, z];
    return { focal: f, cx, cy, first: seen(e1), second: seen(e2) };
  }
}

/** How far a map is believed by its surprise, 0…1. */
export function possible(surprise: number): number {
  return clamp((1 / surprise - 1 / IMPOSSIBLE) / (1 / SURPRISING - 1 / IMPOSSIBLE), 0, 1);
}

/** How surprising a map is, in standard deviations. */
export function surpriseOf({ view, weight: [xx, xy, yy] }: PosePrior, h: Homography): number {
  const [a, b] = stretchOf(view, h);
  return Math.sqrt(Math.max(0, xx * a * a + 2 * xy * a * b + yy * b * b));
}

/** A map's stretch of the plane's directions: how much longer the first has become than the second, and how far they lean. */
export function stretchOf(view: View, h: Homography): Stretch {
  const a = inCamera(view, times(h, view.first));
  const b = inCamera(view, times(h, view.second));
  const aa = dotOf(a, a);
  const bb = dotOf(b, b);
  return [(aa - bb) / (aa + bb), (2 * dotOf(a, b)) / (aa + bb)];
}

/** How a map's stretch answers to the parameters of a small warp in unit coordinates before it; rows of 8. */
export function stretchDerivatives(view: View, h: Homography, toUnit: Homography): [Float64Array, Float64Array] {
  const rows: [Float64Array, Float64Array] = [new Float64Array(8), new Float64Array(8)];
  const a = inCamera(view, times(h, view.first));
  const b = inCamera(view, times(h, view.second));
  const u = times(toUnit, view.first);
  const v = times(toUnit, view.second);
  const aa = dotOf(a, a);
  const bb = dotOf(b, b);
  const ab = dotOf(a, b);
  const sum = aa + bb;
  const map = multiply(h, invert(toUnit)!);
  for (let k = 0; k < 8; k++) {
    // The warp's derivative has one entry: row r takes what column c holds.
    const row = ROWS[k]!;
    const column = COLUMNS[k]!;
    const direction = inCamera(view, [map[row]!, map[3 + row]!, map[6 + row]!]);
    const da = 2 * u[column] * dotOf(a, direction);
    const db = 2 * v[column] * dotOf(b, direction);
    const dab = u[column] * dotOf(b, direction) + v[column] * dotOf(a, direction);
    rows[0][k] = (da - db) / sum - ((aa - bb) * (da + db)) / (sum * sum);
    rows[1][k] = (2 * dab) / sum - (2 * ab * (da + db)) / (sum * sum);
  }
  return rows;
}
/** Where the parameters of a perspective warp stand in its matrix: motion-model.ts. */
const ROWS = [0, 1, 0, 0, 1, 1, 2, 2] as const;
const COLUMNS = [2, 2, 0, 1, 0, 1, 0, 1] as const;

function inCamera({ focal, cx, cy }: View, [x, y, z]: Vector): Vector {
  return [(x - cx * z) / focal, (y - cy * z) / focal, z];
}

/**
 * Adds to summed normal equations of the perspective motion that the map should be one plane's, seen by one camera. `h` maps
 * full pictures, `toUnit` leads from full reference pixels; `scale` is the spread of the residuals.
 */
export function addPosePrior(
  total: Float64Array,
  { view, weight: [xx, xy, yy] }: PosePrior,
  h: Homography,
  toUnit: Homography,
  scale: number,
): void {
  const [j, k] = stretchDerivatives(view, h, toUnit);
  const [a, b] = stretchOf(view, h);
  const s2 = scale * scale;
  for (let i = 0; i < 8; i++) {
    const wi = s2 * (xx * j[i]! + xy * k[i]!);
    const vi = s2 * (xy * j[i]! + yy * k[i]!);
    for (let m = 0; m <= i; m++) total[(i * (i + 1)) / 2 + m]! += wi * j[m]! + vi * k[m]!;
    total[55 + i]! -= wi * a + vi * b;
  }
}

/** The line on which the rectangle's two directions vanish, of unit length as a vector of (x, y, 1) about the origin. */
function horizonOf(corners: readonly Point[]): Vector | null {
  const [a, b, c, d] = corners.map(([x, y]): Vector => [x, y, 1]) as [Vector, Vector, Vector, Vector];
  const line = cross(cross(cross(a, b), cross(d, c)), cross(cross(a, d), cross(b, c)));
  return line.every(Number.isFinite) && line[2] !== 0 ? [line[0] / line[2], line[1] / line[2], 1] : null;
}

function cross([a, b, c]: Vector, [x, y, z]: Vector): Vector {
  return [b * z - c * y, c * x - a * z, a * y - b * x];
}
function dotOf([a, b, c]: Vector, [x, y, z]: Vector): number {
  return a * x + b * y + c * z;
}
function unit(v: Vector): Vector {
  const length = Math.hypot(...v);
  return [v[0] / length, v[1] / length, v[2] / length];
}
/** What of `v` is at right angles to the unit vector `n`. */
function across(v: Vector, n: Vector): Vector {
  const d = dotOf(v, n);
  return [v[0] - d * n[0], v[1] - d * n[1], v[2] - d * n[2]];
}
function add(v: Vector, a: Vector, s: number, b: Vector, t: number): Vector {
  return [v[0] + s * a[0] + t * b[0], v[1] + s * a[1] + t * b[1], v[2] + s * a[2] + t * b[2]];
}
function times(m: Homography, [x, y, z]: Vector): Vector {
  return [m[0]! * x + m[1]! * y + m[2]! * z, m[3]! * x + m[4]! * y + m[5]! * z, m[6]! * x + m[7]! * y + m[8]! * z];
}
