import type { Slot, SlotLimits } from '../../core/base/schemas/types.ts';
import { run, select, type Queryable } from './connection.ts';

interface SlotRow {
  id: number;
  shot_id: number;
  name: string;
  most_bytes: number;
  most_files: number;
  most_renders: number;
  files: number;
  renders: number;
  expires_at: Date;
  revoked_at: Date | null;
  variant_id: number;
}

// A slot whose shot or project was put away or deleted is closed with it.
const SELECT_SLOT = `SELECT s.id, s.shot_id, s.name, s.most_bytes, s.most_files, s.most_renders, s.files, s.renders, s.expires_at, s.revoked_at, v.id AS variant_id FROM slots s
  JOIN variants v ON v.slot_id = s.id AND v.deleted_at IS NULL JOIN shots h ON h.id = s.shot_id AND h.deleted_at IS NULL JOIN projects p ON p.id = h.project_id AND p.deleted_at IS NULL`;

/** Whether a link still leads somewhere. */
export function linkState(row: { expires_at: Date; revoked_at: Date | null }): 'open' | 'expired' | 'revoked' {
  if (row.revoked_at) return 'revoked';
  return row.expires_at.getTime() <= Date.now() ? 'expired' : 'open';
}

const fromRow = (row: SlotRow): Slot => ({
  id: row.id,
  shotId: row.shot_id,
  name: row.name,
  state: linkState(row),
  expiresAt: row.expires_at.toISOString(),
  variantId: row.variant_id,
  limits: { bytes: Number(row.most_bytes), files: row.most_files, renders: row.most_renders },
  used: { files: row.files, renders: row.renders },
});

export async function listSlots(db: Queryable, shotId: number): Promise<Slot[]> {
  return (await select<SlotRow>(db, `${SELECT_SLOT} WHERE s.shot_id = ? ORDER BY s.id DESC`, [shotId])).map(fromRow);
}

export async function findSlot(db: Queryable, id: number): Promise<Slot | null> {
  const [row] = await select<SlotRow>(db, `${SELECT_SLOT} WHERE s.id = ?`, [id]);
  return row ? fromRow(row) : null;
}

/** The slot that a secret opens; null where it opens none any more. */
export async function openSlot(db: Queryable, hash: string): Promise<Slot | null> {
  const [row] = await select<SlotRow>(db, `${SELECT_SLOT} WHERE s.hash = ?`, [hash]);
  const slot = row ? fromRow(row) : null;
  return slot?.state === 'open' ? slot : null;
}

export async function insertSlot(
  db: Queryable,
  slot: { shotId: number; hash: string; name: string; limits: SlotLimits; expiresAt: Date },
): Promise<number> {
  return (
    await run(
      db,
      'INSERT INTO slots (shot_id, hash, name, most_bytes, most_files, most_renders, expires_at) VALUES (?, ?, ?, ?, ?, ?, ?)',
      [
        slot.shotId,
        slot.hash,
        slot.name.trim(),
        slot.limits.bytes,
        slot.limits.files,
        slot.limits.renders,
        slot.expiresAt,
      ],
    )
  ).id;
}

export async function revokeSlot(db: Queryable, id: number): Promise<void> {
  await run(db, 'UPDATE slots SET revoked_at = COALESCE(revoked_at, ?) WHERE id = ?', [new Date(), id]);
}

/** Takes one of what a slot is good for; false when none is left, even when several ask at once. */
export async function takeFromSlot(db: Queryable, id: number, what: 'files' | 'renders'): Promise<boolean> {
  return (
    (
      await run(
        db,
        what === 'files'
          ? 'UPDATE slots SET files = files + 1 WHERE id = ? AND files < most_files'
          : 'UPDATE slots SET renders = renders + 1 WHERE id = ? AND renders < most_renders',
        [id],
      )
    ).affected > 0
  );
}

/** Gives it back: what it was taken for did not come to be. */
export async function giveToSlot(db: Queryable, id: number, what: 'files' | 'renders'): Promise<void> {
  await run(
    db,
    what === 'files'
      ? 'UPDATE slots SET files = files - 1 WHERE id = ? AND files > 0'
      : 'UPDATE slots SET renders = renders - 1 WHERE id = ? AND renders > 0',
    [id],
  );
}
