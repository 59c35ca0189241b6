import type { Point } from '../geometry/homography.ts';

/** How what is under a fix is made up: from what surrounds it; from another place of the surface; from frames on which nothing hides it. */
export type FillMethod = 'smooth' | 'patch';

/** Something on a surface that is painted out on all frames by one fix. */
export interface CleanFix {
  readonly name?: string | undefined;
  /** Around it, in shares of the surface's width and height: 0…1, also beyond for what is on its frame. */
  readonly outline: readonly Point[];
  readonly method: FillMethod;
  /** Of a patch: where it is taken from, in the same shares, relative. */
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
