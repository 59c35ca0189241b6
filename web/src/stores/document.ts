import { produce } from 'immer';
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import type { ShotDocument } from '../../../core/base/schemas/types.ts';
import { EditHistory } from '../history/edit-history.ts';

/** Changes a draft of the document in place. */
export type Recipe = (draft: ShotDocument) => void;

/** The document after a recipe; what the recipe happens to return (an assignment's value) is not a document. */
function changed(document: ShotDocument, recipe: Recipe): ShotDocument {
  return produce(document, (draft) => {
    recipe(draft);
  });
}

/** The document of the open shot, with undo and redo. */
export const useDocument = defineStore('document', () => {
  const document = shallowRef<ShotDocument | null>(null);
  const undoable = ref({ undo: false, redo: false });
  let history: EditHistory<ShotDocument> | null = null;
  const listeners = new Set<(document: ShotDocument) => void>();

  /** Begins with a document as it was stored, without anything to undo; null where no shot is open. */
  function begin(stored: ShotDocument | null): void {
    history = stored && new EditHistory(stored);
    show();
  }
  /** Calls `listener` after every edit, of a drag only when it has ended; until what it returns is called. */
  function onEdited(listener: (document: ShotDocument) => void): () => void {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }
  function show(): void {
    document.value = history?.present ?? null;
    undoable.value = { undo: history?.canUndo ?? false, redo: history?.canRedo ?? false };
  }
  function edited(): void {
    show();
    for (const listener of listeners) listener(history!.present);
  }

  /** One edit, one step of undo. */
  function edit(recipe: Recipe): void {
    if (history) replace(changed(history.present, recipe));
  }
  /** Another document in the place of this one, as one step of undo. */
  function replace(next: ShotDocument): void {
    history?.commit(next);
    if (history) edited();
  }
  /** A change while something is dragged; `settle` makes it one step of undo and saves it. */
  function drag(recipe: Recipe): void {
    history?.change(changed(history.present, recipe));
    show();
  }
  function settle(): void {
    if (history?.settle()) edited();
  }
  function undo(): void {
    if (history?.undo()) edited();
  }
  function redo(): void {
    if (history?.redo()) edited();
  }
  return { document, undoable, begin, onEdited, edit, replace, drag, settle, undo, redo };
});
