import { openDocument, rangeOf } from './open-shot.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { SteadyRequest } from '../../core/base/schemas/types.ts';
import { type Database } from '../database/connection.ts';
import { insertJob } from '../database/jobs.ts';
import { steadyingOf } from '../jobs/steady-job.ts';
import { refuseWhileRunning } from './refuse-while-running.ts';

/** Queues the writing of a shot's plate with its motion taken out, of its range. */
export async function startSteady(db: Database, shotId: number, { output, outside }: SteadyRequest): Promise<number> {
  const { shot, document } = await openDocument(db, shotId);
  if (!shot.plate?.facts) throw new Problem('no-plate');
  if (shot.plate.state === 'cleared') throw new Problem('frames-cleared', { name: shot.plate.name });
  if (outside === 'transparent' && output !== 'png')
    throw new Problem('bad-field', {
      where: 'what was asked for',
      field: 'outside',
      why: 'can be transparent only in pictures',
    });
  await steadyingOf(db, shot, document);
  const frames = rangeOf(document, shot.plate.facts.frames);
  await refuseWhileRunning(db, shotId);
  return insertJob(db, {
    kind: 'steady',
    projectId: shot.projectId,
    shotId,
    params: { frames, output, outside, document },
    total: frames[1] - frames[0] + 1,
  });
}
