import type { Homography } from '../../base/geometry/homography.ts';
import type { Certainty } from './certainty.ts';

/** What a followed frame comes to in our coordinates; null where it was lost. */
export interface TrackedFrame {
  readonly frame: number;
  readonly homography: Homography | null;
  readonly error: number;
  readonly confidence: number;
  readonly certainty?: Certainty;
  readonly lost?: string;
  readonly note?: string;
}
