import { Problem } from '../../base/problem/problem.ts';
import { straighten, type Lens } from './lens.ts';

/** Refuses, as a Problem, a lens so strong that it does not film all of a picture of this size: it folds back before the corners. */
export function checkLens(lens: Lens, width: number, height: number, where: string): void {
  const corners = [
    [0, 0],
    [width, 0],
    [width, height],
    [0, height],
  ] as const;
  if (corners.every((p) => straighten(lens, p).every(Number.isFinite))) return;
  throw new Problem('bad-field', {
    where,
    field: 'lens',
    why: 'bends so far that the picture folds over before its corners; are k1, k2, k3 those of this focal length (px), from undistorted to distorted?',
  });
}
