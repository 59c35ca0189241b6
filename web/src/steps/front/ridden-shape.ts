import { homographyBetweenQuads } from '../../../../core/base/geometry/estimate-homography.ts';
import { applyToPoint, type Point } from '../../../../core/base/geometry/homography.ts';
import type { Quad } from '../../../../core/base/geometry/quad.ts';
import type { FrontShape } from '../../../../core/base/schemas/types.ts';

/** What was drawn on a frame (plate px) as a shape, at home there: it rides on the surface where that is known, told as it lies on the reference frame, and stays in the picture elsewhere. */
export function riddenShape(
  drawn: readonly Point[],
  frame: number,
  corners: Quad | null,
  now: Quad | null,
): FrontShape {
  const back = corners && now && homographyBetweenQuads(now, corners);
  const points = drawn.map((p): [number, number] => {
    const [x, y] = back ? applyToPoint(back, p) : p;
    return [x, y];
  });
  return { points, home: frame, ...(back ? {} : { rides: 'plate' as const }) };
}
