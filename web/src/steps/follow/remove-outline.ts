import { useWorkspace } from '../../stores/workspace.ts';
import { fixesOf } from '../front/fix-edits.ts';
import { areasOf, outlinesOf, type OutlineKind } from './outlines-of.ts';
import { useDocument } from '../../stores/document.ts';

/** Takes an outline away and picks nothing. */
export function removeOutline(list: OutlineKind, index: number): void {
  useDocument().edit((draft) => {
    if (list === 'areas') areasOf(draft).splice(index, 1);
    else if (list === 'split') delete draft.loop!.split;
    else if (list === 'fixes') {
      fixesOf(draft).splice(index, 1);
      if (fixesOf(draft).length === 0) delete draft.look.clean;
    } else if (list === 'cast') {
      draft.look.cast!.areas.splice(index, 1);
      if (draft.look.cast!.areas.length === 0) delete draft.look.cast;
    } else if (list === 'reflection') delete draft.look.reflections;
    else outlinesOf(draft, list).splice(index, 1);
  });
  useWorkspace().picked = null;
}
