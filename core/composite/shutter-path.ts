import { distance, type Quad } from '../geometry/quad.ts';
import type { LookNow } from './look.ts';

/** The corners on a frame and, where known, on its neighbours. */
export interface QuadMotion {
  readonly before: Quad | null;
  readonly now: Quad;
  readonly after: Quad | null;
  /** Two frames away, where their nearer neighbours are known too. */
  readonly earlier?: Quad | null | undefined;
  readonly later?: Quad | null | undefined;
}

/** A surface's motion about a frame, of corners by frame. */
export function motionAbout(cornersAt: (frame: number) => Quad | null | undefined, frame: number): QuadMotion | null {
  const now = cornersAt(frame);
  if (!now) return null;
  const before = cornersAt(frame - 1) ?? null, after = cornersAt(frame + 1) ?? null;
  return { before, now, after, earlier: (before && cornersAt(frame - 2)) ?? null, later: (after && cornersAt(frame + 2)) ?? null };
}

/** Times, in frames, at which a motion is known, in order. */
function knownTimes({ before, after, earlier, later }: QuadMotion): { time: number; of: 'earlier' | 'before' | 'now' | 'after' | 'later' }[] {
  return [
    ...(before && earlier ? [{ time: -2, of: 'earlier' as const }] : []), ...(before ? [{ time: -1, of: 'before' as const }] : []), { time: 0, of: 'now' as const },
    ...(after ? [{ time: 1, of: 'after' as const }] : []), ...(after && later ? [{ time: 2, of: 'later' as const }] : []),
  ];
}

/**
 * The corners `time` frames away from now: the polynomial through all known positions (a line through two, a parabola through three, one of the
 * fourth degree through five), by Lagrange's formula. On a jerk of four frames the parabola is a tenth too slow in its middle.
 */
export function quadAt(motion: QuadMotion, time: number): Quad {
  const known = knownTimes(motion), weights = known.map(({ time: own }) => known.reduce((w, { time: other }) => (other === own ? w : (w * (time - other)) / (own - other)), 1));
  const at = (corner: number, axis: 0 | 1) => known.reduce((sum, { of }, k) => sum + weights[k]! * motion[of]![corner]![axis], 0);
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
