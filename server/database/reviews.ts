import type { ArchivedNote, NewNoteRequest, Review, ReviewNote, ReviewVersion } from '../../core/base/schemas/types.ts';
import { run, select, type Queryable } from './connection.ts';
import { linkState } from './slots.ts';

interface ReviewRow {
  id: number;
  shot_id: number;
  name: string;
  expires_at: Date;
  revoked_at: Date | null;
  versions: number[] | null;
}

const SELECT_REVIEW = `SELECT r.id, r.shot_id, r.name, r.expires_at, r.revoked_at, (SELECT JSON_ARRAYAGG(v.job_id ORDER BY v.job_id) FROM review_versions v WHERE v.review_id = r.id) AS versions FROM reviews r
  JOIN shots h ON h.id = r.shot_id AND h.deleted_at IS NULL JOIN projects p ON p.id = h.project_id AND p.deleted_at IS NULL`;

const fromRow = (row: ReviewRow): Review => ({
  id: row.id,
  shotId: row.shot_id,
  name: row.name,
  state: linkState(row),
  expiresAt: row.expires_at.toISOString(),
  versions: row.versions ?? [],
});

export async function listReviews(db: Queryable, shotId: number): Promise<Review[]> {
  return (await select<ReviewRow>(db, `${SELECT_REVIEW} WHERE r.shot_id = ? ORDER BY r.id DESC`, [shotId])).map(
    fromRow,
  );
}

export async function findReview(db: Queryable, id: number): Promise<Review | null> {
  const [row] = await select<ReviewRow>(db, `${SELECT_REVIEW} WHERE r.id = ?`, [id]);
  return row ? fromRow(row) : null;
}

/** The review that a secret opens; null where it opens none any more. */
export async function openReview(db: Queryable, hash: string): Promise<Review | null> {
  const [row] = await select<ReviewRow>(db, `${SELECT_REVIEW} WHERE r.hash = ?`, [hash]);
  const review = row ? fromRow(row) : null;
  return review?.state === 'open' ? review : null;
}

export async function insertReview(
  db: Queryable,
  review: { shotId: number; hash: string; name: string; expiresAt: Date; versions: readonly number[] },
): Promise<number> {
  const { id } = await run(db, 'INSERT INTO reviews (shot_id, hash, name, expires_at) VALUES (?, ?, ?, ?)', [
    review.shotId,
    review.hash,
    review.name.trim(),
    review.expiresAt,
  ]);
  for (const job of review.versions)
    await run(db, 'INSERT INTO review_versions (review_id, job_id) VALUES (?, ?)', [id, job]);
  return id;
}

export async function revokeReview(db: Queryable, id: number): Promise<void> {
  await run(db, 'UPDATE reviews SET revoked_at = COALESCE(revoked_at, ?) WHERE id = ?', [new Date(), id]);
}

/** Renders of a shot that may be looked at: those that wrote its finished picture. */
export async function listVersions(db: Queryable, shotId: number): Promise<ReviewVersion[]> {
  const rows = await select<{ id: number; version: number; first: number; last: number; variant: string | null }>(
    db,
    `SELECT id, CAST(JSON_VALUE(params, '$.version') AS UNSIGNED) AS version, CAST(JSON_VALUE(params, '$.frames[0]') AS UNSIGNED) AS first, CAST(JSON_VALUE(params, '$.frames[1]') AS UNSIGNED) AS last, JSON_VALUE(params, '$.variant.name') AS variant
    FROM jobs WHERE shot_id = ? AND kind = 'render' AND state = 'done' AND JSON_VALUE(params, '$.layers[0]') = 'full' AND JSON_VALUE(params, '$.output') <> 'frames' ORDER BY id DESC LIMIT 100`,
    [shotId],
  );
  return rows.map((row) => ({
    jobId: row.id,
    version: Number(row.version),
    name: row.variant ?? '',
    frames: [Number(row.first), Number(row.last)],
  }));
}

