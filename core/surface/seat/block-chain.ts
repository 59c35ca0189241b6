import { inverse, Matrix } from 'ml-matrix';

/**
 * A chain of least-squares unknowns of the same size, each tied to its neighbours: block-tridiagonal normal equations with
 * `diagonal[f]`, `right[f]` of every link and `tie[f]` = T, where (x[f+1] − x[f])ᵀ·T·(x[f+1] − x[f]) is added to the sum (T diagonal).
 * Gives the solution and the covariance of every link by itself.
 *
 * Source: the two-filter form of the fixed-interval smoother, D. Fraser, J. Potter, The optimum linear smoother as a combination of two
 * optimum linear filters, IEEE Trans. Automatic Control 14(4), 1969.
 */
export function solveChain(
  diagonal: readonly Matrix[],
  right: readonly Matrix[],
  tie: readonly Float64Array[],
): { x: Float64Array[]; covariance: Matrix[] } {
  const n = diagonal.length;
  const size = n > 0 ? diagonal[0]!.rows : 0;
  const own = diagonal.map((d, f) => {
    const sum = d.clone();
    for (let i = 0; i < size; i++)
      sum.set(i, i, sum.get(i, i) + (f > 0 ? tie[f - 1]![i]! : 0) + (f + 1 < n ? tie[f]![i]! : 0));
    return sum;
  });
  // What reaches a link from its left and from its right: information and its right-hand side.
  const message = (order: readonly number[], tieOf: (f: number, next: number) => Float64Array) => {
    const information: (Matrix | null)[] = new Array<Matrix | null>(n).fill(null);
    const shift: (Matrix | null)[] = new Array<Matrix | null>(n).fill(null);
    for (let k = 0; k + 1 < order.length; k++) {
      const f = order[k]!;
      const next = order[k + 1]!;
      const t = tieOf(f, next);
      const known = information[f];
      const moved = shift[f];
      const inverted = inverse(known ? Matrix.sub(own[f]!, known) : own[f]!);
      const scaled = inverted.mmul(moved ? Matrix.add(right[f]!, moved) : right[f]!);
      information[next] = scaleBoth(inverted, t);
      shift[next] = Matrix.columnVector(scaled.to1DArray().map((v, i) => t[i]! * v));
    }
    return { information, shift };
  };
  const forward = message([...Array(n).keys()], (f) => tie[f]!);
  const backward = message([...Array(n).keys()].reverse(), (_, next) => tie[next]!);
  const x: Float64Array[] = [];
  const covariance: Matrix[] = [];
  for (let f = 0; f < n; f++) {
    let matrix = own[f]!;
    let side = right[f]!;
    for (const { information, shift } of [forward, backward]) {
      const known = information[f];
      const moved = shift[f];
      if (known) matrix = Matrix.sub(matrix, known);
      if (moved) side = Matrix.add(side, moved);
    }
    const inverted = inverse(matrix);
    covariance.push(inverted);
    x.push(Float64Array.from(inverted.mmul(side).to1DArray()));
  }
  return { x, covariance };
}

function scaleBoth(m: Matrix, t: Float64Array): Matrix {
  const out = m.clone();
  for (let i = 0; i < m.rows; i++) for (let k = 0; k < m.columns; k++) out.set(i, k, m.get(i, k) * t[i]! * t[k]!);
  return out;
}
