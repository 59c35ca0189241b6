import { clamp } from './clamp.ts';
import type { Point } from './homography.ts';

/**
 * A mesh of bicubic patches that bends a surface: `columns` × `rows` patches, their corners given in shares of the flat
 * surface's width and height, row by row. Between them every row and every column of points is a natural-ended
 * Catmull-Rom spline, so that the mesh passes through its points. Source: E. Catmull, R. Rom, A class of local
 * interpolating splines, 1974; the tensor product of two.
 */
export interface PatchMesh {
  readonly columns: number;
  readonly rows: number;
  /** (columns + 1) × (rows + 1) points. */
  readonly points: readonly Point[];
}

export const LEAST_PATCHES = 1;
export const MOST_PATCHES = 16;

/** The mesh that bends nothing. */
export function flatMesh(columns: number, rows: number): PatchMesh {
  return {
    columns,
    rows,
    points: Array.from({ length: (columns + 1) * (rows + 1) }, (_, i): Point => [
      (i % (columns + 1)) / columns,
      Math.floor(i / (columns + 1)) / rows,
    ]),
  };
}

/**
 * The usual case by one number: the four sides bulge outward (or, negative, inward) as a parabola by `bow` shares of the surface's
 * width and height in their middle, corners stay.
 */
export function bowed(mesh: PatchMesh, bow: number): PatchMesh {
  const { columns, rows } = mesh;
  return {
    ...mesh,
    points: mesh.points.map(([x, y], i): Point => {
      const u = (i % (columns + 1)) / columns;
      const v = Math.floor(i / (columns + 1)) / rows;
      return [x + bow * 4 * v * (1 - v) * (2 * u - 1), y + bow * 4 * u * (1 - u) * (2 * v - 1)];
    }),
  };
}

/** Weights of the points before, at, after and beyond the piece that `t` (0 … pieces) lies in, and their slopes by t. */
interface Weights {
  readonly first: number;
  readonly w: readonly [number, number, number, number];
  readonly d: readonly [number, number, number, number];
}

/** At the ends the neighbour beyond is the mirrored one: 2·p0 − p1. */
function splineWeights(t: number, pieces: number): Weights {
  const piece = clamp(Math.floor(t), 0, pieces - 1);
  const f = t - piece;
  const w = [
    ((-0.5 * f + 1) * f - 0.5) * f,
    (1.5 * f - 2.5) * f * f + 1,
    ((-1.5 * f + 2) * f + 0.5) * f,
    (0.5 * f - 0.5) * f * f,
  ];
  const d = [(-1.5 * f + 2) * f - 0.5, (4.5 * f - 5) * f, (-4.5 * f + 4) * f + 0.5, (1.5 * f - 1) * f];
  for (const k of [w, d]) {
    if (piece === 0) {
      k[1]! += 2 * k[0]!;
      k[2]! -= k[0]!;
      k[0] = 0;
    }
    if (piece === pieces - 1) {
      k[2]! += 2 * k[3]!;
      k[1]! -= k[3]!;
      k[3] = 0;
    }
  }
  return { first: piece - 1, w: w as unknown as Weights['w'], d: d as unknown as Weights['d'] };
}

/** Where (s, t) of the bent surface, 0…1 over the mesh, lies on the flat one: [u, v, ∂u/∂s, ∂u/∂t, ∂v/∂s, ∂v/∂t]. Also a little beyond. */
export function meshAt(
  { columns, rows, points }: PatchMesh,
  s: number,
  t: number,
): [number, number, number, number, number, number] {
  const a = splineWeights(s * columns, columns);
  const b = splineWeights(t * rows, rows);
  const out: [number, number, number, number, number, number] = [0, 0, 0, 0, 0, 0];
  for (let j = 0; j < 4; j++) {
    for (let i = 0; i < 4; i++) {
      const col = a.first + i;
      const row = b.first + j;
      if (col < 0 || row < 0 || col > columns || row > rows) continue;
      const [x, y] = points[row * (columns + 1) + col]!;
      const w = a.w[i]! * b.w[j]!;
      const ws = a.d[i]! * b.w[j]! * columns;
      const wt = a.w[i]! * b.d[j]! * rows;
      out[0] += w * x;
      out[1] += w * y;
      out[2] += ws * x;
      out[3] += wt * x;
      out[4] += ws * y;
      out[5] += wt * y;
    }
  }
  return out;
}

/** The mesh with every row and column of patches split in two (or more), the bend unchanged where the points lie. */
export function subdivided(mesh: PatchMesh, columns: number, rows: number): PatchMesh {
  return {
    columns,
    rows,
    points: flatMesh(columns, rows).points.map(([s, t]): Point => {
      const [u, v] = meshAt(mesh, s, t);
      return [u, v];
    }),
  };
}

/** Looks along each patch to tell whether the mesh is folded over itself. */
const LOOKS = 5;

/** The first patch (column, row) that turns over, or null: the mesh's map must keep its orientation all over. */
export function foldedPatch(mesh: PatchMesh): [column: number, row: number] | null {
  for (let row = 0; row < mesh.rows; row++) {
    for (let col = 0; col < mesh.columns; col++) {
      for (let j = 0; j < LOOKS; j++) {
        for (let i = 0; i < LOOKS; i++) {
          const [, , us, ut, vs, vt] = meshAt(
            mesh,
            (col + i / (LOOKS - 1)) / mesh.columns,
            (row + j / (LOOKS - 1)) / mesh.rows,
          );
          if (us * vt - ut * vs <= 1e-4) return [col, row];
        }
      }
    }
  }
  return null;
}
