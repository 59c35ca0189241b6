import type { CleanFixFile } from '../../../../core/base/schemas/types.ts';
import type { useBench } from '../../stores/bench.ts';
import type { useShot } from '../../stores/shot.ts';
import { fixesOf } from './fix-edits.ts';
import { riddenShape } from './ridden-shape.ts';

/** Adds a fix for what was drawn around, or painted over, on a frame, and picks it. */
export function addFix(
  shot: ReturnType<typeof useShot>,
  bench: ReturnType<typeof useBench>,
  drawn: readonly (readonly [number, number])[],
  frame: number,
): void {
  const fix: CleanFixFile = {
    method: 'smooth',
    shape: riddenShape(drawn, frame, shot.document!.corners, shot.cornersAt(frame)),
  };
  shot.edit((draft) => (draft.look.clean = { ...draft.look.clean, fixes: [...fixesOf(draft), fix] }));
  bench.picked = { list: 'fixes', index: fixesOf(shot.document!).length - 1 };
  bench.tool = 'look';
}
