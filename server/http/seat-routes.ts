import { Router } from 'express';
import type { Config } from '../config.ts';
import type { Database } from '../database/connection.ts';
import { found } from '../database/found.ts';
import { findJob, jobReply } from '../database/jobs.ts';
import { readMotion } from '../database/motion-source.ts';
import { readSeatFrames, readSeatMeasure } from '../database/seats.ts';
import type { SeatWorker } from '../jobs/seat-worker.ts';
import { startSeat } from '../use-cases/measure-seat.ts';
import { openDocument } from '../use-cases/open-shot.ts';
import { askLens, askLook, askMatch, askSnap, askSurface } from '../use-cases/seat-questions.ts';
import { surfaceOf } from '../use-cases/seated-surface.ts';
import { route } from './route.ts';

/**
 * Where exactly the corners are: looking at the borders of all frames, snapping, matching to the reference. `looks` is a worker of its own: a
 * look takes some seconds, and nobody's snap waits for it.
 */
export function seatRoutes(db: Database, { dataFolder }: Config, seatWorker: SeatWorker, looks: SeatWorker): Router {
  const router = Router();

  route(router, 'post', '/shots/:id/seat', { reply: 'apiJob' }, async ({ id }) => {
    const job = await startSeat(db, id());
    return jobReply(found(await findJob(db, job), 'job', job));
  });
  route(router, 'get', '/shots/:id/seat', { reply: 'seatReply' }, async ({ id }) => {
    const { shot, document } = await openDocument(db, id());
    const measure = await readSeatMeasure(db, shot.id);
    if (measure?.referenceFrame !== document.referenceFrame) return { measured: null, frames: [] };
    return {
      measured: { corners: measure.corners, borders: [...measure.borders], worth: measure.worth },
      frames: await readSeatFrames(db, shot.id, await readMotion(db, shot, document)),
    };
  });
  route(router, 'post', '/shots/:id/snap', { body: 'snapRequest', reply: 'snapReply' }, async ({ id, body }) =>
    seatWorker.snap(await askSnap(db, dataFolder, id(), body)),
  );
  route(router, 'post', '/shots/:id/match', { body: 'matchRequest', reply: 'matchReply' }, async ({ id, body }) =>
    seatWorker.match(await askMatch(db, dataFolder, id(), body)),
  );
  route(router, 'get', '/shots/:id/surface', { reply: 'surfaceReply' }, async ({ id }) => surfaceOf(db, id()));
  route(router, 'post', '/shots/:id/look', { reply: 'lookReply' }, async ({ id }) =>
    looks.look(await askLook(db, dataFolder, id())),
  );
  route(router, 'post', '/shots/:id/front', { reply: 'frontReply' }, async ({ id }) =>
    seatWorker.front(await askSurface(db, dataFolder, id())),
  );
  route(router, 'post', '/shots/:id/lens', { reply: 'lensLines' }, async ({ id }) =>
    seatWorker.lens(await askLens(db, dataFolder, id())),
  );
  route(router, 'post', '/shots/:id/marks', { reply: 'marksReply' }, async ({ id }) =>
    seatWorker.marks(await askSurface(db, dataFolder, id())),
  );
  return router;
}
