/**
 * The content frame on show at a plate frame when both start together: the one whose time span holds
 * the plate frame's time. Exact rationals, no rounding drift.
 */
export function contentFrameAt(plateFrame: number, plateRate: readonly [number, number], contentRate: readonly [number, number]): number {
  return Number((BigInt(plateFrame) * BigInt(plateRate[1]) * BigInt(contentRate[0])) / (BigInt(plateRate[0]) * BigInt(contentRate[1])));
}
