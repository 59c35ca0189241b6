import type { Shot } from '../../core/base/schemas/types.ts';
import { run, select, type Queryable } from './connection.ts';
import { findMediaByIds, mediaReply } from './media.ts';

interface ShotRow {
  id: number;
  project_id: number;
  name: string;
  plate_id: number | null;
  revision: number;
  created_at: Date;
  archived_at: Date | null;
}

const SELECT_SHOT = 'SELECT id, project_id, name, plate_id, revision, created_at, archived_at FROM shots';

async function fromRows(db: Queryable, rows: readonly ShotRow[]): Promise<Shot[]> {
  const plates = await findMediaByIds(
    db,
    rows.flatMap((row) => row.plate_id ?? []),
  );
  return rows.map((row) => {
    const plate = row.plate_id === null ? undefined : plates.get(row.plate_id);
    return {
      id: row.id,
      projectId: row.project_id,
      name: row.name,
      revision: row.revision,
      createdAt: row.created_at.toISOString(),
      archived: row.archived_at !== null,
      plate: plate ? mediaReply(plate) : null,
    };
  });
}

export async function listShots(db: Queryable, projectId: number): Promise<Shot[]> {
  return fromRows(
    db,
    await select<ShotRow>(db, `${SELECT_SHOT} WHERE project_id = ? AND deleted_at IS NULL ORDER BY id`, [projectId]),
  );
}

export async function findShot(db: Queryable, id: number): Promise<Shot | null> {
  return (
    (await fromRows(db, await select<ShotRow>(db, `${SELECT_SHOT} WHERE id = ? AND deleted_at IS NULL`, [id])))[0] ??
    null
  );
}

export async function insertShot(db: Queryable, projectId: number, name: string): Promise<number> {
  return (await run(db, 'INSERT INTO shots (project_id, name, revision) VALUES (?, ?, 1)', [projectId, name])).id;
}

export async function renameShot(db: Queryable, id: number, name: string): Promise<void> {
  await run(db, 'UPDATE shots SET name = ? WHERE id = ?', [name, id]);
}

export async function setShotPlate(db: Queryable, id: number, mediaId: number): Promise<void> {
  await run(db, 'UPDATE shots SET plate_id = ? WHERE id = ?', [mediaId, id]);
}

export async function setShotArchived(db: Queryable, id: number, archived: boolean): Promise<void> {
  await run(db, 'UPDATE shots SET archived_at = IF(?, CURRENT_TIMESTAMP(3), NULL) WHERE id = ?', [
    archived ? 1 : 0,
    id,
  ]);
}

/** Deleted shots stay, hidden, and can be brought back. */
export async function setShotDeleted(db: Queryable, id: number, deleted: boolean): Promise<boolean> {
  const sql = deleted
    ? 'UPDATE shots SET deleted_at = CURRENT_TIMESTAMP(3) WHERE id = ? AND deleted_at IS NULL'
    : 'UPDATE shots SET deleted_at = NULL WHERE id = ? AND deleted_at IS NOT NULL';
  return (await run(db, sql, [id])).affected > 0;
}
