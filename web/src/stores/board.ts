import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import type { Board, BoardLayer } from '../../../core/base/schemas/types.ts';
import { useDocument } from './document.ts';

/** The board of the shot on the bench: what is picked on it, and how it is looked at. */
export const useBoard = defineStore('board', () => {
  const doc = useDocument();
  const board = computed<Board | null>(() => doc.document?.look.board ?? null);
  /** Ids of the picked layers; the last one is what the column shows. */
  const picked = ref<readonly string[]>([]);
  /** Whether the board lies in place of the plate, to be worked on. */
  const open = ref(false);
  /** How much of the plate, flattened, is seen through it, 0…1. */
  const through = ref(0.25);
  const layer = computed<BoardLayer | null>(
    () => board.value?.layers.find((l) => l.id === picked.value.at(-1)) ?? null,
  );

  function pick(id: string, more = false): void {
    picked.value = !more
      ? [id]
      : picked.value.includes(id)
        ? picked.value.filter((p) => p !== id)
        : [...picked.value, id];
  }
  /** One step of undo; while something is dragged, `settle` ends it. */
  function change(recipe: (board: Board) => void, how: 'edit' | 'drag' = 'edit'): void {
    doc[how]((draft) => {
      if (draft.look.board) recipe(draft.look.board);
    });
  }
  function changePicked(recipe: (layer: BoardLayer) => void, how: 'edit' | 'drag' = 'edit'): void {
    const ids = picked.value;
    change((draft) => draft.layers.filter((l) => ids.includes(l.id)).forEach(recipe), how);
  }
  return { board, picked, open, through, layer, pick, change, changePicked };
});
