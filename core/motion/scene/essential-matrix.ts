import { EigenvalueDecomposition, Matrix, SingularValueDecomposition, solve } from 'ml-matrix';
import type { Rotation, Vector3 } from '../pose/rotation.ts';

/** A ray by the place where it meets the plane at distance 1 before the camera. */
export type Ray = readonly [number, number];

/** An essential matrix E (row-major): [x′ y′ 1]·E·[x y 1]ᵀ = 0 for rays of a first and a second camera. */
export type Essential = readonly number[];

/** Powers of x, y, z of the monomials of degree three and less, those of degree three first. */
const POWERS: readonly (readonly [number, number, number])[] = [
  [3, 0, 0],
  [2, 1, 0],
  [2, 0, 1],
  [1, 2, 0],
  [1, 1, 1],
  [1, 0, 2],
  [0, 3, 0],
  [0, 2, 1],
  [0, 1, 2],
  [0, 0, 3],
  [2, 0, 0],
  [1, 1, 0],
  [1, 0, 1],
  [0, 2, 0],
  [0, 1, 1],
  [0, 0, 2],
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
  [0, 0, 0],
];
const PLACE = new Map(POWERS.map((p, i) => [p.join(), i]));
/** Place of the product of two monomials, −1 where its degree is more than three. */
const PRODUCT = POWERS.map((a) => POWERS.map((b) => PLACE.get([a[0] + b[0], a[1] + b[1], a[2] + b[2]].join()) ?? -1));
/** What a solution whose eigenvalue is this far off the real line is not. */
const IMAGINARY = 1e-6;

/**
 * The essential matrices (up to ten) that five pairs of rays allow.
 * Source: D. Nistér, An efficient solution to the five-point relative pose problem, PAMI 26(6), 2004, by way of the action matrix:
 * H. Stewénius, C. Engels, D. Nistér, Recent developments on direct relative orientation, ISPRS Journal 60(4), 2006.
 */
export function essentialsOfFive(first: readonly Ray[], second: readonly Ray[]): Essential[] {
  if (first.length !== 5 || second.length !== 5)
    throw new RangeError(`five pairs are needed, not ${first.length} and ${second.length}`);
  const rows = new Matrix(9, 9);
  first.forEach(([x, y], i) => {
    const [u, v] = second[i]!;
    rows.setRow(i, [u * x, u * y, u, v * x, v * y, v, x, y, 1]);
  });
  const { rightSingularVectors: vectors } = new SingularValueDecomposition(rows, { computeLeftSingularVectors: false });
  const basis = [5, 6, 7, 8].map((k) => vectors.getColumn(k));
  const constraints = constraintsOf(basis);
  const left = constraints.subMatrix(0, 9, 0, 9);
  const right = constraints.subMatrix(0, 9, 10, 19);
  let reduced: Matrix;
  try {
    reduced = solve(left, right);
  } catch {
    return [];
  }
  // Multiplying by x takes the monomials of degree two and less to ones that the equations express by them again.
  const action = new Matrix(10, 10);
  [0, 1, 2, 3, 4, 5].forEach((row) =>
    action.setRow(
      row,
      reduced.getRow(row).map((v) => -v),
    ),
  );
  for (const [row, column] of [
    [6, 0],
    [7, 1],
    [8, 2],
    [9, 6],
  ] as const)
    action.set(row, column, 1);
  if (action.to1DArray().some((v) => !Number.isFinite(v))) return [];
  const eigen = new EigenvalueDecomposition(action);
  const out: Essential[] = [];
  eigen.imaginaryEigenvalues.forEach((imaginary, k) => {
    const v = eigen.eigenvectorMatrix.getColumn(k);
    const w = v[9]!;
    if (Math.abs(imaginary) > IMAGINARY || Math.abs(w) < 1e-12) return;
    const [x, y, z] = [v[6]! / w, v[7]! / w, v[8]! / w];
    const e = basis[0]!.map((_, i) => x * basis[0]![i]! + y * basis[1]![i]! + z * basis[2]![i]! + basis[3]![i]!);
    const size = Math.hypot(...e);
    out.push(e.map((value) => value / size));
  });
  return out;
}

