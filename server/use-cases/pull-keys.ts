import { checkKeys } from '../../core/motion/keys/hand-keys.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import { transaction, type Database } from '../database/connection.ts';
import { clearPulled } from '../database/hand-motion.ts';
import { insertJob } from '../database/jobs.ts';
import { refuseWhileRunning } from './refuse-while-running.ts';
import { openShot } from './open-shot.ts';
import { refuseAcrossCut } from './refuse-across-cut.ts';
import { WHERE } from './open-shot.ts';

/** Queues a pull of the frames between hand keys onto the picture: from the first key to the last, and as far as spans of keys reach. */
export async function startPull(db: Database, shotId: number): Promise<number> {
  const { shot, document, plate, runKey } = await openShot(db, shotId);
  const keys = document.handKeys ?? [];
  const last = plate.facts!.frames - 1;
  if (!document.corners) throw new Problem('no-corners');
  checkKeys(keys, WHERE);
  for (const { frame } of keys)
    if (frame > last) throw new Problem('frame-outside', { where: 'the keys', frame, last });
  const spans = (document.spans ?? []).filter((s) => s.source === 'keys');
  const frames: [number, number] = [
    Math.min(...keys.map((k) => k.frame), ...spans.map((s) => s.from)),
    Math.min(last, Math.max(...keys.map((k) => k.frame), ...spans.map((s) => s.to))),
  ];
  await refuseAcrossCut(db, plate.id, frames);
  await refuseWhileRunning(db, shot.id);
  return transaction(db, async (connection) => {
    await clearPulled(connection, shot.id, runKey, frames);
    return insertJob(connection, {
      kind: 'pull',
      projectId: shot.projectId,
      shotId: shot.id,
      params: { frames, document, runKey },
      total: frames[1] - frames[0] + 1,
    });
  });
}
