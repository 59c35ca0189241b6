import { openDocument, rangeOf } from './open-shot.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { Database } from '../database/connection.ts';
import { firstCut } from '../database/checks.ts';
import { insertJob } from '../database/jobs.ts';
import { sceneQuestion } from '../database/scenes.ts';
import { refuseWhileRunning } from './refuse-while-running.ts';

/** A shot with the frames of its room, and what is asked about it in a word. */
export async function openRoom(db: Database, id: number) {
  const { shot, document } = await openDocument(db, id);
  const { plate } = shot;
  if (!plate?.facts) throw new Problem('no-plate');
  const frames = rangeOf(document, plate.facts.frames);
  return { shot, document, plate, frames, question: sceneQuestion(document, frames) };
}

/** Queues the solving of a shot's scene over its range, and the placing of its corners' plane in it. */
export async function startScene(db: Database, shotId: number): Promise<number> {
  const { shot, document, plate, frames, question } = await openRoom(db, shotId);
  if (plate.state === 'cleared') throw new Problem('frames-cleared', { name: plate.name });
  if (frames[1] - frames[0] < 2) throw new Problem('bad-range', { where: 'the shot', range: frames.join('-') });
  const cut = await firstCut(db, plate.id, frames);
  if (cut !== null) throw new Problem('crosses-cut', { where: 'the shot', frame: cut });
  await refuseWhileRunning(db, shot.id);
  return insertJob(db, {
    kind: 'scene',
    projectId: shot.projectId,
    shotId: shot.id,
    params: { frames, document, question },
    total: Math.ceil(1.5 * (frames[1] - frames[0] + 1)),
  });
}