/** The ten equations: E·Eᵀ·E − ½·trace(E·Eᵀ)·E = 0 and det E = 0, coefficients in the order of POWERS. */
function constraintsOf(basis: readonly number[][]): Matrix {
  const linear = (i: number) => {
    const p = new Float64Array(20);
    [16, 17, 18, 19].forEach((at, k) => (p[at] = basis[k]![i]!));
    return p;
  };
  const e = Array.from({ length: 9 }, (_, i) => linear(i));
  const times = (a: Float64Array, b: Float64Array, into: Float64Array, sign = 1) => {
    for (let i = 0; i < 20; i++)
      if (a[i] !== 0) for (let k = 0; k < 20; k++) if (b[k] !== 0) into[PRODUCT[i]![k]!]! += sign * a[i]! * b[k]!;
    return into;
  };
  const fresh = () => new Float64Array(20);
  const square = Array.from({ length: 9 }, (_, i) => {
    const row = Math.floor(i / 3);
    const column = i % 3;
    const out = fresh();
    for (let k = 0; k < 3; k++) times(e[3 * row + k]!, e[3 * column + k]!, out);
    return out;
  });
  const trace = square[0]!.map((v, i) => v + square[4]![i]! + square[8]![i]!);
  const less = square.map((p, i) => (i % 4 === 0 ? p.map((v, k) => v - trace[k]! / 2) : p));
  const out = new Matrix(10, 20);
  for (let i = 0; i < 9; i++) {
    const row = fresh();
    for (let k = 0; k < 3; k++) times(less[3 * Math.floor(i / 3) + k]!, e[3 * k + (i % 3)]!, row);
    out.setRow(i, [...row]);
  }
  const det = fresh();
  for (const [a, b, c, sign] of [
    [0, 4, 8, 1],
    [1, 5, 6, 1],
    [2, 3, 7, 1],
    [2, 4, 6, -1],
    [1, 3, 8, -1],
    [0, 5, 7, -1],
  ] as const)
    times(times(e[a]!, e[b]!, fresh()), e[c]!, det, sign);
  out.setRow(9, [...det]);
  return out;
}

/** Square of the distance of a pair from its epipolar lines, to first order. Source: P. Sampson, 1982, as in Hartley, Zisserman 2004, §11.4.3. */
export function sampson(e: Essential, [x, y]: Ray, [u, v]: Ray): number {
  const a = e[0]! * x + e[1]! * y + e[2]!;
  const b = e[3]! * x + e[4]! * y + e[5]!;
  const c = e[6]! * x + e[7]! * y + e[8]!;
  const p = e[0]! * u + e[3]! * v + e[6]!;
  const q = e[1]! * u + e[4]! * v + e[7]!;
  const off = u * a + v * b + c;
  return (off * off) / Math.max(1e-30, a * a + b * b + p * p + q * q);
}

/** Where a second camera is seen from a first: X → R·X + t, |t| = 1. */
export interface RelativePose {
  readonly rotation: Rotation;
  readonly position: Vector3;
}

/** The four places of a second camera that an essential matrix allows. Source: Hartley, Zisserman 2004, result 9.19. */
export function posesOfEssential(e: Essential): RelativePose[] {
  const svd = new SingularValueDecomposition(new Matrix([[...e.slice(0, 3)], [...e.slice(3, 6)], [...e.slice(6, 9)]]), {
    autoTranspose: true,
  });
  const w = new Matrix([
    [0, -1, 0],
    [1, 0, 0],
    [0, 0, 1],
  ]);
  const u = svd.leftSingularVectors;
  const v = svd.rightSingularVectors;
  const t = u.getColumn(2);
  const turns = [u.mmul(w).mmul(v.transpose()), u.mmul(w.transpose()).mmul(v.transpose())].map((r) => {
    const flat = r.to1DArray();
    const det =
      flat[0]! * (flat[4]! * flat[8]! - flat[5]! * flat[7]!) -
      flat[1]! * (flat[3]! * flat[8]! - flat[5]! * flat[6]!) +
      flat[2]! * (flat[3]! * flat[7]! - flat[4]! * flat[6]!);
    return det < 0 ? flat.map((value) => -value) : flat;
  });
  return turns.flatMap((rotation) =>
    [1, -1].map((sign) => ({ rotation, position: [sign * t[0]!, sign * t[1]!, sign * t[2]!] as const })),
  );
}

/**
 * The place of a point (in the first camera's axes) seen along two rays: the middle of the shortest line between them; null where they run
 * alongside each other, or meet behind a camera. Source: P. Beardsley, A. Zisserman, D. Murray, Sequential updating of projective and affine
 * structure from motion, IJCV 23(3), 1997.
 */
export function meet(
  { rotation: r, position: t }: RelativePose,
  [x, y]: Ray,
  [u, v]: Ray,
): [number, number, number] | null {
  // The second ray and camera in the first one's axes.
  const b = [0, 1, 2].map((k) => r[k]! * u + r[3 + k]! * v + r[6 + k]!);
  const c = [0, 1, 2].map((k) => -(r[k]! * t[0] + r[3 + k]! * t[1] + r[6 + k]! * t[2]));
  const aa = x * x + y * y + 1;
  const ab = x * b[0]! + y * b[1]! + b[2]!;
  const bb = b[0]! ** 2 + b[1]! ** 2 + b[2]! ** 2;
  const ac = x * c[0]! + y * c[1]! + c[2]!;
  const bc = b[0]! * c[0]! + b[1]! * c[1]! + b[2]! * c[2]!;
  const det = aa * bb - ab * ab;
  if (!(det > 1e-12 * aa * bb)) return null;
  const s = (bb * ac - ab * bc) / det;
  const q = (ab * ac - aa * bc) / det;
  if (!(s > 0 && q > 0)) return null;
  return [(s * x + c[0]! + q * b[0]!) / 2, (s * y + c[1]! + q * b[1]!) / 2, (s + c[2]! + q * b[2]!) / 2];
}
