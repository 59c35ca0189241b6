import { homographyBetweenQuads } from '../../../../core/base/geometry/estimate-homography.ts';
import type { Quad } from '../../../../core/base/geometry/quad.ts';
import { carryOutline, type KeyedOutline } from '../../../../core/base/geometry/outline.ts';
import { applyToPoint } from '../../../../core/base/geometry/homography.ts';
import type { FrontShape } from '../../../../core/base/schemas/types.ts';
import { outlinesOf } from '../follow/outlines-of.ts';
import { useDocument } from '../../stores/document.ts';
import { usePlacedCorners } from '../../stores/placed-corners.ts';

/** Lets a shape of a list ride on the surface, or stay in the picture; on the frame on show it stays where it is seen. */
export function rideOn(
  list: 'shapes' | 'fixes' | 'split',
  index: number,
  rides: NonNullable<FrontShape['rides']>,
  frame: number,
): void {
  const doc = useDocument();
  const corners = doc.document!.corners as Quad | null;
  const now = usePlacedCorners().cornersAt(frame);
  const shape = outlinesOf(doc.document!, list)[index];
  if (!shape || (('rides' in shape ? shape.rides : undefined) ?? 'surface') === rides) return;
  const map =
    corners && now
      ? rides === 'plate'
        ? homographyBetweenQuads(corners, now)
        : homographyBetweenQuads(now, corners)
      : null;
  const moved = map ? carryOutline(shape as KeyedOutline, (p) => applyToPoint(map, p)) : shape;
  doc.edit((draft) => {
    Object.assign(outlinesOf(draft, list)[index]!, moved, { rides });
  });
}
