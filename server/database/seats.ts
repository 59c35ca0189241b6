import { createHash } from 'node:crypto';
import type { Homography } from '../../core/geometry/homography.ts';
import type { EightMoves, QuadCorners, SeatFrame, TrackRow } from '../../core/schemas/types.ts';
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
export async function writeSeat(db: Queryable, shotId: number, measure: SeatMeasure, rows: readonly SeatRow[]): Promise<void> {
  await run(db, 'DELETE FROM seat_frames WHERE shot_id = ?', [shotId]);
  for (const row of rows) {
    await run(db, 'INSERT INTO seat_frames (shot_id, frame, map_key, moves, bounds, support, drift, strips) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
      [shotId, row.frame, row.mapKey, row.moves && JSON.stringify(row.moves), row.bounds && JSON.stringify(row.bounds), row.support, row.drift, row.strips]);
  }
  await run(db, `INSERT INTO seat_measures (shot_id, reference_frame, corners, borders, worth, changed) VALUES (?, ?, ?, ?, ?, NEXT VALUE FOR change_number)
    ON DUPLICATE KEY UPDATE reference_frame = VALUE(reference_frame), corners = VALUE(corners), borders = VALUE(borders), worth = VALUE(worth), changed = VALUE(changed)`,
  [shotId, measure.referenceFrame, JSON.stringify(measure.corners), JSON.stringify(measure.borders), measure.worth ? 1 : 0]);
}

export async function readSeatMeasure(db: Queryable, shotId: number): Promise<SeatMeasure | null> {
  const [row] = await select<{ reference_frame: number; corners: QuadCorners; borders: number[]; worth: number }>(db, 'SELECT reference_frame, corners, borders, worth FROM seat_measures WHERE shot_id = ?', [shotId]);
  return row ? { referenceFrame: row.reference_frame, corners: row.corners, borders: row.borders, worth: row.worth === 1 } : null;
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
  const rows = await select<FrameRow>(db, 'SELECT frame, map_key, moves, bounds, support, drift, strips FROM seat_frames WHERE shot_id = ? ORDER BY frame', [shotId]);
  return rows.map(({ map_key, strips, ...row }) => ({ ...row, strips: strips.toString('base64'), holds: keys.get(row.frame) === map_key }));
}

/** Moves of the edge lock by frame, where they still hold for the reference frame and the track. */
export async function readLock(db: Queryable, shotId: number, referenceFrame: number, track: readonly TrackRow[]): Promise<Map<number, EightMoves>> {
  const measure = await readSeatMeasure(db, shotId);
  if (measure?.referenceFrame !== referenceFrame) return new Map();
  return new Map((await readSeatFrames(db, shotId, track)).flatMap((row) => (row.holds && row.moves ? [[row.frame, row.moves] as const] : [])));
}
