import type { Plane } from '../image/plane.ts';

/** A plane with its horizontal and vertical derivative (per sample), all of one size. */
export interface GradientPlane {
  readonly width: number;
  readonly height: number;
  readonly value: Float32Array;
  readonly dx: Float32Array;
  readonly dy: Float32Array;
}

/** Inputs of `accumulateNormalEquations`, one entry a point that has a say. */
export interface NormalEquationInput {
  count: number;
  /** Number of motion parameters; two more columns follow for gain and offset. */
  dof: number;
  /** Derivatives of the warped picture with respect to each motion parameter: `dof` columns of `stride` entries. */
  jacobian: Float32Array;
  stride: number;
  template: Float32Array;
  residual: Float32Array;
  weight: Float32Array;
}

/**
 * The hot loops behind one signature. The plain set is the reference; a WebAssembly set takes its
 * place where it is available, and a test holds the two equal.
 */
export interface KernelSet {
  readonly name: string;

  /** `to` = `from` smoothed by 1-4-6-4-1 (borders reflected, not repeating the outermost) at even samples. */
  pyramidDown(from: Plane, to: Plane): void;

  /** Central differences; one-sided at the border. */
  gradients(plane: Plane): GradientPlane;

  /**
   * Samples value and derivatives bilinearly at H·(xs, ys) in sample indices. Derivatives are carried
   * back through the map: with respect to the coordinates of the points before it. `inside[i]` is 1
   * where all four neighbours exist, else 0 and the other outputs are 0. Returns how many are inside.
   */
  sampleWarped(
    plane: GradientPlane, h: ArrayLike<number>, xs: Float32Array, ys: Float32Array, count: number,
    value: Float32Array, dx: Float32Array, dy: Float32Array, inside: Uint8Array,
  ): number;

  /**
   * The weighted normal equations, (dof+2)² row-major and symmetric, for rows [J, −T, −1] and
   * right-hand side −residual.
   */
  accumulateNormalEquations(input: NormalEquationInput, matrix: Float64Array, rightSide: Float64Array): void;
}
