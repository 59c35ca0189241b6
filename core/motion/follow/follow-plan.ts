import type { Homography } from '../../base/geometry/homography.ts';
import type { FollowState } from './follow-state.ts';
import type { FollowSettings } from './planar-follower.ts';
import type { ShapeTolerance } from './shape-prior.ts';

/** What is to be followed, through which frames. */
export interface FollowPlan extends FollowSettings {
  readonly referenceFrame: number;
  /** The known frame to go on from; the reference unless given. */
  readonly from?: number | undefined;
  /** First and last frame to be followed, inclusive; the reference need not lie between. */
  readonly frames: readonly [number, number];
  readonly direction: 'forward' | 'backward' | 'both';
  /** Whether every frame is looked at once more when all are known. */
  readonly lastPass?: boolean | undefined;
  /** After so many lost frames in a row a way is not gone on; to its end unless given. */
  readonly patience?: number | undefined;
  /** What is known from an earlier run; null for frames that were lost. These frames are not done again. */
  readonly known?: ReadonlyMap<number, Homography | null> | undefined;
  /** How well the shape is known on these, where it is known. */
  readonly knownShapes?: ReadonlyMap<number, ShapeTolerance> | undefined;
  /** Where a run of the same plan was broken off; `known` then holds what it had handed over. */
  readonly resume?: FollowState | undefined;
}

/** Why following can't begin, as a sentence for a person. */
export class NothingToFollow extends Error {
  override name = 'NothingToFollow';
}
