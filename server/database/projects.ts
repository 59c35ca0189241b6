import type { Project } from '../../core/base/schemas/types.ts';
import { run, select, type Queryable } from './connection.ts';
import { findMediaByIds, pictureAddress } from './media.ts';

interface ProjectRow {
  id: number;
  name: string;
  shots: number;
  created_at: Date;
  archived_at: Date | null;
  plate_id: number | null;
}

const SELECT_PROJECT = `
  SELECT p.id, p.name, p.created_at, p.archived_at, COUNT(s.id) AS shots, MIN(CASE WHEN m.state = 'ready' THEN m.id END) AS plate_id
  FROM projects p
  LEFT JOIN shots s ON s.project_id = p.id AND s.deleted_at IS NULL
  LEFT JOIN media m ON m.id = s.plate_id`;

async function fromRows(db: Queryable, rows: readonly ProjectRow[]): Promise<Project[]> {
  const plates = await findMediaByIds(
    db,
    rows.flatMap((row) => row.plate_id ?? []),
  );
  return rows.map((row) => {
    const plate = row.plate_id === null ? undefined : plates.get(Number(row.plate_id));
    return {
      id: row.id,
      name: row.name,
      shots: Number(row.shots),
      createdAt: row.created_at.toISOString(),
      archived: row.archived_at !== null,
      picture: plate ? pictureAddress(plate, 0) : null,
    };
  });
}

export async function listProjects(db: Queryable): Promise<Project[]> {
  return fromRows(
    db,
    await select<ProjectRow>(db, `${SELECT_PROJECT} WHERE p.deleted_at IS NULL GROUP BY p.id ORDER BY p.name, p.id`),
  );
}

export async function findProject(db: Queryable, id: number): Promise<Project | null> {
  const rows = await select<ProjectRow>(db, `${SELECT_PROJECT} WHERE p.id = ? AND p.deleted_at IS NULL GROUP BY p.id`, [
    id,
  ]);
  return (await fromRows(db, rows))[0] ?? null;
}

export async function createProject(db: Queryable, name: string): Promise<number> {
  return (await run(db, 'INSERT INTO projects (name) VALUES (?)', [name])).id;
}

export async function renameProject(db: Queryable, id: number, name: string): Promise<void> {
  await run(db, 'UPDATE projects SET name = ? WHERE id = ?', [name, id]);
}

export async function setProjectArchived(db: Queryable, id: number, archived: boolean): Promise<void> {
  await run(db, 'UPDATE projects SET archived_at = IF(?, CURRENT_TIMESTAMP(3), NULL) WHERE id = ?', [
    archived ? 1 : 0,
    id,
  ]);
}

/** Deleted projects stay, hidden, and can be brought back. */
export async function setProjectDeleted(db: Queryable, id: number, deleted: boolean): Promise<boolean> {
  const sql = deleted
    ? 'UPDATE projects SET deleted_at = CURRENT_TIMESTAMP(3) WHERE id = ? AND deleted_at IS NULL'
    : 'UPDATE projects SET deleted_at = NULL WHERE id = ? AND deleted_at IS NOT NULL';
  return (await run(db, sql, [id])).affected > 0;
}
