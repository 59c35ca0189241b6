import { checked } from '../../core/base/schemas/check.ts';
import type { Look, SavedLook } from '../../core/base/schemas/types.ts';
import { run, select, type Queryable } from './connection.ts';

interface LookRow {
  id: number;
  name: string;
  look: unknown;
  created_at: Date;
}

/** Looks of a project that were kept under a name. */
export async function listLooks(db: Queryable, projectId: number): Promise<SavedLook[]> {
  const rows = await select<LookRow>(
    db,
    'SELECT id, name, look, created_at FROM looks WHERE project_id = ? ORDER BY name, id',
    [projectId],
  );
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    look: checked(
      'look',
      typeof row.look === 'string' ? (JSON.parse(row.look) as unknown) : row.look,
      `look ${row.id}`,
    ),
    createdAt: row.created_at.toISOString(),
  }));
}

/** Keeps a look; false where the project has one of that name. */
export async function insertLook(db: Queryable, projectId: number, name: string, look: Look): Promise<boolean> {
  return (
    (
      await run(db, 'INSERT IGNORE INTO looks (project_id, name, look) VALUES (?, ?, ?)', [
        projectId,
        name,
        JSON.stringify(look),
      ])
    ).affected > 0
  );
}

/** The project that a look belongs to, and the look deleted; null where there is none. */
export async function deleteLook(db: Queryable, id: number): Promise<number | null> {
  const [row] = await select<{ project_id: number }>(db, 'SELECT project_id FROM looks WHERE id = ?', [id]);
  await run(db, 'DELETE FROM looks WHERE id = ?', [id]);
  return row ? Number(row.project_id) : null;
}
