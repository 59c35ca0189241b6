import type { Homography } from '../../base/geometry/homography.ts';
import type { Certainty } from './certainty.ts';
import type { Disagreement } from './disagreement.ts';
import type { Evidence } from './ring-evidence.ts';

/** What became of one frame. */
export interface FrameFit {
  readonly frame: number;
  /** Reference pixels to this frame's; null when the frame could not be followed. */
  readonly homography: Homography | null;
  /** Misfit in px; see `FitQuality.error`. */
  readonly error: number;
  readonly confidence: number;
  /** Longest smear in the region over the shutter, px. */
  readonly blur: number;
  /** What was listened to; absent on the reference and where the frame is lost. */
  readonly evidence?: Evidence;
  /** How sure the map is; absent on the reference itself and where the frame is lost. */
  readonly certainty?: Certainty;
  /** Why the frame is lost, as a sentence for a person. */
  readonly lost?: string;
  /** What a person should know of a frame that is not lost. */
  readonly note?: string;
  /** The frame over which it was led, where the reference could not be matched. */
  readonly over?: number;
  /** Where the region does not go with it; absent likewise. */
  readonly disagreement?: Disagreement;
}
