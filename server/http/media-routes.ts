import { Router, type Request, type Response } from 'express';
import { createHash } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import { dirname } from 'node:path';
import { boxValues } from '../../core/base/image/box-values.ts';
import { parseCube } from '../../core/base/image/cube-lut.ts';
import { pictureFromRaw } from '../../core/base/image/raw-frame.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import { folders, type Config } from '../config.ts';
import { readCheck } from '../database/checks.ts';
import { transaction, type Database } from '../database/connection.ts';
import { findJob, hasOpenPlateJob, insertJob, jobReply } from '../database/jobs.ts';
import {
  findMedia,
  listMedia,
  mediaReply,
  mediaUses,
  setCorrections,
  setLut,
  setMediaWaiting,
  type StoredMedia,
} from '../database/media.ts';
import { writeWholeFile } from '../media/frame-store.ts';
import { openFrames } from '../media/stored-frames.ts';
import { storedPath } from '../media/uploads.ts';
import { page } from './paging.ts';
import { route, rowNumber } from './route.ts';
import { found } from '../database/found.ts';

const MOST_STOPS = 8;

function stopsOf(req: Request): number {
  const stops = Number(req.query.ev ?? 0);
  if (!Number.isFinite(stops) || Math.abs(stops) > MOST_STOPS)
    throw new Problem('bad-field', {
      where: 'the address',
      field: 'ev',
      why: `is not a number of stops from −${MOST_STOPS} to ${MOST_STOPS}`,
    });
  return stops;
}

/** The project's media: what is known of them, corrections, colour tables, the plate check, and frames as pictures. */
export function mediaRoutes(db: Database, config: Config): Router {
  const router = Router();
  const places = folders(config.dataFolder);
  const mediaOf = async (id: number) => found(await findMedia(db, id), 'medium', id);
  const full = async (id: number) => {
    const media = await mediaOf(id);
    return mediaReply(media, await mediaUses(db, media.projectId));
  };
  const readAgain = async (
    id: number,
    change: (connection: Parameters<typeof setMediaWaiting>[0]) => Promise<void>,
  ) => {
    const media = await mediaOf(id);
    const open = await hasOpenPlateJob(db, id);
    if (open) throw new Problem('job-running', { kind: open });
    const jobId = await transaction(db, async (connection) => {
      await change(connection);
      return insertJob(connection, {
        kind: 'bring-in',
        projectId: media.projectId,
        mediaId: id,
        params: {},
        total: media.frames ?? 0,
      });
    });
    return { media: await full(id), job: jobReply(found(await findJob(db, jobId), 'job', jobId)) };
  };

  route(router, 'get', '/projects/:id/media', { reply: 'mediaList' }, async ({ id, req, res }) => {
    const uses = await mediaUses(db, id());
    return page(req, res, await listMedia(db, id())).map((media) => mediaReply(media, uses));
  });
  route(router, 'get', '/media/:id', { reply: 'media' }, ({ id }) => full(id()));

  route(router, 'put', '/media/:id/corrections', { body: 'correctMedia', reply: 'uploadReply' }, ({ id, body }) =>
    readAgain(id(), (connection) => setCorrections(connection, id(), body.corrections)),
  );
  route(router, 'post', '/media/:id/remake', { reply: 'uploadReply' }, ({ id }) =>
    readAgain(id(), (connection) => setMediaWaiting(connection, id())),
  );

  route(router, 'put', '/media/:id/lut', { body: 'lutRequest', reply: 'media' }, async ({ id, body }) => {
    await mediaOf(id());
    parseCube(body.text, body.name);
    const hash = createHash('sha256').update(body.text).digest('hex');
    const file = storedPath(places.media, hash);
    mkdirSync(dirname(file), { recursive: true });
    writeWholeFile(file, Buffer.from(body.text));
    await setLut(db, id(), { name: body.name, hash });
    return full(id());
  });
  route(router, 'delete', '/media/:id/lut', { reply: 'media' }, async ({ id }) => {
    await mediaOf(id());
    await setLut(db, id(), null);
    return full(id());
  });

  route(router, 'get', '/media/:id/check', { reply: 'checkReply' }, async ({ id }) => {
    await mediaOf(id());
    return readCheck(db, id());
  });

  const ready = async (id: number): Promise<StoredMedia> => {
    const media = await mediaOf(id);
    if (media.state === 'cleared') throw new Problem('frames-cleared', { name: media.name });
    if (media.state !== 'ready' || !media.facts) throw new Problem('not-found', { thing: 'picture of medium', id });
    return media;
  };
  route(router, 'get', '/media/:id/frames/:frame/values', { reply: 'frameValues' }, async ({ id, req }) => {
    const media = await ready(id());
    const { layout } = media.facts!;
    const number = (name: string) => {
      const value = Number(req.query[name]);
      if (!Number.isInteger(value) || value < 0)
        throw new Problem('bad-field', { where: 'the address', field: name, why: 'is not a whole number' });
      return value;
    };
    const picture = pictureFromRaw(await openFrames(places, media).readRaw(id('frame')), layout);
    return boxValues(picture, {
      x: number('x'),
      y: number('y'),
      width: Math.max(1, number('width')),
      height: Math.max(1, number('height')),
    });
  });

  const picture = (type: 'jpg' | 'png') => async (req: Request, res: Response) => {
    const store = openFrames(places, await ready(rowNumber(req, 'id')));
    const frame = rowNumber(req, 'frame');
    const bytes = type === 'jpg' ? await store.proxy(frame) : await store.exact(frame, stopsOf(req));
    // An address with the view's name in it always shows the same; without it, the view may change.
    res
      .type(type)
      .set('Cache-Control', req.query.v === undefined ? 'no-cache' : 'private, max-age=31536000, immutable')
      .send(bytes);
  };
  router.get('/media/:id/frames/:frame.jpg', picture('jpg'));
  router.get('/media/:id/frames/:frame.png', picture('png'));
  return router;
}
