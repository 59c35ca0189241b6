import type { PointRow, PulledRow, QuadCorners } from '../../core/base/schemas/types.ts';
import { run, select, type Queryable } from './connection.ts';

interface PointDbRow {
  name: string;
  frame: number;
  x: number | null;
  y: number | null;
  how: PointRow['how'];
  score: number;
  bound: number;
  light: number;
  light_wanted: number;
  note: string | null;
  changed: number;
}

const SELECT_POINTS =
  'SELECT name, frame, x, y, how, score, bound, light, light_wanted, note, changed FROM point_frames WHERE shot_id = ? AND run_key = ?';

const pointOf = ({ x, y, light, light_wanted, changed: _changed, ...row }: PointDbRow): PointRow => ({
  ...row,
  at: x === null || y === null ? null : [x, y],
  light: light === 1,
  lightWanted: light_wanted === 1,
});

/** Where points were found, of those that lead from `runKey` and changed after a number. */
export async function pointChanges(
  db: Queryable,
  shotId: number,
  runKey: string,
  after: number,
): Promise<{ after: number; rows: PointRow[] }> {
  const rows = await select<PointDbRow>(db, `${SELECT_POINTS} AND changed > ? ORDER BY changed`, [
    shotId,
    runKey,
    after,
  ]);
  return { after: Number(rows.at(-1)?.changed ?? after), rows: rows.map(pointOf) };
}

export async function readPoints(db: Queryable, shotId: number, runKey: string): Promise<PointRow[]> {
  return (await select<PointDbRow>(db, `${SELECT_POINTS} ORDER BY frame`, [shotId, runKey])).map(pointOf);
}

export async function writePoint(
  db: Queryable,
  shotId: number,
  runKey: string,
  { name, frame, at, how, score, bound, light, lightWanted, note }: PointRow,
): Promise<void> {
  await run(
    db,
    `
    INSERT INTO point_frames (shot_id, name, frame, run_key, x, y, how, score, bound, light, light_wanted, note, changed) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, NEXT VALUE FOR change_number)
    ON DUPLICATE KEY UPDATE run_key = VALUE(run_key), x = VALUE(x), y = VALUE(y), how = VALUE(how), score = VALUE(score), bound = VALUE(bound), light = VALUE(light), light_wanted = VALUE(light_wanted), note = VALUE(note), changed = VALUE(changed)`,
    [
      shotId,
      name,
      frame,
      runKey,
      at?.[0] ?? null,
      at?.[1] ?? null,
      how,
      score,
      bound,
      light ? 1 : 0,
      lightWanted ? 1 : 0,
      note?.slice(0, 255) ?? null,
    ],
  );
}

/** Removes what was found of a point in a span, but for spans that are kept, and all that leads from another reference. */
export async function clearPoint(
  db: Queryable,
  shotId: number,
  name: string,
  runKey: string,
  [from, to]: readonly [number, number],
  keep: readonly (readonly [number, number])[] = [],
): Promise<void> {
  const kept = keep.map(() => ' AND frame NOT BETWEEN ? AND ?').join('');
  await run(
    db,
    `DELETE FROM point_frames WHERE shot_id = ? AND name = ? AND (run_key <> ? OR (frame BETWEEN ? AND ?${kept}))`,
    [shotId, name, runKey, from, to, ...keep.flat()],
  );
}

interface PulledDbRow {
  frame: number;
  corners: QuadCorners;
  confidence: number;
  bounds: [number, number, number, number];
  moved: number;
  changed: number;
}

const SELECT_PULLED =
  'SELECT frame, corners, confidence, bounds, moved, changed FROM pulled_frames WHERE shot_id = ? AND run_key = ?';

const pulledOf = ({ changed: _changed, ...row }: PulledDbRow): PulledRow => row;

export async function pulledChanges(
  db: Queryable,
  shotId: number,
  runKey: string,
  after: number,
): Promise<{ after: number; rows: PulledRow[] }> {
  const rows = await select<PulledDbRow>(db, `${SELECT_PULLED} AND changed > ? ORDER BY changed`, [
    shotId,
    runKey,
    after,
  ]);
  return { after: Number(rows.at(-1)?.changed ?? after), rows: rows.map(pulledOf) };
}

export async function readPulled(db: Queryable, shotId: number, runKey: string): Promise<PulledRow[]> {
  return (await select<PulledDbRow>(db, `${SELECT_PULLED} ORDER BY frame`, [shotId, runKey])).map(pulledOf);
}

export async function writePulled(
  db: Queryable,
  shotId: number,
  runKey: string,
  { frame, corners, confidence, bounds, moved }: PulledRow,
): Promise<void> {
  await run(
    db,
    `
    INSERT INTO pulled_frames (shot_id, frame, run_key, corners, confidence, bounds, moved, changed) VALUES (?, ?, ?, ?, ?, ?, ?, NEXT VALUE FOR change_number)
    ON DUPLICATE KEY UPDATE run_key = VALUE(run_key), corners = VALUE(corners), confidence = VALUE(confidence), bounds = VALUE(bounds), moved = VALUE(moved), changed = VALUE(changed)`,
    [shotId, frame, runKey, JSON.stringify(corners), confidence, JSON.stringify(bounds), moved],
  );
}

/** Removes what was pulled in a span, and all that leads from another reference. */
export async function clearPulled(
  db: Queryable,
  shotId: number,
  runKey: string,
  [from, to]: readonly [number, number],
): Promise<void> {
  await run(db, 'DELETE FROM pulled_frames WHERE shot_id = ? AND (run_key <> ? OR frame BETWEEN ? AND ?)', [
    shotId,
    runKey,
    from,
    to,
  ]);
}

/** The newest number of anything that a shot's motion by hand is made from. */
export async function newestHandChange(db: Queryable, shotId: number): Promise<number> {
  const [row] = await select<{ newest: number | null }>(
    db,
    `
    SELECT GREATEST(COALESCE((SELECT MAX(changed) FROM point_frames WHERE shot_id = ?), 0), COALESCE((SELECT MAX(changed) FROM pulled_frames WHERE shot_id = ?), 0)) AS newest`,
    [shotId, shotId],
  );
  return Number(row?.newest ?? 0);
}