interface NoteRow {
  id: number;
  job_id: number;
  version: number;
  frame: number;
  x: number;
  y: number;
  author: string;
  words: string;
  settled: number;
  created_at: Date;
}
interface AnswerRow {
  note_id: number;
  author: string;
  words: string;
  created_at: Date;
}

/** Notes on a shot, or on those versions of it only, in the order of their frames. */
export async function listNotes(db: Queryable, shotId: number, jobs?: readonly number[]): Promise<ReviewNote[]> {
  const rows = await select<NoteRow>(
    db,
    `SELECT n.id, n.job_id, CAST(JSON_VALUE(j.params, '$.version') AS UNSIGNED) AS version, n.frame, n.x, n.y, n.author, n.words, n.settled, n.created_at FROM review_notes n JOIN jobs j ON j.id = n.job_id WHERE n.shot_id = ? ORDER BY n.frame, n.id`,
    [shotId],
  );
  const answers = await select<AnswerRow>(
    db,
    'SELECT a.note_id, a.author, a.words, a.created_at FROM note_answers a JOIN review_notes n ON n.id = a.note_id WHERE n.shot_id = ? ORDER BY a.id',
    [shotId],
  );
  return rows
    .filter((row) => !jobs || jobs.includes(row.job_id))
    .map((row) => ({
      id: row.id,
      jobId: row.job_id,
      version: Number(row.version),
      frame: row.frame,
      at: [row.x, row.y],
      author: row.author,
      words: row.words,
      createdAt: row.created_at.toISOString(),
      settled: row.settled === 1,
      answers: answers
        .filter((answer) => answer.note_id === row.id)
        .map(({ author, words, created_at }) => ({ author, words, createdAt: created_at.toISOString() })),
    }));
}

export async function insertNote(
  db: Queryable,
  shotId: number,
  reviewId: number | null,
  note: NewNoteRequest,
): Promise<number> {
  return (
    await run(
      db,
      'INSERT INTO review_notes (shot_id, review_id, job_id, frame, x, y, author, words) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
      [shotId, reviewId, note.jobId, note.frame, note.at[0], note.at[1], note.author.trim(), note.words.trim()],
    )
  ).id;
}

/** Enters a note as it was, with its answers, whenever they were written. */
export async function restoreNote(
  db: Queryable,
  shotId: number,
  jobId: number,
  { frame, at, author, words, createdAt, settled, answers }: ArchivedNote,
): Promise<void> {
  const { id } = await run(
    db,
    'INSERT INTO review_notes (shot_id, job_id, frame, x, y, author, words, settled, created_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)',
    [shotId, jobId, frame, at[0], at[1], author, words, settled ? 1 : 0, new Date(createdAt)],
  );
  for (const answer of answers)
    await run(db, 'INSERT INTO note_answers (note_id, author, words, created_at) VALUES (?, ?, ?, ?)', [
      id,
      answer.author,
      answer.words,
      new Date(answer.createdAt),
    ]);
}

/** The shot that a note is on, and the version. */
export async function noteParts(db: Queryable, id: number): Promise<{ shotId: number; jobId: number } | null> {
  const [row] = await select<{ shot_id: number; job_id: number }>(
    db,
    'SELECT shot_id, job_id FROM review_notes WHERE id = ?',
    [id],
  );
  return row ? { shotId: row.shot_id, jobId: row.job_id } : null;
}

export async function insertAnswer(db: Queryable, noteId: number, author: string, words: string): Promise<void> {
  await run(db, 'INSERT INTO note_answers (note_id, author, words) VALUES (?, ?, ?)', [
    noteId,
    author.trim(),
    words.trim(),
  ]);
}

export async function settleNote(db: Queryable, id: number, settled: boolean): Promise<void> {
  await run(db, 'UPDATE review_notes SET settled = ? WHERE id = ?', [settled ? 1 : 0, id]);
}
