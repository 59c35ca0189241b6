import { openDocument, rangeOf } from './open-shot.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import { type Database } from '../database/connection.ts';
import { insertJob } from '../database/jobs.ts';
import { refuseWhileRunning } from './refuse-while-running.ts';

/** Queues the writing of a shot's board as a clip, over the shot's range. */
export async function startBoard(db: Database, shotId: number): Promise<number> {
  const { shot, document } = await openDocument(db, shotId);
  const { board } = document.look;
  if (!shot.plate?.facts) throw new Problem('no-plate');
  if (!board) throw new Problem('no-content');
  const frames = rangeOf(document, shot.plate.facts.frames);
  await refuseWhileRunning(db, shotId);
  return insertJob(db, {
    kind: 'board',
    projectId: shot.projectId,
    shotId,
    params: { frames, board },
    total: frames[1] - frames[0] + 1,
  });
}
