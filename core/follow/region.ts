import type { Point } from '../geometry/homography.ts';
import { fillPolygon } from '../geometry/polygon.ts';

/** An outline around pixels that move with the surface, on the reference frame, in continuous pixels. */
export interface Region {
  readonly points: readonly Point[];
}

/** An outline around pixels to leave out. `fixed` ones stay where they are in the picture, others ride with the surface. */
export interface KeepOut {
  readonly points: readonly Point[];
  readonly fixed?: boolean;
}

/**
 * 1 for each reference pixel that is looked at: inside any region and outside every keep-out; 2 where it is on the
 * screen, when the screen's corners are given and some of the region lies around them.
 */
export function regionMask(width: number, height: number, regions: readonly Region[], keepOut: readonly KeepOut[], screen?: readonly Point[]): Uint8Array {
  const mask = new Uint8Array(width * height);
  for (const region of regions) fillPolygon(mask, width, height, region.points, 1);
  for (const hole of keepOut) fillPolygon(mask, width, height, hole.points, 0);
  if (!screen) return mask;
  const inside = new Uint8Array(width * height);
  fillPolygon(inside, width, height, shrunk(screen, BORDER_SHARE), 1);
  return mask.map((v, i) => (v === 1 && inside[i] === 1 ? 2 : v));
}

/** The border of the screen, this share of its size wide, counts to the ring around it. */
const BORDER_SHARE = 0.02;

function shrunk(points: readonly Point[], share: number): Point[] {
  const cx = points.reduce((sum, p) => sum + p[0], 0) / points.length, cy = points.reduce((sum, p) => sum + p[1], 0) / points.length;
  return points.map(([x, y]) => [x + share * (cx - x), y + share * (cy - y)]);
}

/** 0 for each picture pixel under a fixed keep-out, or null when there is none. */
export function fixedMask(width: number, height: number, keepOut: readonly KeepOut[]): Uint8Array | null {
  const fixed = keepOut.filter((hole) => hole.fixed);
  if (fixed.length === 0) return null;
  const mask = new Uint8Array(width * height).fill(1);
  for (const hole of fixed) fillPolygon(mask, width, height, hole.points, 0);
  return mask;
}
