import { describe, expect, test } from 'vitest';
import { meshAt } from '../../../../core/base/geometry/patch-mesh.ts';
import type { SurfaceMesh } from '../../../../core/base/schemas/types.ts';
import { meshLines, movePoints, newMesh, patchesTo, shownMesh, toggleMeshKey } from './mesh-edits.ts';

const close = (points: readonly (readonly number[])[], i: number, at: readonly [number, number]) =>
  at.forEach((v, k) => expect(points[i]![k]).toBeCloseTo(v, 9));

describe('points of a mesh', () => {
  test('one alone, its row, its column', () => {
    const mesh = newMesh();
    expect(movePoints(mesh, 3, 6, 'point', [0.02, 0.01], false)).toBe(true);
    close(shownMesh(mesh, 0).points, 6, [0.27, 0.26]);
    movePoints(mesh, 9, 10, 'row', [0, 0.03], false);
    for (let i = 10; i < 15; i++) expect(shownMesh(mesh, 0).points[i]![1]).toBeCloseTo(0.53, 9);
    movePoints(mesh, 9, 1, 'column', [0.01, 0], false);
    close(shownMesh(mesh, 0).points, 21, [0.26, 1]);
    expect(mesh.keys).toHaveLength(1);
  });
  test('symmetric moves go the other way across', () => {
    const mesh = newMesh();
    movePoints(mesh, 0, 5, 'point', [-0.02, 0.01], true);
    close(shownMesh(mesh, 0).points, 5, [-0.02, 0.26]);
    close(shownMesh(mesh, 0).points, 9, [1.02, 0.26]);
  });
  test('a move that would fold it is not made', () => {
    const mesh = newMesh();
    expect(movePoints(mesh, 0, 6, 'point', [0.4, 0], false)).toBe(false);
    expect(mesh.keys).toBeUndefined();
  });
  test('keyed on two frames it changes between them', () => {
    const mesh = newMesh();
    movePoints(mesh, 0, 12, 'point', [0.02, 0], false);
    toggleMeshKey(mesh, 10);
    movePoints(mesh, 10, 12, 'point', [0.04, 0], false);
    expect(mesh.keys).toHaveLength(2);
    close(shownMesh(mesh, 5).points, 12, [0.54, 0.5]);
    toggleMeshKey(mesh, 10);
    toggleMeshKey(mesh, 0);
    expect(mesh.keys).toBeUndefined();
  });
  test('more patches keep the bend; lines follow it', () => {
    const mesh: SurfaceMesh = { ...newMesh(), bow: 0.05 };
    movePoints(mesh, 0, 12, 'point', [0.03, 0.02], false);
    const fine = patchesTo(mesh, 8, 8);
    const a = meshAt(shownMesh({ ...mesh, bow: 0 }, 0), 0.5, 0.5);
    const b = meshAt(shownMesh({ ...fine, bow: 0 }, 0), 0.5, 0.5);
    expect(b[0]).toBeCloseTo(a[0], 9);
    const lines = meshLines(shownMesh(mesh, 0), meshAt);
    expect(lines).toHaveLength(10);
    expect(lines[0]![12]![1]).toBeCloseTo(-0.05, 6);
  });
});
