import { isDeepStrictEqual } from 'node:util';
import { Problem } from '../../core/base/problem/problem.ts';
import { checked } from '../../core/base/schemas/check.ts';
import type { Revision, ShotDocument } from '../../core/base/schemas/types.ts';
import { run, select, transaction, type Database, type Queryable } from './connection.ts';

/** A shot's document as it stands in a new shot. */
export const EMPTY_DOCUMENT: ShotDocument = {
  format: 'yarlop-shot/1',
  referenceFrame: 0,
  motion: 'perspective',
  regions: [],
  keepOut: [],
  corners: null,
  contentId: null,
  look: { fit: 'stretch' },
  testCard: false,
};

export async function insertFirstRevision(db: Queryable, shotId: number, document: ShotDocument): Promise<void> {
  await run(db, 'INSERT INTO shot_revisions (shot_id, revision, document) VALUES (?, 1, ?)', [
    shotId,
    JSON.stringify(document),
  ]);
}

export async function readDocument(db: Queryable, shotId: number, revision: number): Promise<ShotDocument> {
  const [row] = await select<{ document: unknown }>(
    db,
    'SELECT document FROM shot_revisions WHERE shot_id = ? AND revision = ?',
    [shotId, revision],
  );
  if (!row) throw new Problem('not-found', { thing: `revision ${revision} of shot`, id: shotId });
  return checked('document', row.document, `revision ${revision} of shot ${shotId}`);
}

export async function listRevisions(db: Queryable, shotId: number): Promise<Revision[]> {
  const rows = await select<{ revision: number; created_at: Date }>(
    db,
    'SELECT revision, created_at FROM shot_revisions WHERE shot_id = ? ORDER BY revision DESC LIMIT 500',
    [shotId],
  );
  return rows.map((row) => ({ revision: row.revision, createdAt: row.created_at.toISOString() }));
}

/**
 * Saves a document as the next revision if nobody saved since `base`; else a stale-save Problem that
 * tells the newest revision. The shot's row is locked meanwhile, so of two savers one is refused.
 */
export async function saveDocument(
  db: Database,
  shotId: number,
  base: number,
  document: ShotDocument,
): Promise<number> {
  return transaction(db, (connection) => saveDocumentIn(connection, shotId, base, document));
}

/** The same inside a transaction that does more. */
export async function saveDocumentIn(
  connection: Queryable,
  shotId: number,
  base: number,
  document: ShotDocument,
): Promise<number> {
  const [shot] = await select<{ revision: number }>(
    connection,
    'SELECT revision FROM shots WHERE id = ? AND deleted_at IS NULL FOR UPDATE',
    [shotId],
  );
  if (!shot) throw new Problem('not-found', { thing: 'shot', id: shotId });
  if (shot.revision !== base) {
    // The same save again: its first answer was lost on the way. It is reported as saved, not as a conflict.
    if (
      shot.revision === base + 1 &&
      isDeepStrictEqual(await readDocument(connection, shotId, shot.revision), document)
    )
      return shot.revision;
    throw new Problem('stale-save', { current: shot.revision, base });
  }
  const next = base + 1;
  await run(connection, 'INSERT INTO shot_revisions (shot_id, revision, document) VALUES (?, ?, ?)', [
    shotId,
    next,
    JSON.stringify(document),
  ]);
  await run(connection, 'UPDATE shots SET revision = ? WHERE id = ?', [next, shotId]);
  return next;
}
