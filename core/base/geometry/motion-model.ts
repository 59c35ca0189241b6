import { multiply, normalise, type Homography } from './homography.ts';

/** How a surface may move, from the stiffest to the freest. */
export type Motion = 'translation' | 'similarity' | 'affine' | 'perspective';

export const MOTIONS: readonly Motion[] = ['translation', 'similarity', 'affine', 'perspective'];

export const DEGREES_OF_FREEDOM: Readonly<Record<Motion, number>> = {
  translation: 2,
  similarity: 4,
  affine: 6,
  perspective: 8,
};

/** The stiffer of two motions. */
export function stiffer(a: Motion, b: Motion): Motion {
  return DEGREES_OF_FREEDOM[a] <= DEGREES_OF_FREEDOM[b] ? a : b;
}

/**
 * Derivatives of a small warp of (x, y) with respect to its parameters, at zero: the first `dof`
 * entries of `du` and `dv`. Order: translation (tx, ty); similarity (tx, ty, a, b) with
 * u = x + tx + a·x − b·y, v = y + ty + b·x + a·y; affine (tx, ty, and the four of x, y);
 * perspective adds the two of the last row.
 */
export function warpDerivatives(motion: Motion, x: number, y: number, du: Float64Array, dv: Float64Array): void {
  du[0] = 1;
  dv[0] = 0;
  du[1] = 0;
  dv[1] = 1;
  if (motion === 'translation') return;
  if (motion === 'similarity') {
    du[2] = x;
    dv[2] = y;
    du[3] = -y;
    dv[3] = x;
    return;
  }
  du[2] = x;
  dv[2] = 0;
  du[3] = y;
  dv[3] = 0;
  du[4] = 0;
  dv[4] = x;
  du[5] = 0;
  dv[5] = y;
  if (motion === 'affine') return;
  du[6] = -x * x;
  dv[6] = -x * y;
  du[7] = -x * y;
  dv[7] = -y * y;
}

/** The warp whose derivatives `warpDerivatives` gives, as a 3×3 map. */
export function warpFromParameters(motion: Motion, p: ArrayLike<number>): Homography {
  const at = (i: number) => p[i] ?? 0;
  switch (motion) {
    case 'translation':
      return [1, 0, at(0), 0, 1, at(1), 0, 0, 1];
    case 'similarity':
      return [1 + at(2), -at(3), at(0), at(3), 1 + at(2), at(1), 0, 0, 1];
    case 'affine':
    case 'perspective':
      return [
        1 + at(2),
        at(3),
        at(0),
        at(4),
        1 + at(5),
        at(1),
        motion === 'perspective' ? at(6) : 0,
        motion === 'perspective' ? at(7) : 0,
        1,
      ];
  }
}

/** H·W, scaled. */
export function composeWarp(h: Homography, warp: Homography): Homography {
  return normalise(multiply(h, warp));
}

/**
 * Each unknown of a motion, gain and offset included, as a sum of the perspective motion's ten [index, factor]: with it
 * the normal equations of any motion follow from those of the perspective one.
 */
export function motionBasis(motion: Motion): readonly (readonly (readonly [number, number])[])[] {
  const light = [[[8, 1]], [[9, 1]]] as const;
  if (motion === 'similarity')
    return [
      [[0, 1]],
      [[1, 1]],
      [
        [2, 1],
        [5, 1],
      ],
      [
        [3, -1],
        [4, 1],
      ],
      ...light,
    ];
  return [...Array.from({ length: DEGREES_OF_FREEDOM[motion] }, (_, k) => [[k, 1]] as const), ...light];
}
