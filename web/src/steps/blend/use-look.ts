import { computed } from 'vue';
import type { Look, LookReason } from '../../../../core/base/schemas/types.ts';
import { useProposal } from '../../stores/proposal.ts';
import { useDocument } from '../../stores/document.ts';

/** The document's look, and edits of it. A value set by hand is no longer the measured one: its reason goes. */
export function useLook() {
  const doc = useDocument();
  const proposal = useProposal();
  const look = computed<Look>(() => doc.document!.look);
  function change(recipe: (look: Look) => void, ...measured: string[]): void {
    doc.edit((draft) => {
      recipe(draft.look);
      if (!draft.look.why) return;
      const left = Object.fromEntries(Object.entries(draft.look.why).filter(([name]) => !measured.includes(name)));
      if (Object.keys(left).length > 0) draft.look.why = left;
      else delete draft.look.why;
    });
  }
  const whyOf = (name: string): { why: LookReason | undefined; stale: boolean } => ({
    why: look.value.why?.[name],
    stale: proposal.isStale(look.value.why?.[name]),
  });
  return { look, change, whyOf };
}
