import { createHash } from 'node:crypto';
import type { ShotDocument } from '../../core/base/schemas/types.ts';

/** Names what maps of a track lead from: the plate, the reference frame, and the lens where there is one. With another key they mean something else; from where they were seen does not matter. */
export function runKeyOf({ referenceFrame, lens }: ShotDocument, plateId: number | null): string {
  return createHash('sha256')
    .update(JSON.stringify([plateId, referenceFrame, ...(lens ? [lens] : [])]))
    .digest('hex');
}

/** What a follow looks at; a track that was begun with the same can be carried on with. */
export function sameQuestion(a: ShotDocument, b: ShotDocument): boolean {
  const question = ({ regions, keepOut, motion, corners, points, lastPass }: ShotDocument) =>
    JSON.stringify([regions, keepOut, motion, corners, points, lastPass]);
  return question(a) === question(b);
}
