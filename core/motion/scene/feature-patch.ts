import { factorCholesky } from '../../base/geometry/linear-solve.ts';
import {
  ANCHOR_UNKNOWNS,
  WINDOW,
  WINDOW_AREA,
  WINDOW_HALF,
  WINDOW_SIDE,
  WINDOW_STRIDE,
} from '../../base/kernels/index.ts';

/** A window of a picture that is held on to over many frames, with what its affine fit needs (core/base/kernels, `fitWindow`). */
export interface Anchor {
  /** Planes [value less its mean, ∂/∂x, ∂/∂y] as `takeWindow` gives them. */
  readonly window: Float32Array;
  readonly mean: number;
  /** Factor of the normal equations. */
  readonly factor: Float64Array;
  /** False where the window is too flat to be held on to. */
  readonly usable: boolean;
}

/** Prepares an anchor from a window that `takeWindow` gave (which is copied). */
export function anchorOf(taken: Float32Array): Anchor {
  const window = taken.slice();
  const normal = new Float64Array(ANCHOR_UNKNOWNS ** 2);
  const row = new Float64Array(ANCHOR_UNKNOWNS);
  let mean = 0;
  for (let n = 0; n < WINDOW; n++) mean += window[n]!;
  mean /= WINDOW_AREA;
  for (let j = 0; j < WINDOW_SIDE; j++)
    for (let i = 0, n = j * WINDOW_STRIDE; i < WINDOW_SIDE; i++, n++) {
      window[n]! -= mean;
      slopes(row, window[n + WINDOW]!, window[n + 2 * WINDOW]!, window[n]!, i / WINDOW_HALF - 1, j / WINDOW_HALF - 1);
      for (let r = 0; r < ANCHOR_UNKNOWNS; r++)
        for (let k = 0; k <= r; k++) normal[r * ANCHOR_UNKNOWNS + k]! += row[r]! * row[k]!;
    }
  // The shape bends less readily than the place moves.
  for (const k of [0, 1, 2, 3]) normal[k * (ANCHOR_UNKNOWNS + 1)]! *= 1.02;
  return { window, mean, factor: normal, usable: factorCholesky(normal, ANCHOR_UNKNOWNS) };
}

/** Slopes of the eight unknowns: the affine motion (in half sides), gain and offset. */
function slopes(row: Float64Array, gx: number, gy: number, value: number, u: number, v: number): void {
  row[0] = gx * u;
  row[1] = gx * v;
  row[2] = gy * u;
  row[3] = gy * v;
  row[4] = gx;
  row[5] = gy;
  row[6] = value;
  row[7] = 1;
}
