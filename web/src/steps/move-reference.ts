import { applyToPoints, keepsInFront, type Homography, type Point } from '../../../core/base/geometry/homography.ts';
import { carryOutline, outlineAt, type KeyedOutline } from '../../../core/base/geometry/outline.ts';
import { moveCorrections } from '../../../core/surface/seat/corrections.ts';
import type { KeepOutOutline, OutlineKey, RegionOutline, ShotDocument } from '../../../core/base/schemas/types.ts';

/**
 * Makes another frame the reference. What is drawn stays where it is seen: its points are carried there
 * by the track (`toNew`, null when that frame was not followed: then points keep their numbers).
 * Fixed keep-outs belong to the picture and stay. False when a point would pass behind the camera.
 */
export function moveReference(document: ShotDocument, frame: number, toNew: Homography | null): boolean {
  const outlines = [...document.regions, ...document.keepOut.filter((k) => !k.fixed)];
  const all: Point[] = [
    ...outlines.flatMap((o) => [...o.points, ...(o.keys ?? []).flatMap((key) => key.points)]),
    ...(document.corners ?? []),
  ];
  if (toNew && !keepsInFront(toNew, all)) return false;
  const old = document.referenceFrame;
  document.referenceFrame = frame;
  // The outline on the new reference becomes the one that is kept; what it was on the old one, a key.
  for (const outline of [...document.regions, ...document.keepOut])
    if (outline.keys?.length) rekey(outline, old, frame);
  if (!toNew) return true;
  const carry = (points: readonly Point[]) => applyToPoints(toNew, points).map(([x, y]) => [x, y] as [number, number]);
  for (const outline of outlines)
    Object.assign(
      outline,
      carryOutline(outline as KeyedOutline, (p) => carry([p])[0]!),
    );
  if (!document.corners) return true;
  if (!document.corrections?.length) {
    document.corners = carry(document.corners) as typeof document.corners;
    return true;
  }
  const moved = moveCorrections(document.corners, document.corrections, old, frame, (point) => carry([point])[0]!);
  document.corners = moved.corners.map(([x, y]) => [x, y]) as typeof document.corners;
  document.corrections = moved.corrections.map((c) => ({ ...c, ease: c.ease ?? 'smooth' }));
  if (document.corrections.length === 0) delete document.corrections;
  return true;
}

function rekey(outline: RegionOutline | KeepOutOutline, old: number, frame: number): void {
  const { points, handles } = outlineAt(outline, old, frame);
  const was: OutlineKey = {
    frame: old,
    points: outline.points,
    ...(outline.handles ? { handles: outline.handles } : {}),
  };
  outline.keys = [...outline.keys!.filter((key) => key.frame !== frame), was].sort((a, b) => a.frame - b.frame);
  outline.points = points.map(([x, y]) => [x, y]);
  if (handles) outline.handles = handles.map((h) => [...h]) as typeof outline.handles;
  else delete outline.handles;
}
