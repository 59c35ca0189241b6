import { inverse, Matrix } from 'ml-matrix';
import { expect, test } from 'vitest';
import { randomFrom } from '../../../demo/scene/random.ts';
import { solveChain } from './block-chain.ts';

test('is the solution and the covariance of the whole system, which the linear algebra library solves at once', () => {
  const random = randomFrom(2);
  const size = 3;
  const links = 6;
  const n = size * links;
  const diagonal = Array.from({ length: links }, () => {
    const a = Matrix.from1DArray(
      size,
      size,
      Array.from({ length: 9 }, () => random() - 0.5),
    );
    return a.mmul(a.transpose()).add(Matrix.eye(size, size, 0.2));
  });
  const right = diagonal.map(() => Matrix.columnVector([random(), random(), random()]));
  const tie = Array.from({ length: links - 1 }, () => Float64Array.from([random(), 2 * random(), random()]));
  const whole = Matrix.zeros(n, n);
  const side = Matrix.zeros(n, 1);
  diagonal.forEach((d, f) => {
    for (let i = 0; i < size; i++) {
      side.set(f * size + i, 0, right[f]!.get(i, 0));
      for (let k = 0; k < size; k++)
        whole.set(f * size + i, f * size + k, whole.get(f * size + i, f * size + k) + d.get(i, k));
      const t = tie[f]?.[i];
      if (t === undefined) continue;
      const a = f * size + i;
      const b = a + size;
      whole.set(a, a, whole.get(a, a) + t);
      whole.set(b, b, whole.get(b, b) + t);
      whole.set(a, b, -t);
      whole.set(b, a, -t);
    }
  });
  const inverted = inverse(whole);
  const expected = inverted.mmul(side);
  const { x, covariance } = solveChain(diagonal, right, tie);
  for (let f = 0; f < links; f++) {
    for (let i = 0; i < size; i++) {
      expect(x[f]![i]).toBeCloseTo(expected.get(f * size + i, 0), 9);
      for (let k = 0; k < size; k++)
        expect(covariance[f]!.get(i, k)).toBeCloseTo(inverted.get(f * size + i, f * size + k), 9);
    }
  }
});

test('one link by itself needs no ties', () => {
  const { x } = solveChain([Matrix.eye(2, 2, 4)], [Matrix.columnVector([8, -2])], []);
  expect([...x[0]!]).toEqual([2, -0.5]);
});
