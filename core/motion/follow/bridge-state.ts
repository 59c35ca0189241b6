import type { Homography } from '../../base/geometry/homography.ts';
import type { Disagreement } from './disagreement.ts';
import type { FollowerState } from './follower-state.ts';

/** A followed frame that others may be led over. */
export interface KeyFrame {
  readonly frame: number;
  /** Reference pixels to this frame's. */
  readonly homography: Homography;
  /** How far off that may be at the region's corners (95 %), px of this frame. */
  readonly off: number;
  /** What did not go with it: not part of what is followed over it. */
  readonly disagreement?: Disagreement | undefined;
}

/** Where a run that is led over a keyframe stands. */
export interface BridgeState {
  readonly key: KeyFrame;
  readonly follower: FollowerState;
}

/** What a follower that bridges keeps, as plain values. */
export interface BridgedState {
  readonly bridge: BridgeState | null;
  readonly candidate: KeyFrame | null;
  /** The frame on which a keyframe was tried last. */
  readonly tried: number | null;
}
