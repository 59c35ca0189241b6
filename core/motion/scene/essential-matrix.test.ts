import { describe, expect, test } from 'vitest';
import { randomFrom } from '../../../demo/scene/random.ts';
import { rotationFromVector, turnVector, type Vector3 } from '../pose/rotation.ts';
import { essentialsOfFive, meet, posesOfEssential, sampson, type Ray } from './essential-matrix.ts';
import { relativePose } from './two-view.ts';

const random = randomFrom(5);
const turn = rotationFromVector([0.05, -0.2, 0.08]);
const way: Vector3 = [0.9, 0.1, Math.sqrt(1 - 0.81 - 0.01)];
const points = Array.from({ length: 60 }, (): Vector3 => [4 * random() - 2, 3 * random() - 1.5, 4 + 4 * random()]);
const seen = (p: Vector3): Ray => [p[0] / p[2], p[1] / p[2]];
const moved = (p: Vector3): Vector3 => turnVector(turn, p).map((v, k) => v + way[k]!) as unknown as Vector3;
const first = points.map(seen);
const second = points.map((p) => seen(moved(p)));

describe('two views', () => {
  test('one of the solutions of five pairs is the true one; each fulfils 2·E·Eᵀ·E = trace(E·Eᵀ)·E and det E = 0 (Hartley, Zisserman 2004, §9.6)', () => {
    const found = essentialsOfFive(first.slice(0, 5), second.slice(0, 5));
    expect(found.length).toBeGreaterThan(0);
    let worst = 0;
    for (const e of found) {
      const times = (a: readonly number[], b: readonly number[]) =>
        Array.from({ length: 9 }, (_, i) =>
          [0, 1, 2].reduce((s, k) => s + a[3 * Math.floor(i / 3) + k]! * b[3 * k + (i % 3)]!, 0),
        );
      const square = times(e, [e[0]!, e[3]!, e[6]!, e[1]!, e[4]!, e[7]!, e[2]!, e[5]!, e[8]!]);
      const trace = square[0]! + square[4]! + square[8]!;
      const cube = times(square, e);
      worst = Math.max(worst, ...cube.map((v, i) => Math.abs(2 * v - trace * e[i]!)));
    }
    expect(worst).toBeLessThan(1e-9);
    expect(Math.min(...found.map((e) => Math.max(...first.map((a, i) => sampson(e, a, second[i]!)))))).toBeLessThan(
      1e-18,
    );
  });

  test('of the four places of the second camera one is the true one, and there the rays meet in the points', () => {
    const e = essentialsOfFive(first.slice(0, 5), second.slice(0, 5)).reduce((a, b) =>
      Math.max(...first.map((r, i) => sampson(a, r, second[i]!))) <
      Math.max(...first.map((r, i) => sampson(b, r, second[i]!)))
        ? a
        : b,
    );
    const offs = posesOfEssential(e).map((pose) =>
      Math.max(
        ...points.map((p, i) => {
          const at = meet(pose, first[i]!, second[i]!);
          return at ? Math.hypot(at[0] - p[0], at[1] - p[1], at[2] - p[2]) : Infinity;
        }),
      ),
    );
    expect(Math.min(...offs)).toBeLessThan(1e-6);
    expect(offs.filter((off) => off === Infinity)).toHaveLength(3);
  });

  test('a camera carried along its x axis has E = [t]× with t = (1, 0, 0), so that points move along rows (Hartley, Zisserman 2004, §9.3.1, pure translation; the matrix from memory of the book)', () => {
    const shifted = points.map((p) => seen([p[0] + 0.8, p[1], p[2]]));
    const fitting = essentialsOfFive(first.slice(0, 5), shifted.slice(0, 5)).find(
      (e) => Math.max(...first.map((a, i) => sampson(e, a, shifted[i]!))) < 1e-16,
    )!;
    const size = Math.hypot(...fitting) / Math.SQRT2;
    const sign = Math.sign(fitting[7]!);
    fitting.forEach((v, k) => expect((sign * v) / size).toBeCloseTo([0, 0, 0, 0, 0, -1, 0, 1, 0][k]!, 6));
    const found = relativePose(first, shifted, 1e-4, randomFrom(4))!;
    expect(Math.hypot(found.position[0] - 1, found.position[1], found.position[2])).toBeLessThan(1e-4);
    expect(found.rotation.map((v) => Math.round(v * 1e5) / 1e5 + 0)).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
  });

  test('a third of the pairs wrong: the pose is found from the others', () => {
    const wrong = second.map((ray, i): Ray => (i % 3 === 0 ? [ray[0] + 0.3 * random(), ray[1] - 0.3 * random()] : ray));
    const found = relativePose(first, wrong, 1e-4, randomFrom(2))!;
    expect(Math.hypot(...found.rotation.map((v, i) => v - turn[i]!))).toBeLessThan(1e-3);
    expect(Math.hypot(...found.position.map((v, i) => v - way[i]!))).toBeLessThan(5e-3);
    expect(found.points.filter((p, i) => p && i % 3 === 0).length).toBeLessThan(4);
  });

  test('fewer than eight pairs, or five that say nothing, give nothing', () => {
    expect(relativePose(first.slice(0, 7), second.slice(0, 7), 1e-3, random)).toBeNull();
    expect(
      essentialsOfFive(Array<Ray>(5).fill([0, 0]), Array<Ray>(5).fill([0, 0])).every((e) => e.every(Number.isFinite)),
    ).toBe(true);
  });
});
