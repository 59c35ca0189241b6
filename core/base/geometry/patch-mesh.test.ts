import { describe, expect, test } from 'vitest';
import { InverseMesh } from './inverse-mesh.ts';
import { bowed, flatMesh, foldedPatch, meshAt, subdivided, type PatchMesh } from './patch-mesh.ts';

const wavy = (columns: number, rows: number): PatchMesh => ({
  ...flatMesh(columns, rows),
  points: flatMesh(columns, rows).points.map(
    ([x, y]) => [x + 0.03 * Math.sin(5 * y), y + 0.02 * Math.sin(4 * x)] as const,
  ),
});

describe('meshAt', () => {
  test('a flat mesh bends nothing, with slopes of 1', () => {
    meshAt(flatMesh(5, 3), 0.37, 0.81).forEach((v, i) => expect(v).toBeCloseTo([0.37, 0.81, 1, 0, 0, 1][i]!, 12));
  });
  test('it passes through its points', () => {
    const mesh = wavy(4, 3);
    mesh.points.forEach(([x, y], i) => {
      const [u, v] = meshAt(mesh, (i % 5) / 4, Math.floor(i / 5) / 3);
      expect(u).toBeCloseTo(x, 12);
      expect(v).toBeCloseTo(y, 12);
    });
  });
  test('slopes are the differences', () => {
    const mesh = wavy(3, 4);
    const h = 1e-6;
    const [, , us, ut, vs, vt] = meshAt(mesh, 0.41, 0.63);
    const [ua, va] = meshAt(mesh, 0.41 + h, 0.63);
    const [ub, vb] = meshAt(mesh, 0.41 - h, 0.63);
    const [uc, vc] = meshAt(mesh, 0.41, 0.63 + h);
    const [ud, vd] = meshAt(mesh, 0.41, 0.63 - h);
    [us - (ua - ub) / (2 * h), vs - (va - vb) / (2 * h), ut - (uc - ud) / (2 * h), vt - (vc - vd) / (2 * h)].forEach(
      (v) => expect(v).toBeCloseTo(0, 6),
    );
  });
  test('between points it is the spline of Catmull and Rom: worked by hand', () => {
    // Heights 0, 1, 0, 2 at 0…3, in the middle of the second piece: (−0 + 9·1 + 9·0 − 2)/16.
    const heights = [0, 1, 0, 2];
    const mesh: PatchMesh = {
      columns: 3,
      rows: 1,
      points: [...heights.map((v, i) => [i / 3, v] as const), ...heights.map((v, i) => [i / 3, v + 1] as const)],
    };
    expect(meshAt(mesh, 0.5, 0)[1]).toBeCloseTo(7 / 16, 12);
  });
});

describe('bowed', () => {
  test('corners stay, the middle of each side goes out by the bow', () => {
    const mesh = bowed(flatMesh(4, 4), 0.05);
    const at = (s: number, t: number) => meshAt(mesh, s, t);
    for (const [s, t] of [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ] as const)
      expect(at(s, t).slice(0, 2)).toEqual([s, t]);
    expect(at(0.5, 0)[1]).toBeCloseTo(-0.05, 9);
    expect(at(1, 0.5)[0]).toBeCloseTo(1.05, 9);
  });
});

test('subdividing keeps the bend where the new points lie', () => {
  const mesh = wavy(2, 2);
  const fine = subdivided(mesh, 4, 4);
  expect(fine.points[7]).toEqual(meshAt(mesh, 0.5, 0.25).slice(0, 2));
});

describe('foldedPatch', () => {
  test('tells which patch is folded over', () => {
    expect(foldedPatch(wavy(4, 4))).toBeNull();
    const points = flatMesh(4, 4).points.map((p, i) => (i === 6 ? ([0.7, 0.25] as const) : p));
    expect(foldedPatch({ columns: 4, rows: 4, points })).toEqual([1, 0]);
  });
});

describe('InverseMesh', () => {
  test.each([
    [1, 1],
    [2, 3],
    [16, 16],
  ])('%d × %d patches: back and forth within a ten-thousandth of a screen', (columns, rows) => {
    const mesh = bowed(wavy(columns, rows), 0.03);
    const inverse = new InverseMesh(mesh);
    const out = new Float64Array(6);
    for (let i = 0; i < 200; i++) {
      const s = ((i * 37) % 101) / 100;
      const t = ((i * 53) % 97) / 96;
      const [u, v, us, ut, vs, vt] = meshAt(mesh, s, t);
      expect(inverse.look(u, v, out)).toBe(true);
      expect(Math.hypot(out[0]! - s, out[1]! - t)).toBeLessThan(1e-4);
      const det = us * vt - ut * vs;
      [vt / det, -ut / det, -vs / det, us / det].forEach((slope, k) =>
        expect(Math.abs(out[2 + k]! - slope)).toBeLessThan(0.02),
      );
    }
  });
  test('says where nothing of the mesh is', () =>
    expect(new InverseMesh(flatMesh(2, 2)).look(1.5, 0.5, new Float64Array(6))).toBe(false));
});
