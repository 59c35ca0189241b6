import type { ShapeTolerance } from './shape-prior.ts';
import type { ShutterState } from './shutter-estimate.ts';
import type { Evidence } from './ring-evidence.ts';

/** What a shot has told of camera and plane. */
export interface PoseMemoryState {
  readonly known: readonly number[];
  /** 3×3, row-major. */
  readonly covariance: readonly number[];
  readonly leftOver: number;
}

/** All that a follower has learnt about a shot, as plain values. */
export interface FollowerState {
  readonly noise: number;
  readonly usualDetail: number;
  readonly usualSides: readonly number[];
  readonly evidence: Evidence;
  readonly agreeing: number;
  readonly conflicts: number;
  readonly shutter: ShutterState;
  readonly shape: ShapeTolerance | null;
  readonly pose: PoseMemoryState | null;
  readonly trust: readonly number[];
  /** [frame, gain, offset]. */
  readonly lights: readonly (readonly [number, number, number])[];
  /** [frame, shape, perspective]: how well the shape is known there. */
  readonly shapes: readonly (readonly [number, number, number])[];
}
