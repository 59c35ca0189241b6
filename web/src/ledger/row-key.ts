/** What a pressed key does to a key of a ledger's row: Enter goes to its frame, Delete removes it, the arrows move it by a frame. Others are left to whoever comes next. */
export function rowKey(
  event: KeyboardEvent,
  { go, remove, move }: { readonly go: () => void; readonly remove: () => void; readonly move: (by: 1 | -1) => void },
): void {
  switch (event.key) {
    case 'Enter':
      go();
      break;
    case 'Delete':
      remove();
      break;
    case 'ArrowLeft':
      move(-1);
      break;
    case 'ArrowRight':
      move(1);
      break;
    default:
      return;
  }
  event.preventDefault();
  event.stopPropagation();
}
