import type { Point } from '../../base/geometry/homography.ts';
import { fillPolygon } from '../../base/geometry/polygon.ts';
import type { FrontShape } from '../../base/schemas/types.ts';

/**
 * How what is under a fix is made up: from what surrounds it; from another place of the surface, with its light led over from the surroundings; from there
 * as it is; from frames on which nothing hides it.
 */
export type FillMethod = 'smooth' | 'patch' | 'clone' | 'frames' | 'glass';

/** Something on a surface that is painted out on all frames by one fix. */
export interface CleanFix {
  readonly name?: string | undefined;
  /** Around it, in shares of the surface's width and height: 0…1, also beyond for what is on its frame. */
  readonly outline?: readonly Point[] | undefined;
  /** In place of an outline: one in plate px on its home frame, with keys, that rides on the surface or stays in the picture. */
  readonly shape?: FrontShape | undefined;
  readonly method: FillMethod;
  /** Of a patch or clone: where it is taken from, in the same shares, relative. */
  readonly from?: Point | undefined;
  /** Over so many px of the picture it fades into what surrounds it. */
  readonly soft?: number | undefined;
  /** First and last frame; all unless given. */
  readonly frames?: readonly [number, number] | undefined;
  readonly off?: boolean | undefined;
}

/** Fixes that count on a frame. */
export function fixesOn(fixes: readonly CleanFix[], frame: number): CleanFix[] {
  return fixes.filter(({ off, frames }) => !off && (!frames || (frame >= frames[0] && frame <= frames[1])));
}

/** Whether any fix is filled from other frames. */
export const asksFrames = (fixes: readonly CleanFix[]): boolean =>
  fixes.some(({ off, method }) => !off && (method === 'frames' || method === 'glass'));

const GRID = 100;

/** How much of the surface an outline covers, 0…1. */
export function coveredShare(outline: readonly Point[]): number {
  const inside = new Uint8Array(GRID * GRID);
  fillPolygon(
    inside,
    GRID,
    GRID,
    outline.map(([u, v]): Point => [u * GRID, v * GRID]),
    1,
  );
  return inside.reduce((sum, v) => sum + v, 0) / inside.length;
}
