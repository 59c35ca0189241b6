import type { Shot } from '../../core/schemas/types.ts';
import { run, select, type Queryable } from './connection.ts';
import { findMedia, mediaReply } from './media.ts';

interface ShotRow {
  id: number;
  project_id: number;
  name: string;
  plate_id: number | null;
  revision: number;
  created_at: Date;
}

const SELECT_SHOT = 'SELECT id, project_id, name, plate_id, revision, created_at FROM shots';

async function fromRow(db: Queryable, row: ShotRow): Promise<Shot> {
  const plate = row.plate_id === null ? null : await findMedia(db, row.plate_id);
  return {
    id: row.id, projectId: row.project_id, name: row.name, revision: row.revision, createdAt: row.created_at.toISOString(), plate: plate && mediaReply(plate),
  };
}

export async function listShots(db: Queryable, projectId: number): Promise<Shot[]> {
  const rows = await select<ShotRow>(db, `${SELECT_SHOT} WHERE project_id = ? AND deleted_at IS NULL ORDER BY id`, [projectId]);
  return Promise.all(rows.map((row) => fromRow(db, row)));
}

export async function findShot(db: Queryable, id: number): Promise<Shot | null> {
  const [row] = await select<ShotRow>(db, `${SELECT_SHOT} WHERE id = ? AND deleted_at IS NULL`, [id]);
  return row ? fromRow(db, row) : null;
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

/** Deleted shots stay, hidden, and can be brought back. */
export async function setShotDeleted(db: Queryable, id: number, deleted: boolean): Promise<boolean> {
  const sql = deleted
    ? 'UPDATE shots SET deleted_at = CURRENT_TIMESTAMP(3) WHERE id = ? AND deleted_at IS NULL'
    : 'UPDATE shots SET deleted_at = NULL WHERE id = ? AND deleted_at IS NOT NULL';
  return (await run(db, sql, [id])).affected > 0;
}
