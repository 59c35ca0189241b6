/** Frames against page pixels in the ledger: frame f spans from left(f) to left(f + 1). */
export interface LedgerScale {
  frames: number;
  left: number;
  width: number;
}

export function frameLeft(scale: LedgerScale, frame: number): number {
  return scale.left + (frame * scale.width) / Math.max(1, scale.frames);
}

export function frameMiddle(scale: LedgerScale, frame: number): number {
  return frameLeft(scale, frame + 0.5);
}

export function frameAt(scale: LedgerScale, x: number): number {
  return Math.min(scale.frames - 1, Math.max(0, Math.floor(((x - scale.left) / scale.width) * scale.frames)));
}

/** Distance of labelled marks, so that labels stay at least `room` pixels apart: 1, 2 or 5 times a power of ten. */
export function labelStep(scale: LedgerScale, room = 46): number {
  const perFrame = scale.width / Math.max(1, scale.frames);
  for (let power = 1; ; power *= 10) for (const digit of [1, 2, 5]) if (digit * power * perFrame >= room) return digit * power;
}

/** Height 0…1 of an error bar: the row's top is `top` px; larger errors fill it. */
export function errorHeight(error: number, top: number): number {
  return Math.min(1, Math.max(0.02, error / top));
}

/** A round figure above the usual errors, for the row's top. */
export function errorTop(errors: readonly number[]): number {
  const sorted = [...errors].sort((a, b) => a - b);
  const high = sorted[Math.floor(0.95 * (sorted.length - 1))] ?? 0.5;
  return [0.25, 0.5, 1, 2, 5, 10, 20, 50].find((t) => t >= high * 1.3) ?? 100;
}
