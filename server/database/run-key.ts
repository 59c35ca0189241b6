import { createHash } from 'node:crypto';
import type { ShotDocument } from '../../core/schemas/types.ts';

/** Names what a track is made from: plate, regions, keep-outs, reference and motion. Another key, another track. */
export function runKeyOf(document: ShotDocument, plateId: number | null): string {
  const { regions, keepOut, referenceFrame, motion } = document;
  return createHash('sha256').update(JSON.stringify([plateId, referenceFrame, motion, regions, keepOut])).digest('hex');
}
