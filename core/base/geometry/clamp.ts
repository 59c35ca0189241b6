/** A value no less than `least` and no more than `most`; `most` where the two are the wrong way round, and no number stays none. */
export function clamp(value: number, least: number, most: number): number {
  return Math.min(most, Math.max(least, value));
}
