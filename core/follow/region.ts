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

/** 1 for each reference pixel that is looked at: inside any region and outside every keep-out. */
export function regionMask(width: number, height: number, regions: readonly Region[], keepOut: readonly KeepOut[]): Uint8Array {
  const mask = new Uint8Array(width * height);
  for (const region of regions) fillPolygon(mask, width, height, region.points, 1);
  for (const hole of keepOut) fillPolygon(mask, width, height, hole.points, 0);
  return mask;
}

/** 0 for each picture pixel under a fixed keep-out, or null when there is none. */
export function fixedMask(width: number, height: number, keepOut: readonly KeepOut[]): Uint8Array | null {
  const fixed = keepOut.filter((hole) => hole.fixed);
  if (fixed.length === 0) return null;
  const mask = new Uint8Array(width * height).fill(1);
  for (const hole of fixed) fillPolygon(mask, width, height, hole.points, 0);
  return mask;
}
