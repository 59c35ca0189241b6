import { frameAt, type LedgerScale } from './ledger-scale.ts';

/** The frame under the pointer, within the shot, for something that is dragged along a row of the ledger. */
export function frameUnder(event: PointerEvent, scale: LedgerScale, frames: number): number {
  const row = (event.currentTarget as Element).parentElement!.getBoundingClientRect();
  return Math.max(0, Math.min(frames - 1, frameAt(scale, event.clientX - row.left)));
}
