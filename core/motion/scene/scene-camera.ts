import type { Rotation, Vector3 } from '../pose/rotation.ts';

/** A camera in the scene: a point X is seen in its axes at R·X + t (x right, y down, z away). Unit of length: the scene's own. */
export interface CameraState {
  readonly rotation: Rotation;
  readonly position: Vector3;
  /** px */
  readonly focal: number;
}

/** Unknowns of a camera: its turn (left of R, radians), its t, the logarithm of its focal length. */
export const CAMERA_UNKNOWNS = 7;

/** Where a point is seen, px from the picture's middle, and how that changes: rows of x and of y. */
export interface Projected {
  readonly at: Float64Array;
  /** 2 × CAMERA_UNKNOWNS */
  readonly camera: Float64Array;
  /** 2 × 3: logarithm of the focal length, k1, k2 */
  readonly shared: Float64Array;
  /** 2 × 3 */
  readonly point: Float64Array;
}

/** Where a point is seen through a lens with k1 and k2 (core/motion/lens/lens.ts), into `out`; false where it is not in front of the camera. */
export function projectWithSlopes(
  { rotation: r, position: t, focal: f }: CameraState,
  k1: number,
  k2: number,
  points: Float64Array,
  i: number,
  out: Projected,
): boolean {
  const X = points[i]!;
  const Y = points[i + 1]!;
  const Z = points[i + 2]!;
  const a = r[0]! * X + r[1]! * Y + r[2]! * Z;
  const b = r[3]! * X + r[4]! * Y + r[5]! * Z;
  const c = r[6]! * X + r[7]! * Y + r[8]! * Z;
  const w = c + t[2];
  if (!(w > 1e-6)) return false;
  const x = (a + t[0]) / w;
  const y = (b + t[1]) / w;
  const r2 = x * x + y * y;
  const d = 1 + r2 * (k1 + r2 * k2);
  const slope = 2 * (k1 + 2 * k2 * r2);
  out.at[0] = f * d * x;
  out.at[1] = f * d * y;
  const xx = f * (d + slope * x * x);
  const xy = f * slope * x * y;
  const yy = f * (d + slope * y * y);
  for (let axis = 0; axis < 2; axis++) {
    const gx = (axis === 0 ? xx : xy) / w;
    const gy = (axis === 0 ? xy : yy) / w;
    const gz = -(gx * x + gy * y);
    const at = axis * CAMERA_UNKNOWNS;
    const place = axis === 0 ? x : y;
    // dP = ω × (R·X)
    out.camera[at] = gz * b - gy * c;
    out.camera[at + 1] = gx * c - gz * a;
    out.camera[at + 2] = gy * a - gx * b;
    out.camera[at + 3] = gx;
    out.camera[at + 4] = gy;
    out.camera[at + 5] = gz;
    out.camera[at + 6] = out.at[axis]!;
    out.shared[axis * 3] = out.at[axis]!;
    out.shared[axis * 3 + 1] = f * place * r2;
    out.shared[axis * 3 + 2] = f * place * r2 * r2;
    out.point[axis * 3] = gx * r[0]! + gy * r[3]! + gz * r[6]!;
    out.point[axis * 3 + 1] = gx * r[1]! + gy * r[4]! + gz * r[7]!;
    out.point[axis * 3 + 2] = gx * r[2]! + gy * r[5]! + gz * r[8]!;
  }
  return true;
}
