import { deflateRawSync, inflateRawSync } from 'node:zlib';
import type { Disagreement } from '../../core/motion/follow/disagreement.ts';
import { checked } from '../../core/base/schemas/check.ts';
import { select, type Queryable } from './connection.ts';

/** A frame's disagreement as it is kept beside its row: thousands of squares, most of them quiet. */
export function packDisagreement(seen: Disagreement): Buffer {
  return deflateRawSync(JSON.stringify(seen));
}

/** Of a longer span so many frames, evenly spread, tell enough. */
const MOST_FRAMES = 200;

/** What did not go with the frames of a span, where that is known. */
export async function readDisagreement(
  db: Queryable,
  shotId: number,
  runKey: string,
  from: number,
  to: number,
): Promise<Disagreement[]> {
  const every = Math.ceil((to - from + 1) / MOST_FRAMES);
  const rows = await select<{ frame: number; disagreement: Buffer }>(
    db,
    'SELECT frame, disagreement FROM track_frames WHERE shot_id = ? AND run_key = ? AND frame BETWEEN ? AND ? AND frame % ? = ? AND disagreement IS NOT NULL ORDER BY frame',
    [shotId, runKey, from, to, every, from % every],
  );
  return rows.map((row) =>
    checked(
      'disagreement',
      JSON.parse(inflateRawSync(row.disagreement).toString()) as unknown,
      `the disagreement of frame ${row.frame}`,
    ),
  );
}
