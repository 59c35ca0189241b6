import { Router } from 'express';
import { Problem } from '../../core/base/problem/problem.ts';
import type { Shot } from '../../core/base/schemas/types.ts';
import type { Config } from '../config.ts';
import type { Database } from '../database/connection.ts';
import { findMedia, type StoredMedia } from '../database/media.ts';
import { findShot } from '../database/shots.ts';
import type { SeatWorker } from '../jobs/seat-worker.ts';
import { route } from './route.ts';
import { found } from '../database/found.ts';

/** A plate's lens by pictures that are no plates: chessboards and ST maps. From what the shot itself shows it is estimated elsewhere (seat-routes). */
export function lensRoutes(db: Database, { dataFolder }: Config, seatWorker: SeatWorker): Router {
  const router = Router();
  const sizeOf = (shot: Shot) => {
    if (!shot.plate?.facts) throw new Problem('no-plate');
    return { width: shot.plate.facts.width, height: shot.plate.facts.height };
  };
  /** Pictures are of the shot's own project. */
  const pictureOf = async (shot: Shot, id: number): Promise<StoredMedia> => {
    const medium = found(await findMedia(db, id), 'medium', id);
    if (medium.projectId !== shot.projectId) throw new Problem('not-found', { thing: 'medium', id });
    if (medium.state === 'cleared') throw new Problem('frames-cleared', { name: medium.name });
    if (medium.state !== 'ready' || !medium.facts) throw new Problem('not-found', { thing: 'picture of medium', id });
    return medium;
  };

  route(
    router,
    'post',
    '/shots/:id/lens/boards',
    { body: 'boardsAsked', reply: 'lensBoards' },
    async ({ id, body }) => {
      const shot = found(await findShot(db, id()), 'shot', id());
      const size = sizeOf(shot);
      const media: StoredMedia[] = [];
      for (const one of new Set(body.media)) media.push(await pictureOf(shot, one));
      return seatWorker.boards({ media, dataFolder, size });
    },
  );
  route(router, 'post', '/shots/:id/lens/map', { body: 'lensMapAsked', reply: 'lensMap' }, async ({ id, body }) => {
    const shot = found(await findShot(db, id()), 'shot', id());
    return seatWorker.lensMap({
      map: await pictureOf(shot, body.media),
      takes: body.takes,
      dataFolder,
      size: sizeOf(shot),
    });
  });
  return router;
}
