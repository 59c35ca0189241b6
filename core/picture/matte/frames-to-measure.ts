import { speedOfCorners, type Quad } from '../../base/geometry/quad.ts';

/** Frames of a shot that are looked at, spread over it. */
const MEASURED_FRAMES = 12;
/** A surface that moves farther than this, px a frame, is smeared: its borders are no borders of colour, and what lies behind it is mixed in. */
const CALM = 6;
/** With fewer frames than this where it is calm, smeared ones are looked at too. */
const ENOUGH = 3;

/**
 * Frames to measure a screen on, of those where it is known (in order): evenly spread, first and last near the ends, each the calmest of its stretch where
 * the one in its middle is smeared. Smeared ones are left out where some are calm.
 */
export function framesToMeasure(
  known: readonly number[],
  quadAt: (frame: number) => Quad | null | undefined,
): number[] {
  const n = Math.min(MEASURED_FRAMES, known.length);
  const speeds = new Map<number, number>();
  const speed = (frame: number): number => {
    const now = quadAt(frame);
    let told = speeds.get(frame);
    if (told === undefined)
      speeds.set(frame, (told = now ? speedOfCorners(quadAt(frame - 1), now, quadAt(frame + 1)) : 0));
    return told;
  };
  const chosen = Array.from({ length: n }, (_, k) => {
    const middle = known[Math.floor(((k + 0.5) * known.length) / n)]!;
    if (speed(middle) <= CALM) return middle;
    return known
      .slice(Math.floor((k * known.length) / n), Math.floor(((k + 1) * known.length) / n))
      .reduce((a, b) => (speed(b) < speed(a) ? b : a), middle);
  });
  const calm = chosen.filter((frame) => speed(frame) <= CALM);
  return calm.length >= Math.min(ENOUGH, n) ? calm : chosen;
}
