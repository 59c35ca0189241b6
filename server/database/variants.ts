import { checked } from '../../core/base/schemas/check.ts';
import type { Framing, Variant } from '../../core/base/schemas/types.ts';
import { run, select, type Queryable, type SqlValue } from './connection.ts';
import { findJob, jobReply } from './jobs.ts';

interface VariantRow {
  id: number;
  shot_id: number;
  name: string;
  media_id: number | null;
  framing: string;
  slot: string | null;
  job_id: number | null;
}

// The newest render that writes something tells how far a variant is.
const SELECT_VARIANT = `SELECT v.id, v.shot_id, v.name, v.media_id, v.framing, s.name AS slot,
  (SELECT MAX(j.id) FROM jobs j WHERE j.shot_id = v.shot_id AND j.kind = 'render' AND JSON_VALUE(j.params, '$.variant.id') = v.id AND JSON_VALUE(j.params, '$.output') <> 'frames') AS job_id
  FROM variants v LEFT JOIN slots s ON s.id = v.slot_id`;

async function fromRow(db: Queryable, row: VariantRow): Promise<Variant> {
  return {
    id: row.id,
    shotId: row.shot_id,
    name: row.name,
    mediaId: row.media_id,
    framing: checked('framing', JSON.parse(row.framing) as unknown, `variant ${row.id} in the database`),
    slot: row.slot,
    render: row.job_id === null ? null : await renderOf(db, Number(row.job_id)),
  };
}

async function renderOf(db: Queryable, jobId: number): Promise<Variant['render']> {
  const job = await findJob(db, jobId);
  if (!job) return null;
  const { id, state, done, total, problem, render } = jobReply(job);
  return {
    jobId: id,
    state,
    done,
    total,
    problem,
    files: (render?.files ?? []).map(({ name, bytes }) => ({ name, bytes })),
  };
}

export async function listVariants(db: Queryable, shotId: number): Promise<Variant[]> {
  const rows = await select<VariantRow>(
    db,
    `${SELECT_VARIANT} WHERE v.shot_id = ? AND v.deleted_at IS NULL ORDER BY v.id`,
    [shotId],
  );
  return Promise.all(rows.map((row) => fromRow(db, row)));
}

export async function findVariant(db: Queryable, id: number): Promise<Variant | null> {
  const [row] = await select<VariantRow>(db, `${SELECT_VARIANT} WHERE v.id = ? AND v.deleted_at IS NULL`, [id]);
  return row ? fromRow(db, row) : null;
}

export async function insertVariant(
  db: Queryable,
  variant: { shotId: number; name: string; mediaId: number | null; framing: Framing; slotId?: number },
): Promise<number> {
  return (
    await run(db, 'INSERT INTO variants (shot_id, name, media_id, framing, slot_id) VALUES (?, ?, ?, ?, ?)', [
      variant.shotId,
      variant.name.trim(),
      variant.mediaId,
      JSON.stringify(variant.framing),
      variant.slotId ?? null,
    ])
  ).id;
}

/** Only what is given is written: of two changes at the same time, of a name and of a framing say, neither undoes the other. */
export async function changeVariant(
  db: Queryable,
  { id, name, mediaId, framing }: Pick<Variant, 'id'> & Partial<Pick<Variant, 'name' | 'mediaId' | 'framing'>>,
): Promise<void> {
  const set: [column: string, value: SqlValue][] = [
    ...(name === undefined ? [] : [['name', name.trim()] as [string, SqlValue]]),
    ...(mediaId === undefined ? [] : [['media_id', mediaId] as [string, SqlValue]]),
    ...(framing === undefined ? [] : [['framing', JSON.stringify(framing)] as [string, SqlValue]]),
  ];
  if (set.length > 0)
    await run(db, `UPDATE variants SET ${set.map(([column]) => `${column} = ?`).join(', ')} WHERE id = ?`, [
      ...set.map(([, value]) => value),
      id,
    ]);
}

/** Its frames and files stay until they are swept. */
export async function deleteVariant(db: Queryable, id: number): Promise<void> {
  await run(db, 'UPDATE variants SET deleted_at = ? WHERE id = ?', [new Date(), id]);
}
