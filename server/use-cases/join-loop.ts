import { openDocument, rangeOf } from './open-shot.ts';
import { DISPLAY_COLOUR } from '../../core/base/image/plate-colour.ts';
import { LoopJoin, TakesJoin } from '../../core/picture/loop/joining.ts';
import { shotJoin, USUAL_FADE } from '../../core/picture/loop/shot-loop.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { LoopRequest } from '../../core/base/schemas/types.ts';
import { firstCut } from '../database/checks.ts';
import type { Database } from '../database/connection.ts';
import { insertJob } from '../database/jobs.ts';
import { findMedia } from '../database/media.ts';
import { readMotion } from '../database/motion-source.ts';
import { cornersOf, planRender } from '../send/render-plan.ts';
import { refuseWhileRunning } from './refuse-while-running.ts';

/** Queues the joining of a shot, over its range, as its document tells. */
export async function startLoop(db: Database, shotId: number, { output }: LoopRequest): Promise<number> {
  const { shot, document } = await openDocument(db, shotId);
  const { plate } = shot;
  const { loop = {} } = document;
  if (!plate?.facts) throw new Problem('no-plate');
  if (plate.state === 'cleared') throw new Problem('frames-cleared', { name: plate.name });
  const frames = rangeOf(document, plate.facts.frames);
  const cut = await firstCut(db, plate.id, frames);
  if (cut !== null) throw new Problem('crosses-cut', { where: 'the shot', frame: cut });
  const motion = document.corners ? await readMotion(db, shot, document) : [];
  const corners = motion.length > 0 ? await cornersOf(db, shotId, document, motion) : [];
  if (loop.split?.shape && loop.split.shape.rides !== 'plate' && corners.length === 0) throw new Problem('no-track');
  const settings = shotJoin(document, plate.facts, frames[0], new Map());
  const size = { width: plate.facts.width, height: plate.facts.height, colour: DISPLAY_COLOUR };
  // What cannot be is reported at once, and not by a job that fails.
  if (loop.second) {
    const second = await findMedia(db, loop.second.mediaId);
    if (!second?.facts || second.projectId !== shot.projectId)
      throw new Problem('not-found', { thing: 'plate', id: loop.second.mediaId });
    if (second.state === 'cleared') throw new Problem('frames-cleared', { name: second.name });
    if (second.facts.width !== size.width || second.facts.height !== size.height)
      throw new Problem('bad-field', {
        where: 'this shot',
        field: 'the second take',
        why: `is ${second.facts.width}×${second.facts.height}; the plate is ${size.width}×${size.height}, and both must be of one size`,
      });
    new TakesJoin(settings, size, frames, loop.second.offset ?? 0, second.facts.frames);
  } else new LoopJoin(settings, size, frames, loop.fade ?? USUAL_FADE);
  const plan = (loop.of ?? 'finished') === 'finished' ? await planRender(db, shot, document) : null;
  await refuseWhileRunning(db, shotId);
  return insertJob(db, {
    kind: 'loop',
    projectId: shot.projectId,
    shotId,
    params: { frames, output, document, plan, corners },
    total: frames[1] - frames[0] + 1,
  });
}
