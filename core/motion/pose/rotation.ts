/** A turn in space, nine numbers, row-major, acting on column vectors; x right, y down, z away from the camera. */
export type Rotation = readonly number[];
/** Three numbers: a place, or a turn as its axis times its angle (radians). */
export type Vector3 = readonly [number, number, number];

export const NO_TURN: Rotation = [1, 0, 0, 0, 1, 0, 0, 0, 1];

/** The turn about `v` by |v| radians. Source: O. Rodrigues, 1840, as in R. Hartley, A. Zisserman, Multiple View Geometry, 2nd ed. 2004, A4.3.2. */
export function rotationFromVector([x, y, z]: Vector3): Rotation {
  const angle = Math.hypot(x, y, z);
  const a = angle < 1e-8 ? 1 - angle ** 2 / 6 : Math.sin(angle) / angle;
  const b = angle < 1e-4 ? 0.5 - angle ** 2 / 24 : (1 - Math.cos(angle)) / angle ** 2;
  return [
    1 - b * (y * y + z * z),
    b * x * y - a * z,
    b * x * z + a * y,
    b * x * y + a * z,
    1 - b * (x * x + z * z),
    b * y * z - a * x,
    b * x * z - a * y,
    b * y * z + a * x,
    1 - b * (x * x + y * y),
  ];
}

/** The axis times the angle of a turn, the angle at most π. */
export function vectorFromRotation(r: Rotation): Vector3 {
  const sx = (r[7]! - r[5]!) / 2;
  const sy = (r[2]! - r[6]!) / 2;
  const sz = (r[3]! - r[1]!) / 2;
  const sin = Math.hypot(sx, sy, sz);
  const cos = (r[0]! + r[4]! + r[8]! - 1) / 2;
  const angle = Math.atan2(sin, cos);
  if (sin > 1e-6) return [(sx / sin) * angle, (sy / sin) * angle, (sz / sin) * angle];
  if (cos > 0) return [sx, sy, sz];
  // Half a turn: the axis is the column of R + 1 that is longest.
  const columns = [
    [r[0]! + 1, r[3]!, r[6]!],
    [r[1]!, r[4]! + 1, r[7]!],
    [r[2]!, r[5]!, r[8]! + 1],
  ] as [number, number, number][];
  const [x, y, z] = columns.reduce((a, b) => (Math.hypot(...b) > Math.hypot(...a) ? b : a));
  const length = Math.hypot(x, y, z);
  return [(x / length) * angle, (y / length) * angle, (z / length) * angle];
}

/** a·b: first b, then a. */
export function turnedBy(a: Rotation, b: Rotation): Rotation {
  const out = new Array<number>(9);
  for (let row = 0; row < 3; row++)
    for (let col = 0; col < 3; col++)
      out[3 * row + col] = a[3 * row]! * b[col]! + a[3 * row + 1]! * b[3 + col]! + a[3 * row + 2]! * b[6 + col]!;
  return out;
}

export function turnedBack([a, b, c, d, e, f, g, h, i]: Rotation): Rotation {
  return [a!, d!, g!, b!, e!, h!, c!, f!, i!];
}

export function turnVector(r: Rotation, [x, y, z]: Vector3): [number, number, number] {
  return [r[0]! * x + r[1]! * y + r[2]! * z, r[3]! * x + r[4]! * y + r[5]! * z, r[6]! * x + r[7]! * y + r[8]! * z];
}

/** The turn that leads from one to the other, as axis times angle in the camera's axes: to = exp(v)·from. */
export function turnBetween(from: Rotation, to: Rotation): Vector3 {
  return vectorFromRotation(turnedBy(to, turnedBack(from)));
}

/**
 * Between two turns at an even speed about one axis, the short way; t = 0 is `from`, 1 is `to`.
 * Source: K. Shoemake, Animating rotation with quaternion curves, SIGGRAPH 1985: the great arc between two unit quaternions.
 */
export function turnPartly(from: Rotation, to: Rotation, t: number): Rotation {
  const [x, y, z] = turnBetween(from, to);
  return turnedBy(rotationFromVector([x * t, y * t, z * t]), from);
}
