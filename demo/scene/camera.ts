/** A pinhole camera and flat things in front of it. World units are centimetres, y up, z towards the camera at rest. */
export type Vector = readonly [number, number, number];
export type Matrix3 = readonly [number, number, number, number, number, number, number, number, number];

/** A rectangle in the world: `origin` is its own (0, 0), `right` and `down` unit vectors along its axes. */
export interface PlanePose {
  origin: Vector;
  right: Vector;
  down: Vector;
}

export interface CameraPose {
  position: Vector;
  /** What the camera looks at. */
  target: Vector;
  /** Turn about the viewing axis, radians. */
  roll: number;
}

export interface Lens {
  width: number;
  height: number;
  /** Focal length in pixels. */
  focal: number;
  /** Radial distortion about the middle, from undistorted to distorted, in focal lengths: x·(1 + k1·r² + k2·r⁴). */
  bend?: { k1: number; k2: number };
}

/** Where a point that the pinhole sees at (x, y) is recorded. */
export function bent({ width, height, focal, bend }: Lens, x: number, y: number): [number, number] {
  if (!bend) return [x, y];
  const u = (x - width / 2) / focal;
  const v = (y - height / 2) / focal;
  const r2 = u * u + v * v;
  const d = 1 + r2 * (bend.k1 + r2 * bend.k2);
  return [width / 2 + focal * u * d, height / 2 + focal * v * d];
}

/** What the pinhole sees where (x, y) is recorded: by repeated substitution, which converges where lenses are weak. */
export function unbent({ width, height, focal, bend }: Lens, x: number, y: number): [number, number] {
  if (!bend) return [x, y];
  const u = (x - width / 2) / focal;
  const v = (y - height / 2) / focal;
  let a = u;
  let b = v;
  for (let k = 0; k < 40; k++) {
    const r2 = a * a + b * b;
    const d = 1 + r2 * (bend.k1 + r2 * bend.k2);
    const next = u / d;
    const settled = Math.abs(next - a) < 1e-9;
    a = next;
    b = v / d;
    if (settled) break;
  }
  return [width / 2 + focal * a, height / 2 + focal * b];
}

const sub = (a: Vector, b: Vector): Vector => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const scale = (a: Vector, s: number): Vector => [a[0] * s, a[1] * s, a[2] * s];
const unit = (a: Vector): Vector => scale(a, 1 / Math.hypot(...a));
const add = (a: Vector, b: Vector): Vector => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];

/** Plane centimetres (x along right, y along down) to picture pixels (origin at the outer corner), 3×3 row-major. */
export function planeToPicture(plane: PlanePose, camera: CameraPose, lens: Lens): Matrix3 {
  const forward = unit(sub(camera.target, camera.position));
  const levelRight = unit(cross(forward, [0, 1, 0]));
  const levelDown = cross(forward, levelRight);
  const right = add(scale(levelRight, Math.cos(camera.roll)), scale(levelDown, Math.sin(camera.roll)));
  const down = add(scale(levelRight, -Math.sin(camera.roll)), scale(levelDown, Math.cos(camera.roll)));
  const offset = sub(plane.origin, camera.position);
  const column = (v: Vector): Vector => [dot(right, v), dot(down, v), dot(forward, v)];
  const [a, b, c] = [column(plane.right), column(plane.down), column(offset)];
  const cx = lens.width / 2;
  const cy = lens.height / 2;
  const f = lens.focal;
  return [
    f * a[0] + cx * a[2],
    f * b[0] + cx * b[2],
    f * c[0] + cx * c[2],
    f * a[1] + cy * a[2],
    f * b[1] + cy * b[2],
    f * c[1] + cy * c[2],
    a[2],
    b[2],
    c[2],
  ];
}

export function inverse3(m: Matrix3): Matrix3 {
  const [a, b, c, d, e, f, g, h, i] = m;
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  return [
    (e * i - f * h) / det,
    (c * h - b * i) / det,
    (b * f - c * e) / det,
    (f * g - d * i) / det,
    (a * i - c * g) / det,
    (c * d - a * f) / det,
    (d * h - e * g) / det,
    (b * g - a * h) / det,
    (a * e - b * d) / det,
  ];
}

export function project(m: Matrix3, x: number, y: number): [number, number] {
  const w = m[6] * x + m[7] * y + m[8];
  return [(m[0] * x + m[1] * y + m[2]) / w, (m[3] * x + m[4] * y + m[5]) / w];
}

/** A plane facing the camera at rest, turned by yaw (about the vertical), pitch and roll in radians, about `centre`. */
export function turnedPlane(
  centre: Vector,
  width: number,
  height: number,
  yaw: number,
  pitch: number,
  roll = 0,
): PlanePose {
  const turn = (v: Vector): Vector => {
    const [x0, y0, z0] = v;
    const x1 = x0 * Math.cos(roll) - y0 * Math.sin(roll);
    const y1 = x0 * Math.sin(roll) + y0 * Math.cos(roll);
    const y2 = y1 * Math.cos(pitch) - z0 * Math.sin(pitch);
    const z2 = y1 * Math.sin(pitch) + z0 * Math.cos(pitch);
    return [x1 * Math.cos(yaw) + z2 * Math.sin(yaw), y2, -x1 * Math.sin(yaw) + z2 * Math.cos(yaw)];
  };
  const right = turn([1, 0, 0]);
  const down = turn([0, -1, 0]);
  return { right, down, origin: add(centre, add(scale(right, -width / 2), scale(down, -height / 2))) };
}

/** A plane as seen in a mirror: its pose behind the mirror's plane. */
export function mirrored(plane: PlanePose, mirror: PlanePose): PlanePose {
  const normal = cross(mirror.right, mirror.down);
  const turn = (v: Vector): Vector => sub(v, scale(normal, 2 * dot(v, normal)));
  return {
    origin: add(mirror.origin, turn(sub(plane.origin, mirror.origin))),
    right: turn(plane.right),
    down: turn(plane.down),
  };
}
