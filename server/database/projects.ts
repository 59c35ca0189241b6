import type { Project } from '../../core/schemas/types.ts';
import { run, select, type Queryable } from './connection.ts';

interface ProjectRow {
  id: number;
  name: string;
  shots: number;
  created_at: Date;
}

const SELECT_PROJECT = `
  SELECT p.id, p.name, p.created_at, (SELECT COUNT(*) FROM shots s WHERE s.project_id = p.id AND s.deleted_at IS NULL) AS shots
  FROM projects p`;

const fromRow = (row: ProjectRow): Project => ({ id: row.id, name: row.name, shots: Number(row.shots), createdAt: row.created_at.toISOString() });

export async function listProjects(db: Queryable): Promise<Project[]> {
  return (await select<ProjectRow>(db, `${SELECT_PROJECT} WHERE p.deleted_at IS NULL ORDER BY p.name, p.id`)).map(fromRow);
}

export async function findProject(db: Queryable, id: number): Promise<Project | null> {
  const [row] = await select<ProjectRow>(db, `${SELECT_PROJECT} WHERE p.id = ? AND p.deleted_at IS NULL`, [id]);
  return row ? fromRow(row) : null;
}

export async function createProject(db: Queryable, name: string): Promise<number> {
  return (await run(db, 'INSERT INTO projects (name) VALUES (?)', [name])).id;
}

export async function renameProject(db: Queryable, id: number, name: string): Promise<void> {
  await run(db, 'UPDATE projects SET name = ? WHERE id = ?', [name, id]);
}

/** Deleted projects stay, hidden, and can be brought back. */
export async function setProjectDeleted(db: Queryable, id: number, deleted: boolean): Promise<boolean> {
  const sql = deleted
    ? 'UPDATE projects SET deleted_at = CURRENT_TIMESTAMP(3) WHERE id = ? AND deleted_at IS NULL'
    : 'UPDATE projects SET deleted_at = NULL WHERE id = ? AND deleted_at IS NOT NULL';
  return (await run(db, sql, [id])).affected > 0;
}
