import type { KeyedMotion } from './hand-keys.ts';

/** What is known of a frame that is not keyed. */
export interface BetweenFrame {
  readonly frame: number;
  /** How far off its corners may be, px; null where nobody has looked. */
  readonly bound: number | null;
}

/** A frame with a key at most so far away needs none. */
const NEAR = 1;
/** How fast what is guessed grows with the distance from the keys, px a frame. */
const GROWS = 0.5;

/**
 * The frame on which the next key brings most: where the picture was looked at, the one that may be furthest off; else where most is guessed, the middle
 * of long ways before their ends. Null where every frame is a key or beside one.
 */
export function nextKey(
  motion: KeyedMotion,
  keys: readonly number[],
  frames: readonly BetweenFrame[],
): { frame: number; off: number } | null {
  let best: { frame: number; off: number } | null = null;
  for (const { frame, bound } of frames) {
    const away = Math.min(...keys.map((k) => Math.abs(k - frame)));
    if (away < NEAR) continue;
    const off = bound ?? motion.guessed(frame) + GROWS * away;
    if (!best || off > best.off) best = { frame, off };
  }
  return best;
}
