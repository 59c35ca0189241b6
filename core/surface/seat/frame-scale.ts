import { jacobianAt, type Homography } from '../../base/geometry/homography.ts';

/** Frame px for a reference px at a place. */
export function scaleAt(map: Homography, corner: readonly [number, number]): number {
  const [a, b, c, d] = jacobianAt(map, corner);
  return Math.sqrt(Math.abs(a * d - b * c));
}
