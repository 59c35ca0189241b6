import { checked } from '../../core/base/schemas/check.ts';
import type { CheckFinding, CheckRow, PlateCheck, ReferenceProposal } from '../../core/base/schemas/types.ts';
import { run, select, transaction, type Database, type Queryable } from './connection.ts';

interface CheckDbRow {
  frame: number;
  sharpness: number;
  exposure: number;
  noise: number;
  blur: number;
  blur_angle: number | null;
  repeats: number | null;
  cut: number;
  flash: number;
  difference: number;
}

export interface CheckResult {
  rows: readonly CheckRow[];
  findings: readonly CheckFinding[];
  reference: ReferenceProposal | null;
}

/** Rows of one statement. */
const CHUNK = 500;

/** Writes all of a check, or nothing; an older one of the medium is replaced. */
export async function writeCheck(
  db: Database,
  mediaId: number,
  { rows, findings, reference }: CheckResult,
): Promise<void> {
  await transaction(db, async (connection) => {
    await clearCheck(connection, mediaId);
    for (let from = 0; from < rows.length; from += CHUNK) {
      const some = rows.slice(from, from + CHUNK);
      await run(
        connection,
        `INSERT INTO check_frames (media_id, frame, sharpness, exposure, noise, blur, blur_angle, repeats, cut, flash, difference)
        VALUES ${some.map(() => '(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)').join(', ')}`,
        some.flatMap((r) => [
          mediaId,
          r.frame,
          r.sharpness,
          r.exposure,
          r.noise,
          r.blur,
          r.blurAngle,
          r.repeats,
          r.cut ? 1 : 0,
          r.flash ? 1 : 0,
          r.change,
        ]),
      );
    }
    await run(connection, 'INSERT INTO check_results (media_id, findings, reference) VALUES (?, ?, ?)', [
      mediaId,
      JSON.stringify(findings),
      reference && JSON.stringify(reference),
    ]);
    await run(connection, 'UPDATE media SET checked = TRUE WHERE id = ?', [mediaId]);
  });
}

export async function clearCheck(db: Queryable, mediaId: number): Promise<void> {
  await run(db, 'DELETE FROM check_frames WHERE media_id = ?', [mediaId]);
  await run(db, 'DELETE FROM check_results WHERE media_id = ?', [mediaId]);
  await run(db, 'UPDATE media SET checked = FALSE WHERE id = ?', [mediaId]);
}

export async function readCheck(db: Queryable, mediaId: number): Promise<PlateCheck> {
  const [result] = await select<{ findings: unknown; reference: unknown }>(
    db,
    'SELECT findings, reference FROM check_results WHERE media_id = ?',
    [mediaId],
  );
  if (!result) return { done: false, rows: [], findings: [], reference: null };
  const rows = await select<CheckDbRow>(
    db,
    'SELECT frame, sharpness, exposure, noise, blur, blur_angle, repeats, cut, flash, difference FROM check_frames WHERE media_id = ? ORDER BY frame',
    [mediaId],
  );
  return checked(
    'checkReply',
    {
      done: true,
      findings: result.findings,
      reference: result.reference,
      rows: rows.map(({ blur_angle, cut, flash, difference, ...row }) => ({
        ...row,
        blurAngle: blur_angle,
        cut: cut === 1,
        flash: flash === 1,
        change: difference,
      })),
    },
    `the check of medium ${mediaId} in the database`,
  );
}

/** The first frame of a new picture that the check saw after `from`, up to `to`; null where there is none, or nothing was checked. */
export async function firstCut(
  db: Queryable,
  mediaId: number,
  [from, to]: readonly [number, number],
): Promise<number | null> {
  const [row] = await select<{ frame: number }>(
    db,
    'SELECT frame FROM check_frames WHERE media_id = ? AND cut = TRUE AND frame > ? AND frame <= ? ORDER BY frame LIMIT 1',
    [mediaId, from, to],
  );
  return row?.frame ?? null;
}
