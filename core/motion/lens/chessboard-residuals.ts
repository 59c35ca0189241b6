import type { Point } from '../../base/geometry/homography.ts';
import { rotationFromVector } from '../pose/rotation.ts';
import type { ChessboardPoint } from './find-chessboard.ts';
import { bend, type Lens } from './lens.ts';

/** Unknowns: logarithm of the focal length, middle across and down (in focal lengths of the start), k1, k2, k3; then six for each view. */
export const SHARED = 6;
export const OWN = 6;

export function lensOf(u: readonly number[], middle: Point, focal: number): Lens {
  return {
    focal: focal * Math.exp(u[0]!),
    centre: [middle[0] + focal * u[1]!, middle[1] + focal * u[2]!],
    k1: u[3]!,
    k2: u[4]!,
    k3: u[5]!,
  };
}

/** Where a board's crossing is filmed. */
export function filmed(lens: Lens, pose: readonly number[], [i, j]: Point): [number, number] {
  const r = rotationFromVector([pose[0]!, pose[1]!, pose[2]!]);
  const z = r[6]! * i + r[7]! * j + pose[5]!;
  const s = lens.focal / z;
  return bend(lens, [
    lens.centre[0] + s * (r[0]! * i + r[1]! * j + pose[3]!),
    lens.centre[1] + s * (r[3]! * i + r[4]! * j + pose[4]!),
  ]);
}

export function residualsOf(
  boards: readonly (readonly ChessboardPoint[])[],
  middle: Point,
  focal: number,
  u: readonly number[],
): Float64Array {
  const lens = lensOf(u, middle, focal);
  const out: number[] = [];
  boards.forEach((points, v) => {
    const pose = u.slice(SHARED + OWN * v, SHARED + OWN * (v + 1));
    for (const { square, at } of points) {
      const [x, y] = filmed(lens, pose, square);
      out.push(x - at[0], y - at[1]);
    }
  });
  return Float64Array.from(out);
}
