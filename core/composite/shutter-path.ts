import { distance, type Quad } from '../geometry/quad.ts';
import type { LookNow } from './look.ts';

/** The corners on a frame and, where known, on its neighbours. */
export interface QuadMotion {
  readonly before: Quad | null;
  readonly now: Quad;
  readonly after: Quad | null;
}

/** The corners `time` frames away from now: a parabola through the three positions, a line through two. */
export function quadAt(motion: QuadMotion, time: number): Quad {
  const at = (corner: number, axis: 0 | 1): number => {
    const now = motion.now[corner]![axis];
    const before = motion.before?.[corner]![axis];
    const after = motion.after?.[corner]![axis];
    if (before !== undefined && after !== undefined) return now + (time * (after - before)) / 2 + (time * time * (after - 2 * now + before)) / 2;
    if (after !== undefined) return now + time * (after - now);
    return before === undefined ? now : now + time * (now - before);
  };
  return [0, 1, 2, 3].map((corner) => [at(corner, 0), at(corner, 1)] as const) as unknown as Quad;
}

/** Sub-frames per pixel of smear that keep the error under 1/255 for hard-edged content, and the most that are used. */
const STEPS_PER_PIXEL = 2.5;
const MOST_STEPS = 128;

/** Evenly spaced moments of the open shutter, in frames relative to the frame's time. */
export function shutterTimes(motion: QuadMotion, blur: LookNow['motionBlur'], mostSteps = MOST_STEPS): number[] {
  const open = blur.shutter / 360, middle = blur.phase / 360;
  const start = quadAt(motion, middle - open / 2), end = quadAt(motion, middle + open / 2);
  const smear = Math.max(...start.map((corner, i) => distance(corner, end[i]!)));
  const steps = Math.min(mostSteps, Math.max(1, Math.ceil(smear * STEPS_PER_PIXEL)));
  return Array.from({ length: steps }, (_, k) => middle + open * ((k + 0.5) / steps - 0.5));
}
