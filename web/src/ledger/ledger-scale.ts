import { clamp } from '../../../core/base/geometry/clamp.ts';

/** Frames against page pixels in the ledger: the frames from `from` on, `across` of them, lie side by side over `width`. */
export interface LedgerScale {
  frames: number;
  left: number;
  width: number;
  /** First frame in view; may be a fraction while zooming. */
  from: number;
  /** How many frames are in view. */
  across: number;
}

export function wholeScale(frames: number, left: number, width: number): LedgerScale {
  return { frames, left, width, from: 0, across: Math.max(1, frames) };
}

export function frameLeft(scale: LedgerScale, frame: number): number {
  return scale.left + ((frame - scale.from) * scale.width) / scale.across;
}

export function frameMiddle(scale: LedgerScale, frame: number): number {
  return frameLeft(scale, frame + 0.5);
}

export function frameAt(scale: LedgerScale, x: number): number {
  return clamp(Math.floor(scale.from + ((x - scale.left) / scale.width) * scale.across), 0, scale.frames - 1);
}

/** First and last frame of which something is in view. */
export function framesInView({ frames, from, across }: LedgerScale): [number, number] {
  return [Math.max(0, Math.floor(from)), Math.min(frames - 1, Math.ceil(from + across) - 1)];
}

/** Frames that stand at least this wide: closer than that is not needed. */
const WIDEST = 60;

/** Zooms in time by a factor; the frame under x stays where it is. */
export function zoomTime(scale: LedgerScale, factor: number, x: number): LedgerScale {
  const least = clamp(scale.width / WIDEST, 1, scale.frames);
  const across = clamp(scale.across / factor, least, scale.frames);
  const share = (x - scale.left) / scale.width;
  return moved({ ...scale, across }, scale.from + share * (scale.across - across));
}

export function moved(scale: LedgerScale, from: number): LedgerScale {
  return { ...scale, from: Math.min(Math.max(0, from), Math.max(0, scale.frames - scale.across)) };
}

/** Brings a frame into view, with a little of what lies around it. */
export function reveal(scale: LedgerScale, frame: number): LedgerScale {
  const margin = Math.min(3, scale.across / 10);
  if (frame < scale.from + margin) return moved(scale, frame - margin);
  if (frame + 1 > scale.from + scale.across - margin) return moved(scale, frame + 1 + margin - scale.across);
  return scale;
}

/** Distance of labelled marks, so that labels stay at least `room` pixels apart: 1, 2 or 5 times a power of ten. */
export function labelStep(scale: LedgerScale, room = 46): number {
  const perFrame = scale.width / scale.across;
  for (let power = 1; ; power *= 10)
    for (const digit of [1, 2, 5]) if (digit * power * perFrame >= room) return digit * power;
}

/** Height 0…1 of an error bar: the row's top is `top` px; larger errors fill it. */
export function errorHeight(error: number, top: number): number {
  return clamp(error / top, 0.02, 1);
}

/** A round figure above the usual errors, for the row's top. */
export function errorTop(errors: readonly number[]): number {
  const sorted = [...errors].sort((a, b) => a - b);
  const high = sorted[Math.floor(0.95 * (sorted.length - 1))] ?? 0.5;
  return [0.25, 0.5, 1, 2, 5, 10, 20, 50].find((t) => t >= high * 1.3) ?? 100;
}
