import { Router } from 'express';
import { Problem } from '../../core/base/problem/problem.ts';
import type { LensOffer, SceneReply } from '../../core/base/schemas/types.ts';
import type { Database } from '../database/connection.ts';
import { firstCut } from '../database/checks.ts';
import { readDocument } from '../database/documents.ts';
import { findJob, insertJob, jobReply } from '../database/jobs.ts';
import { readScene, sceneQuestion } from '../database/scenes.ts';
import { findShot, listShots } from '../database/shots.ts';
import { refuseWhileRunning } from './job-routes.ts';
import { found, route } from './route.ts';

async function openShot(db: Database, id: number) {
  const shot = found(await findShot(db, id), 'shot', id);
  const document = await readDocument(db, shot.id, shot.revision);
  const { plate } = shot;
  if (!plate?.facts) throw new Problem('no-plate');
  const last = plate.facts.frames - 1;
  const [from, to] = document.range ?? [0, last];
  const frames: [number, number] = [Math.min(from, last), Math.min(to, last)];
  return { shot, document, plate, frames, question: sceneQuestion(document, frames) };
}

/** Queues the solving of a shot's scene over its range, and the placing of its corners' plane in it. */
export async function startScene(db: Database, shotId: number): Promise<number> {
  const { shot, document, plate, frames, question } = await openShot(db, shotId);
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

/** The camera and the still surroundings of a shot. */
export function sceneRoutes(db: Database): Router {
  const router = Router();
  route(router, 'post', '/shots/:id/scene', { reply: 'apiJob' }, async ({ id }) => {
    const job = await startScene(db, id());
    return jobReply(found(await findJob(db, job), 'job', job));
  });
  route(router, 'get', '/shots/:id/scene', { reply: 'sceneReply' }, async ({ id }): Promise<SceneReply> => {
    const shot = found(await findShot(db, id()), 'shot', id());
    const stored = await readScene(db, shot.id);
    if (!stored) return { scene: null, plane: null, current: false, changed: 0 };
    const current =
      shot.plate?.facts && shot.plate.id === stored.plateId
        ? (await openShot(db, shot.id)).question === stored.question
        : false;
    return { scene: stored.scene, plane: stored.plane, current, changed: stored.changed };
  });
  route(router, 'get', '/shots/:id/lenses', { reply: 'lensOffers' }, async ({ id }): Promise<LensOffer[]> => {
    const shot = found(await findShot(db, id()), 'shot', id());
    const out: LensOffer[] = [];
    for (const other of await listShots(db, shot.projectId)) {
      const { lens } = await readDocument(db, other.id, other.revision);
      // A lens's numbers are in pixels: of plates of another size they are others.
      if (
        lens &&
        other.id !== shot.id &&
        other.plate?.facts?.width === shot.plate?.facts?.width &&
        other.plate?.facts?.height === shot.plate?.facts?.height
      )
        out.push({ shotId: other.id, shot: other.name, lens });
    }
    return out;
  });
  return router;
}
