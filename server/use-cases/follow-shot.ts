import { inUse } from '../../core/base/geometry/outline.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { FollowRequest } from '../../core/base/schemas/types.ts';
import { transaction, type Database } from '../database/connection.ts';
import { readDocument } from '../database/documents.ts';
import { insertJob, lastFollowed } from '../database/jobs.ts';
import { findShot } from '../database/shots.ts';
import { clearOthers, clearSpan, readTrack } from '../database/tracks.ts';
import { steadyFor } from '../jobs/steady-follow.ts';
import { found } from '../database/found.ts';
import { runKeyOf, sameQuestion } from '../database/run-key.ts';
import { refuseWhileRunning } from './refuse-while-running.ts';

/**
 * Queues a follow of a shot. From the reference, what is still missing of a track that was begun with the same regions is
 * done; anything else in the span is done again. From another frame, all beyond it is done again. Protected spans stay.
 */
export async function startFollow(
  db: Database,
  shotId: number,
  { direction, frames: span, from }: FollowRequest,
): Promise<number> {
  const shot = found(await findShot(db, shotId), 'shot', shotId);
  const plate = shot.plate;
  if (!plate?.facts) throw new Problem('no-plate');
  if (plate.state === 'cleared') throw new Problem('frames-cleared', { name: plate.name });
  const document = await readDocument(db, shotId, shot.revision);
  if (document.rides !== undefined)
    throw new Problem('rides', { name: (await findShot(db, document.rides))?.name ?? 'another shot' });
  if (inUse(document.regions).length === 0) throw new Problem('no-region', { where: 'this shot' });
  await steadyFor(db, shot, document);
  const last = plate.facts.frames - 1;
  const start = from ?? document.referenceFrame;
  if (document.referenceFrame > last)
    throw new Problem('frame-outside', { where: 'the reference', frame: document.referenceFrame, last });
  if (start > last) throw new Problem('frame-outside', { where: 'the start', frame: start, last });
  const wanted = span ?? document.range ?? [0, last];
  const beyond = from === undefined ? 0 : 1;
  const frames: [number, number] = [
    direction === 'forward' ? Math.max(start + beyond, wanted[0]) : wanted[0],
    direction === 'backward' ? Math.min(start - beyond, wanted[1]) : wanted[1],
  ];
  if (frames[1] > last) throw new Problem('frame-outside', { where: 'the span', frame: frames[1], last });
  if (frames[0] > frames[1]) throw new Problem('bad-range', { where: 'the span', range: frames.join('-') });
  await refuseWhileRunning(db, shotId);
  const runKey = runKeyOf(document, plate.id);
  const rows = (await readTrack(db, shotId)).filter((row) => row.runKey === runKey && row.homography);
  if (from !== undefined && from !== document.referenceFrame && !rows.some((row) => row.frame === from))
    throw new Problem('not-followed', { frame: from });
  const total = frames[1] - frames[0] + 1;
  const have = rows.filter((row) => row.frame >= frames[0] && row.frame <= frames[1]).length;
  const before = await lastFollowed(db, shotId);
  const carriesOn = from === undefined && have < total && before !== null && sameQuestion(before, document);
  return transaction(db, async (connection) => {
    await clearOthers(connection, shotId, runKey);
    if (!carriesOn) await clearSpan(connection, shotId, frames, document.protect);
    return insertJob(connection, {
      kind: 'follow',
      projectId: shot.projectId,
      shotId,
      params: { direction, frames, ...(from === undefined ? {} : { from }), document, runKey },
      total,
    });
  });
}

/** Forgets what was followed in a span, but for protected frames. */
export async function clearFollowed(db: Database, shotId: number, span: readonly [number, number]): Promise<void> {
  const shot = found(await findShot(db, shotId), 'shot', shotId);
  if (span[0] > span[1]) throw new Problem('bad-range', { where: 'the span', range: span.join('-') });
  await refuseWhileRunning(db, shotId);
  await clearSpan(db, shotId, span, (await readDocument(db, shotId, shot.revision)).protect);
}
