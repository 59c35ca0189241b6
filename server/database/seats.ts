import { createHash } from 'node:crypto';
import type { Homography } from '../../core/base/geometry/homography.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import { orderBetween, reorderMoves } from '../../core/surface/seat/turn-quad.ts';
import type { EightMoves, QuadCorners, SeatFrame, TrackRow } from '../../core/base/schemas/types.ts';
import { run, select, type Queryable } from './connection.ts';

/** Names a map, to tell whether what was seen through it still holds. */
export function mapKey(map: Homography): string {
  return createHash('sha256').update(JSON.stringify(map)).digest('hex').slice(0, 32);
}

export interface SeatMeasure {
  readonly referenceFrame: number;
  readonly corners: QuadCorners;
  readonly borders: readonly number[];
  readonly worth: boolean;
}

export interface SeatRow {
  readonly frame: number;
  readonly mapKey: string;
  readonly moves: EightMoves | null;
  readonly bounds: [number, number, number, number] | null;
  readonly support: number;
  readonly drift: number;
  readonly strips: Buffer;
}

/** Puts a look in the place of the last one. */
export async function writeSeat(
  db: Queryable,
  shotId: number,
  measure: SeatMeasure,
  rows: readonly SeatRow[],
): Promise<void> {
  await run(db, 'DELETE FROM seat_frames WHERE shot_id = ?', [shotId]);
  for (const row of rows) {
    await run(
      db,
      'INSERT INTO seat_frames (shot_id, frame, map_key, moves, bounds, support, drift, strips) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
      [
        shotId,
        row.frame,
        row.mapKey,
        row.moves && JSON.stringify(row.moves),
        row.bounds && JSON.stringify(row.bounds),
        row.support,
        row.drift,
        row.strips,
      ],
    );
  }
  await run(
    db,
    `INSERT INTO seat_measures (shot_id, reference_frame, corners, borders, worth, changed) VALUES (?, ?, ?, ?, ?, NEXT VALUE FOR change_number)
    ON DUPLICATE KEY UPDATE reference_frame = VALUE(reference_frame), corners = VALUE(corners), borders = VALUE(borders), worth = VALUE(worth), changed = VALUE(changed)`,
    [
      shotId,
      measure.referenceFrame,
      JSON.stringify(measure.corners),
      JSON.stringify(measure.borders),
      measure.worth ? 1 : 0,
    ],
  );
}

export async function readSeatMeasure(db: Queryable, shotId: number): Promise<SeatMeasure | null> {
  const [row] = await select<{ reference_frame: number; corners: QuadCorners; borders: number[]; worth: number }>(
    db,
    'SELECT reference_frame, corners, borders, worth FROM seat_measures WHERE shot_id = ?',
    [shotId],
  );
  return row
    ? { referenceFrame: row.reference_frame, corners: row.corners, borders: row.borders, worth: row.worth === 1 }
    : null;
}

interface FrameRow {
  frame: number;
  map_key: string;
  moves: EightMoves | null;
  bounds: [number, number, number, number] | null;
  support: number;
  drift: number;
  strips: Buffer;
}

/** What was seen of a shot's frames, each with whether it still holds beside its row of the track. */
export async function readSeatFrames(db: Queryable, shotId: number, track: readonly TrackRow[]): Promise<SeatFrame[]> {
  const keys = new Map(track.flatMap((row) => (row.homography ? [[row.frame, mapKey(row.homography)] as const] : [])));
  const rows = await select<FrameRow>(
    db,
    'SELECT frame, map_key, moves, bounds, support, drift, strips FROM seat_frames WHERE shot_id = ? ORDER BY frame',
    [shotId],
  );
  return rows.map(({ map_key, strips, ...row }) => ({
    ...row,
    strips: strips.toString('base64'),
    holds: keys.get(row.frame) === map_key,
  }));
}

/** Moves of the edge lock by frame, where they still hold for the reference frame and the track, in the order of `corners`. */
export async function readLock(
  db: Queryable,
  shotId: number,
  referenceFrame: number,
  corners: Quad,
  track: readonly TrackRow[],
): Promise<Map<number, number[]>> {
  const measure = await readSeatMeasure(db, shotId);
  if (measure?.referenceFrame !== referenceFrame) return new Map();
  const order = orderBetween(measure.corners, corners);
  return new Map(
    (await readSeatFrames(db, shotId, track)).flatMap((row) =>
      row.holds && row.moves ? [[row.frame, reorderMoves(row.moves, order)] as const] : [],
    ),
  );
}

/** For each shot of a project that was looked at: the mean bound of its corners when locked, and the mean drift when not, px. */
export async function seatFigures(
  db: Queryable,
  projectId: number,
): Promise<Map<number, { bound: number; drift: number }>> {
  const rows = await select<{ shot_id: number; bound: number | null; drift: number | null }>(
    db,
    `
    SELECT f.shot_id, AVG((JSON_VALUE(f.bounds, '$[0]') + JSON_VALUE(f.bounds, '$[1]') + JSON_VALUE(f.bounds, '$[2]') + JSON_VALUE(f.bounds, '$[3]')) / 4) AS bound, AVG(f.drift) AS drift
    FROM seat_frames f JOIN shots s ON s.id = f.shot_id WHERE s.project_id = ? AND s.deleted_at IS NULL AND f.bounds IS NOT NULL GROUP BY f.shot_id`,
    [projectId],
  );
  return new Map(
    rows.flatMap((row) =>
      row.bound === null || row.drift === null
        ? []
        : [[row.shot_id, { bound: Number(row.bound), drift: Number(row.drift) }]],
    ),
  );
}
