import type { Point } from '../../base/geometry/homography.ts';
import { fillPolygon } from '../../base/geometry/polygon.ts';
import { everCovered, outlineAt, polygonOf, type KeyedOutline } from '../../base/geometry/outline.ts';

/** An outline around pixels that move with the surface, in continuous pixels of the reference frame. Keys reshape it over time, still on the reference. */
export type Region = KeyedOutline;

/**
 * An outline around pixels to leave out. `fixed` ones stay where they are drawn in each frame's own picture, others ride
 * with the surface and are drawn on the reference.
 */
export interface KeepOut extends KeyedOutline {
  readonly fixed?: boolean | undefined;
}

/**
 * 1 for each reference pixel that is looked at on some frame: inside any region and outside every keep-out; 2 where it is
 * on the screen, when the screen's corners are given and some of the region lies around them.
 */
export function regionMask(
  width: number,
  height: number,
  regions: readonly Region[],
  keepOut: readonly KeepOut[],
  screen: readonly Point[] | undefined,
  referenceFrame: number,
): Uint8Array {
  const mask = new Uint8Array(width * height);
  for (const region of regions)
    for (const polygon of everCovered(region, referenceFrame)) fillPolygon(mask, width, height, polygon, 1);
  for (const hole of keepOut) {
    // What a moving keep-out leaves free on some frame is chosen from; each frame weighs it (region-over-time.ts).
    if (!hole.keys?.length || hole.fixed)
      fillPolygon(mask, width, height, polygonOf(outlineAt(hole, referenceFrame, referenceFrame)), 0);
  }
  if (!screen) return mask;
  const inside = new Uint8Array(width * height);
  fillPolygon(inside, width, height, shrunk(screen, BORDER_SHARE), 1);
  return mask.map((v, i) => (v === 1 && inside[i] === 1 ? 2 : v));
}

/** The border of the screen, this share of its size wide, counts to the ring around it. */
const BORDER_SHARE = 0.02;

function shrunk(points: readonly Point[], share: number): Point[] {
  const cx = points.reduce((sum, p) => sum + p[0], 0) / points.length;
  const cy = points.reduce((sum, p) => sum + p[1], 0) / points.length;
  return points.map(([x, y]) => [x + share * (cx - x), y + share * (cy - y)]);
}
