import { packCertainty, unpackCertainty, type Certainty } from '../../core/motion/follow/certainty.ts';
import type { Disagreement } from '../../core/motion/follow/disagreement.ts';
import type { Homography } from '../../core/base/geometry/homography.ts';
import type { NineNumbers, TrackRow } from '../../core/base/schemas/types.ts';
import { run, select, type Queryable } from './connection.ts';
import { packDisagreement } from './disagreements.ts';

interface TrackDbRow {
  frame: number;
  run_key: string;
  homography: NineNumbers | null;
  error: number | null;
  confidence: number;
  blur: number;
  certainty: number[] | null;
  lost: string | null;
  note: string | null;
  changed: number;
}

const SELECT_TRACK =
  'SELECT frame, run_key, homography, error, confidence, blur, certainty, lost, note, changed FROM track_frames';

const fromRow = ({ run_key, changed: _changed, ...row }: TrackDbRow): TrackRow => ({ ...row, runKey: run_key });

/** Rows that changed after a number, with the newest number. */
export async function trackChanges(
  db: Queryable,
  shotId: number,
  after: number,
): Promise<{ after: number; rows: TrackRow[] }> {
  const rows = await select<TrackDbRow>(db, `${SELECT_TRACK} WHERE shot_id = ? AND changed > ? ORDER BY changed`, [
    shotId,
    after,
  ]);
  return { after: Number(rows.at(-1)?.changed ?? after), rows: rows.map(fromRow) };
}

export async function readTrack(db: Queryable, shotId: number): Promise<TrackRow[]> {
  return (await select<TrackDbRow>(db, `${SELECT_TRACK} WHERE shot_id = ? ORDER BY frame`, [shotId])).map(fromRow);
}

export interface TrackEntry {
  frame: number;
  homography: Homography | null;
  error: number;
  confidence: number;
  blur: number;
  certainty?: Certainty;
  lost?: string;
  note?: string;
  disagreement?: Disagreement;
}

/** Writes one followed frame; an older row of that frame is replaced. */
export async function writeTrackFrame(
  db: Queryable,
  shotId: number,
  jobId: number,
  runKey: string,
  entry: TrackEntry,
): Promise<void> {
  await run(
    db,
    `
    INSERT INTO track_frames (shot_id, frame, run_key, homography, error, confidence, blur, certainty, lost, note, disagreement, job_id, changed)
    VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, NEXT VALUE FOR change_number)
    ON DUPLICATE KEY UPDATE run_key = VALUE(run_key), homography = VALUE(homography), error = VALUE(error), confidence = VALUE(confidence),
      blur = VALUE(blur), certainty = VALUE(certainty), lost = VALUE(lost), note = VALUE(note), disagreement = VALUE(disagreement), job_id = VALUE(job_id), changed = VALUE(changed)`,
    [
      shotId,
      entry.frame,
      runKey,
      entry.homography && JSON.stringify(entry.homography),
      Number.isFinite(entry.error) ? entry.error : null,
      entry.confidence,
      entry.blur,
      entry.certainty ? JSON.stringify(packCertainty(entry.certainty)) : null,
      entry.lost?.slice(0, 255) ?? null,
      entry.note?.slice(0, 255) ?? null,
      entry.disagreement ? packDisagreement(entry.disagreement) : null,
      jobId,
    ],
  );
}

/** Removes rows of a span but for protected ones. */
export async function clearSpan(
  db: Queryable,
  shotId: number,
  span: readonly [number, number],
  protect: readonly (readonly [number, number])[] = [],
): Promise<void> {
  const kept = protect.map(() => ' AND frame NOT BETWEEN ? AND ?').join('');
  await run(db, `DELETE FROM track_frames WHERE shot_id = ? AND frame BETWEEN ? AND ?${kept}`, [
    shotId,
    span[0],
    span[1],
    ...protect.flat(),
  ]);
}

/** Removes all rows whose maps lead from something else than `runKey`. */
export async function clearOthers(db: Queryable, shotId: number, runKey: string): Promise<void> {
  await run(db, 'DELETE FROM track_frames WHERE shot_id = ? AND run_key <> ?', [shotId, runKey]);
}

/** Which job wrote each frame's row. */
export async function rowsByJob(db: Queryable, shotId: number): Promise<Map<number, number>> {
  return new Map(
    (
      await select<{ frame: number; job_id: number }>(db, 'SELECT frame, job_id FROM track_frames WHERE shot_id = ?', [
        shotId,
      ])
    ).map((r) => [r.frame, r.job_id]),
  );
}

/** Rewrites every row of a track; rows for which null comes back are left out. */
export async function replaceTrack(
  db: Queryable,
  shotId: number,
  change: (row: TrackRow) => TrackRow | null,
): Promise<void> {
  const jobs = await rowsByJob(db, shotId);
  const rows = await readTrack(db, shotId);
  await run(db, 'DELETE FROM track_frames WHERE shot_id = ?', [shotId]);
  for (const row of rows) {
    const changed = change(row);
    if (!changed) continue;
    const { lost, note, certainty: packed, ...entry } = changed;
    const certainty = packed && unpackCertainty(packed);
    await writeTrackFrame(db, shotId, jobs.get(row.frame)!, changed.runKey, {
      ...entry,
      error: changed.error ?? NaN,
      ...(certainty ? { certainty } : {}),
      ...(lost === null ? {} : { lost }),
      ...(note === null ? {} : { note }),
    });
  }
}
