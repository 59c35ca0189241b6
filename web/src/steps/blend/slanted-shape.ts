import { grownOutline } from '../../../../core/base/geometry/grow-outline.ts';
import { applyToPoint } from '../../../../core/base/geometry/homography.ts';
import { homographyBetweenQuads } from '../../../../core/base/geometry/estimate-homography.ts';
import { distance, UNIT_SQUARE, type Quad } from '../../../../core/base/geometry/quad.ts';
import type { FrontShape } from '../../../../core/base/schemas/types.ts';

/** A soft slanted shape over a third of the surface: where a drawn reflection starts. */
export function slantedShape(quad: Quad): FrontShape {
  const h = homographyBetweenQuads(UNIT_SQUARE, quad)!;
  const soft = 0.04 * distance(quad[0], quad[1]);
  return {
    points: (
      [
        [0.52, 0],
        [0.9, 0],
        [0.62, 1],
        [0.24, 1],
      ] as const
    )
      .map((p) => applyToPoint(h, p))
      .map(([x, y]): [number, number] => [x, y]),
    soft: [soft, soft],
  };
}

/** A soft band about the device: where cast light starts. */
export function bandAround(quad: Quad): FrontShape {
  const wide = distance(quad[0], quad[1]);
  return { points: grownOutline(quad, 0.05 * wide).map(([x, y]): [number, number] => [x, y]), soft: [0, 0.4 * wide] };
}
