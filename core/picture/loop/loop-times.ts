import { clamp } from '../../base/geometry/clamp.ts';

/** How a span of frames becomes a loop: its last `fade` frames go over into its first ones, which are not shown again. */
export interface LoopTimes {
  readonly first: number;
  readonly last: number;
  readonly fade: number;
  /** Frames of the loop. */
  readonly length: number;
}

export function loopTimes(first: number, last: number, fade: number): LoopTimes {
  return { first, last, fade, length: last - first + 1 - fade };
}

/** What a frame of the loop is made of: a plate's frame, and where the end goes over into the beginning the other one and how much of the time has gone, 0…1. */
export function loopFrame(
  { first, last, fade, length }: LoopTimes,
  index: number,
): { frame: number; partner: number | null; part: number } {
  const frame = first + fade + index;
  const into = frame - (last - fade);
  return into <= 0 ? { frame, partner: null, part: 0 } : { frame, partner: frame - length, part: into / (fade + 1) };
}

/** Slow at both ends, so that nothing starts or stops at once: 3t² − 2t³. */
export function smooth(t: number): number {
  const c = clamp(t, 0, 1);
  return c * c * (3 - 2 * c);
}
