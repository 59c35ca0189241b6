import { numberAt } from '../../../../core/base/time/keyframes.ts';
import { bowed, foldedPatch, subdivided, type PatchMesh } from '../../../../core/base/geometry/patch-mesh.ts';
import { keyedPoints } from '../../../../core/picture/look/look.ts';
import type { SurfaceMesh } from '../../../../core/base/schemas/types.ts';

type Points = NonNullable<SurfaceMesh['keys']>[number]['points'];
const asPoints = (mesh: PatchMesh): Points => mesh.points.map(([x, y]) => [x, y]) as unknown as Points;

/** The mesh as it is bent on a frame, its bow counted. */
export function shownMesh(mesh: SurfaceMesh, frame: number): PatchMesh {
  const bow = numberAt(mesh.bow ?? 0, frame);
  const plain = keyedPoints(mesh, frame);
  return bow === 0 ? plain : bowed(plain, bow);
}

/** Which points go along when one is moved: it alone, its row, or its column. */
export type Along = 'point' | 'row' | 'column';

/**
 * Moves points of a mesh on a frame by shares of the surface, making a key there where the mesh is keyed (or is not yet). With `symmetric` the points
 * opposite go the other way across. False, and nothing done, where the mesh would fold over itself.
 */
export function movePoints(
  mesh: SurfaceMesh,
  frame: number,
  index: number,
  along: Along,
  [du, dv]: readonly [number, number],
  symmetric: boolean,
): boolean {
  const across = mesh.columns + 1;
  const row = Math.floor(index / across);
  const col = index % across;
  const now = keyedPoints(mesh, frame);
  const moved = now.points.map(([x, y]): [number, number] => [x, y]);
  const goes = (i: number, c: number) =>
    along === 'row' ? Math.floor(i / across) === row : along === 'column' ? i % across === c : i === row * across + c;
  moved.forEach((point, i) => {
    const mirrored = symmetric && along !== 'row' && mesh.columns - col !== col && goes(i, mesh.columns - col);
    if (goes(i, col)) [point[0], point[1]] = [point[0] + du, point[1] + dv];
    else if (mirrored) [point[0], point[1]] = [point[0] - du, point[1] + dv];
  });
  if (foldedPatch({ ...now, points: moved })) return false;
  setPoints(mesh, frame, moved as unknown as Points);
  return true;
}

/** One key alone holds on all frames: it is changed wherever it stands. */
function setPoints(mesh: SurfaceMesh, frame: number, points: Points): void {
  const keys = mesh.keys ?? [];
  const there = keys.find((key) => key.frame === frame) ?? (keys.length === 1 ? keys[0] : undefined);
  mesh.keys = there
    ? keys.map((key) => (key === there ? { ...key, points } : key))
    : [...keys, { frame, points }].sort((a, b) => a.frame - b.frame);
}

/** Keys the mesh on a frame, or takes the key there away. */
export function toggleMeshKey(mesh: SurfaceMesh, frame: number): void {
  const keys = mesh.keys ?? [];
  const left = keys.filter((key) => key.frame !== frame);
  if (left.length === keys.length)
    mesh.keys = [...keys, { frame, points: asPoints(keyedPoints(mesh, frame)) }].sort((a, b) => a.frame - b.frame);
  else if (left.length > 0) mesh.keys = left;
  else delete mesh.keys;
}

/** The mesh in more or fewer patches; its bend stays where its points lie. */
export function patchesTo(mesh: SurfaceMesh, columns: number, rows: number): SurfaceMesh {
  const keys = mesh.keys?.map((key) => ({
    ...key,
    points: asPoints(subdivided({ columns: mesh.columns, rows: mesh.rows, points: key.points }, columns, rows)),
  }));
  return { ...mesh, columns, rows, ...(keys ? { keys } : {}) };
}

/** A mesh that bends nothing. */
export const newMesh = (): SurfaceMesh => ({ columns: 4, rows: 4 });

/** Places along each patch's side in what is drawn of the mesh. */
const STEPS = 6;

/** The lines of a mesh, each as places of the surface. */
export function meshLines(
  mesh: PatchMesh,
  at: (mesh: PatchMesh, s: number, t: number) => readonly number[],
): [number, number][][] {
  const line = (n: number, place: (k: number) => readonly [number, number]) =>
    Array.from({ length: n + 1 }, (_, k): [number, number] => {
      const [s, t] = place(k);
      const [u, v] = at(mesh, s, t);
      return [u!, v!];
    });
  const nx = STEPS * mesh.columns;
  const ny = STEPS * mesh.rows;
  return [
    ...Array.from({ length: mesh.rows + 1 }, (_, j) => line(nx, (k) => [k / nx, j / mesh.rows])),
    ...Array.from({ length: mesh.columns + 1 }, (_, i) => line(ny, (k) => [i / mesh.columns, k / ny])),
  ];
}
