import type { LedgerScale } from './ledger-scale.ts';
import { frameUnder } from './frame-under.ts';

/** Dragging something of a row of the ledger from frame to frame: `move` says whether it could be moved there, `drop` ends it. */
export function useRowDrag<Held extends { frame: number }>(
  where: () => { scale: LedgerScale; frames: number },
  move: (held: Held, to: number) => boolean,
  drop: (held: Held) => void,
) {
  let held: Held | null = null;
  return {
    take(event: PointerEvent, what: Held): void {
      held = what;
      (event.currentTarget as Element).setPointerCapture(event.pointerId);
    },
    onMove(event: PointerEvent): void {
      const what = held;
      const { scale, frames } = where();
      if (!what) return;
      const to = frameUnder(event, scale, frames);
      if (to !== what.frame && move(what, to)) held = { ...what, frame: to };
    },
    onUp(): void {
      const what = held;
      held = null;
      if (what) drop(what);
    },
  };
}
