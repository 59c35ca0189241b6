import { applyToPoints, keepsInFront, type Homography, type Point } from '../../../core/geometry/homography.ts';
import type { ShotDocument } from '../../../core/schemas/types.ts';

/**
 * Makes another frame the reference. What is drawn stays where it is seen: its points are carried there
 * by the track (`toNew`, null when that frame was not followed: then points keep their numbers).
 * Fixed keep-outs belong to the picture and stay. False when a point would pass behind the camera.
 */
export function moveReference(document: ShotDocument, frame: number, toNew: Homography | null): boolean {
  const outlines = [...document.regions, ...document.keepOut.filter((k) => !k.fixed)];
  const all: Point[] = [...outlines.flatMap((o) => o.points), ...(document.corners ?? [])];
  if (toNew && !keepsInFront(toNew, all)) return false;
  document.referenceFrame = frame;
  if (!toNew) return true;
  const carry = (points: readonly Point[]) => applyToPoints(toNew, points).map(([x, y]) => [x, y] as [number, number]);
  for (const outline of outlines) outline.points = carry(outline.points);
  if (document.corners) document.corners = carry(document.corners) as typeof document.corners;
  return true;
}
