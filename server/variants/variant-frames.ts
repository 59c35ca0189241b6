import type { RenderPlan, Shot, Variant } from '../../core/base/schemas/types.ts';
import { variantDocument } from '../../core/handoff/variants/variant-document.ts';
import type { Database } from '../database/connection.ts';
import { readDocument } from '../database/documents.ts';
import { fileOfKey } from '../send/finished-paths.ts';
import { FrameKeys } from '../send/frame-keys.ts';
import { planRender } from '../send/render-plan.ts';

/** Everything that a variant's frames depend on. @throws Problem where it cannot be rendered */
export async function planVariant(db: Database, shot: Shot, variant: Variant): Promise<RenderPlan> {
  return planRender(
    db,
    shot,
    variantDocument(await readDocument(db, shot.id, shot.revision), variant.mediaId, variant.framing),
  );
}

/** A frame of a variant as it stands: its name, and its file where it was made. */
export async function variantFrame(
  db: Database,
  shot: Shot,
  variant: Variant,
  frame: number,
  renders: string,
): Promise<{ key: string; file: string | null }> {
  const { key } = new FrameKeys(await planVariant(db, shot, variant)).of(frame, 'full');
  return { key, file: fileOfKey(renders, key) };
}
