import type { BridgedState } from './bridge-state.ts';
import type { EvidenceSpan } from './evidence-spans.ts';
import type { FollowerState } from './follower-state.ts';
import type { FrameFit } from './frame-fit.ts';

/** Where a run has got to, so that it can go on in another process. Frames that it has handed over are kept by its caller. */
export interface FollowState {
  readonly referenceDone: boolean;
  readonly leg: number;
  /** The next frame of the leg; null before its first. */
  readonly next: number | null;
  /** Followed, and waiting for its successor. */
  readonly held: FrameFit | null;
  /** Lost frames, then those found again that have not proved themselves. */
  readonly pending: readonly FrameFit[];
  readonly proven: number;
  readonly bridged: BridgedState;
  /** What was listened to on the frames that were handed over. */
  readonly evidence: readonly EvidenceSpan[];
  readonly follower: FollowerState;
}
