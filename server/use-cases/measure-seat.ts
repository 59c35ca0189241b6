import { Problem } from '../../core/base/problem/problem.ts';
import type { Database } from '../database/connection.ts';
import { insertJob } from '../database/jobs.ts';
import { readMotion } from '../database/motion-source.ts';
import { refuseWhileRunning } from './refuse-while-running.ts';
import { openDocument, plateOf } from './open-shot.ts';

/** Queues a look at the borders of a shot's surface on all frames that are followed. */
export async function startSeat(db: Database, shotId: number): Promise<number> {
  const { shot, document } = await openDocument(db, shotId);
  await plateOf(db, shot.plate?.id);
  if (!document.corners) throw new Problem('no-corners');
  const rows = (await readMotion(db, shot, document)).filter((row) => row.homography);
  if (rows.length === 0) throw new Problem('no-track');
  await refuseWhileRunning(db, shot.id);
  return insertJob(db, {
    kind: 'seat',
    projectId: shot.projectId,
    shotId: shot.id,
    params: { document },
    total: rows.length,
  });
}
