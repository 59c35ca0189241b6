import type { PoseMemoryState } from './pose-memory.ts';
import type { ShapeTolerance } from './shape-prior.ts';
import type { ShutterState } from './shutter-estimate.ts';
import type { Evidence } from './ring-evidence.ts';

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
