import { inverse, Matrix, solve } from 'ml-matrix';
import { expect, test } from 'vitest';
import { randomFrom } from '../../../demo/scene/random.ts';
import { factorCholesky, inverseOfFactor, solveCholesky } from './linear-solve.ts';

test('solves a symmetric positive definite system like the linear algebra library', () => {
  const random = randomFrom(3);
  const n = 10;
  const square = Matrix.from1DArray(
    n,
    n,
    Array.from({ length: n * n }, () => random() - 0.5),
  );
  const matrix = square.mmul(square.transpose()).add(Matrix.eye(n, n, 0.1));
  const right = Array.from({ length: n }, () => random());
  const x = new Float64Array(n);
  expect(solveCholesky(Float64Array.from(matrix.to1DArray()), Float64Array.from(right), x, n)).toBe(true);
  const expected = solve(matrix, Matrix.columnVector(right)).to1DArray();
  expected.forEach((v, i) => expect(x[i]).toBeCloseTo(v, 8));
  const factor = Float64Array.from(matrix.to1DArray());
  expect(factorCholesky(factor, n)).toBe(true);
  inverse(matrix)
    .to1DArray()
    .forEach((v, i) => expect(inverseOfFactor(factor, n)[i]).toBeCloseTo(v, 7));
});

test('says when the matrix is not positive definite', () => {
  expect(solveCholesky(Float64Array.from([1, 2, 2, 1]), Float64Array.from([1, 1]), new Float64Array(2), 2)).toBe(false);
  expect(solveCholesky(new Float64Array(4), new Float64Array(2), new Float64Array(2), 2)).toBe(false);
});
