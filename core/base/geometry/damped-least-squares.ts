import { solveCholesky } from './linear-solve.ts';

const STEP = 1e-6;
const SMALLEST_GAIN = 1e-12;
const MOST_ATTEMPTS = 10;

/**
 * Unknowns at which the sum of squares of `residuals` is smallest, near `start`; slopes by differences of `STEP`, so unknowns are to be of about the size of 1. Residuals must be finite at
 * the start; where they are not, a step is tried shorter.
 * Source: D. Marquardt, An algorithm for least-squares estimation of nonlinear parameters, 1963.
 */
export function dampedLeastSquares(
  residuals: (unknowns: readonly number[]) => Float64Array,
  start: readonly number[],
  rounds = 60,
): { unknowns: number[]; residuals: Float64Array } {
  const n = start.length;
  const step = new Float64Array(n);
  let unknowns = [...start];
  let here = residuals(unknowns);
  let cost = sumOfSquares(here);
  let damping = 1e-4;
  for (let round = 0; round < rounds; round++) {
    const normal = new Float64Array(n * n);
    const right = new Float64Array(n);
    const slopes = unknowns.map((_, k) => {
      const there = residuals(unknowns.map((v, i) => (i === k ? v + STEP : v)));
      return there.map((v, i) => (v - here[i]!) / STEP);
    });
    for (let r = 0; r < n; r++) {
      const row = slopes[r]!;
      for (let i = 0; i < here.length; i++) right[r]! -= row[i]! * here[i]!;
      for (let c = 0; c <= r; c++) {
        const other = slopes[c]!;
        let sum = 0;
        for (let i = 0; i < here.length; i++) sum += row[i]! * other[i]!;
        normal[r * n + c] = sum;
      }
    }
    let gained = 0;
    for (let attempt = 0; attempt < MOST_ATTEMPTS && gained === 0; attempt++) {
      const damped = normal.slice();
      for (let k = 0; k < n; k++) damped[k * n + k]! *= 1 + damping;
      if (solveCholesky(damped, right, step, n)) {
        const next = unknowns.map((v, k) => v + step[k]!);
        const there = residuals(next);
        const now = sumOfSquares(there);
        if (now < cost) {
          gained = (cost - now) / cost;
          [unknowns, here, cost] = [next, there, now];
          damping = Math.max(1e-10, damping / 10);
          break;
        }
      }
      damping *= 5;
    }
    if (gained < SMALLEST_GAIN) break;
  }
  return { unknowns, residuals: here };
}

function sumOfSquares(values: Float64Array): number {
  const sum = values.reduce((s, v) => s + v * v, 0);
  return Number.isFinite(sum) ? sum : Infinity;
}
