import { Router } from 'express';
import type { LensOffer, SceneReply } from '../../core/base/schemas/types.ts';
import type { Database } from '../database/connection.ts';
import { readDocument } from '../database/documents.ts';
import { findJob, jobReply } from '../database/jobs.ts';
import { readScene } from '../database/scenes.ts';
import { findShot, listShots } from '../database/shots.ts';
import { route } from './route.ts';
import { found } from '../database/found.ts';
import { openRoom, startScene } from '../use-cases/solve-room.ts';

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
        ? (await openRoom(db, shot.id)).question === stored.question
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
