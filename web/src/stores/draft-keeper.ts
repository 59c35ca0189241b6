import { checked } from '../../../core/base/schemas/check.ts';
import type { ShotDocument } from '../../../core/base/schemas/types.ts';

/** An edited document that the server has not acknowledged, with the revision it was changed from. */
export interface Draft {
  base: number;
  document: ShotDocument;
}

const keyOf = (shotId: number): string => `yarlop-draft-${shotId}`;

/** Keeps unacknowledged edits in the browser, so that a closed tab or a server that is away loses nothing. */
export function keepDraft(shotId: number, draft: Draft): void {
  try {
    localStorage.setItem(keyOf(shotId), JSON.stringify(draft));
  } catch {
    // A full or forbidden store: the edit is still in this page and on its way to the server.
  }
}

export function dropDraft(shotId: number): void {
  localStorage.removeItem(keyOf(shotId));
}

/** The draft of a shot, or null when there is none that can be read. */
export function readDraft(shotId: number): Draft | null {
  try {
    const { base, document } = JSON.parse(localStorage.getItem(keyOf(shotId)) ?? 'null') as Draft;
    return Number.isInteger(base) ? { base, document: checked('document', document, 'the kept draft') } : null;
  } catch {
    return null;
  }
}
