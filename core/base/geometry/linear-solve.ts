/**
 * Solves A·x = b for a symmetric positive definite A of n×n numbers (row-major, lower triangle read),
 * by Cholesky's factorisation. A is overwritten by its factor, x by the solution.
 * Returns false when A is not positive definite: then x is unusable.
 *
 * Source: G. Golub, C. Van Loan, Matrix Computations, 4th ed. 2013, §4.2.
 */
export function solveCholesky(a: Float64Array, b: Float64Array, x: Float64Array, n: number): boolean {
  if (!factorCholesky(a, n)) return false;
  substitute(a, b, x, n);
  return true;
}

/** In place: A becomes L with A = L·Lᵀ. False when a pivot is not safely positive. */
export function factorCholesky(a: Float64Array, n: number): boolean {
  for (let j = 0; j < n; j++) {
    let pivot = a[j * n + j]!;
    const original = pivot;
    for (let k = 0; k < j; k++) pivot -= a[j * n + k]! ** 2;
    if (!(pivot > 1e-13 * Math.abs(original)) || !(pivot > 0)) return false;
    const root = Math.sqrt(pivot);
    a[j * n + j] = root;
    for (let i = j + 1; i < n; i++) {
      let sum = a[i * n + j]!;
      for (let k = 0; k < j; k++) sum -= a[i * n + k]! * a[j * n + k]!;
      a[i * n + j] = sum / root;
    }
  }
  return true;
}

/** The inverse of L·Lᵀ for the factor L of `factorCholesky`, n×n, row-major. */
export function inverseOfFactor(l: Float64Array, n: number): Float64Array {
  const out = new Float64Array(n * n);
  const unit = new Float64Array(n);
  const column = new Float64Array(n);
  for (let k = 0; k < n; k++) {
    unit.fill(0);
    unit[k] = 1;
    substitute(l, unit, column, n);
    out.set(column, k * n);
  }
  return out;
}

/** x with L·Lᵀ·x = b for the factor L of `factorCholesky`. */
export function substitute(l: Float64Array, b: ArrayLike<number>, x: Float64Array, n: number): void {
  for (let i = 0; i < n; i++) {
    let sum = b[i]!;
    for (let k = 0; k < i; k++) sum -= l[i * n + k]! * x[k]!;
    x[i] = sum / l[i * n + i]!;
  }
  for (let i = n - 1; i >= 0; i--) {
    let sum = x[i]!;
    for (let k = i + 1; k < n; k++) sum -= l[k * n + i]! * x[k]!;
    x[i] = sum / l[i * n + i]!;
  }
}
