import type { CleanFixFile } from '../../../../core/base/schemas/types.ts';
import { useWorkspace } from '../../stores/workspace.ts';
import { useDocument } from '../../stores/document.ts';
import { usePlacedCorners } from '../../stores/placed-corners.ts';
import { fixesOf } from './fix-edits.ts';
import { riddenShape } from './ridden-shape.ts';

/** Adds a fix for what was drawn around, or painted over, on a frame, and picks it. */
export function addFix(drawn: readonly (readonly [number, number])[], frame: number): void {
  const doc = useDocument();
  const workspace = useWorkspace();
  const fix: CleanFixFile = {
    method: 'smooth',
    shape: riddenShape(drawn, frame, doc.document!.corners, usePlacedCorners().cornersAt(frame)),
  };
  doc.edit((draft) => (draft.look.clean = { ...draft.look.clean, fixes: [...fixesOf(draft), fix] }));
  workspace.picked = { list: 'fixes', index: fixesOf(doc.document!).length - 1 };
  workspace.tool = 'look';
}
