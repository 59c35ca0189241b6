import { Router } from 'express';
import { join } from 'node:path';
import sharp from 'sharp';
import { Problem } from '../../core/problem/problem.ts';
import { folders, type Config } from '../config.ts';
import { transaction, type Database, type Queryable } from '../database/connection.ts';
import { findJob, insertJob, jobReply } from '../database/jobs.ts';
import { findMedia, insertMedia, listMedia, mediaReply, type StoredMedia } from '../database/media.ts';
import { findProject } from '../database/projects.ts';
import { FrameStore } from '../media/frame-store.ts';
import { storedPath, storeUpload } from '../media/uploads.ts';
import { found, route, rowNumber } from './route.ts';

/** Stores a medium with the job that brings it in, inside a transaction; used by uploads and by the demo. */
export async function addMedia(connection: Queryable, projectId: number, name: string, stored: { hash: string; bytes: number }): Promise<{ mediaId: number; jobId: number }> {
  const mediaId = await insertMedia(connection, { projectId, name, ...stored });
  const jobId = await insertJob(connection, { kind: 'bring-in', projectId, mediaId, params: {}, total: 0 });
  return { mediaId, jobId };
}

/** Uploads, the project's media, and their frames as pictures. */
export function mediaRoutes(db: Database, config: Config): Router {
  const router = Router();
  const places = folders(config.dataFolder);
  const mediaOf = async (id: number) => found(await findMedia(db, id), 'medium', id);

  route(router, 'post', '/projects/:id/media', { reply: 'uploadReply' }, async ({ id, req }) => {
    found(await findProject(db, id()), 'project', id());
    const name = (typeof req.query.name === 'string' ? req.query.name : '').split(/[\\/]/).at(-1)!.slice(0, 255).trim();
    if (!name) throw new Problem('bad-field', { where: 'the address', field: 'name', why: 'is missing' });
    const stored = await storeUpload(req, places.uploads, places.media, config.uploadLimitBytes, name);
    const { mediaId, jobId } = await transaction(db, (connection) => addMedia(connection, id(), name, stored));
    return { media: mediaReply(await mediaOf(mediaId)), job: jobReply(found(await findJob(db, jobId), 'job', jobId)) };
  });
  route(router, 'get', '/projects/:id/media', { reply: 'mediaList' }, async ({ id }) => (await listMedia(db, id())).map(mediaReply));
  route(router, 'get', '/media/:id', { reply: 'media' }, async ({ id }) => mediaReply(await mediaOf(id())));

  const ready = async (id: number): Promise<StoredMedia> => {
    const media = await mediaOf(id);
    if (media.state !== 'ready' || !media.facts) throw new Problem('not-found', { thing: 'picture of medium', id });
    return media;
  };
  router.get('/media/:id/frames/:frame.jpg', async (req, res) => {
    const media = await ready(rowNumber(req, 'id'));
    const jpeg = await new FrameStore(join(places.frames, String(media.id))).proxy(rowNumber(req, 'frame'), media.facts!.layout);
    res.type('jpg').set('Cache-Control', 'private, max-age=31536000, immutable').send(jpeg);
  });
  router.get('/media/:id/frames/:frame.png', async (req, res) => {
    const media = await ready(rowNumber(req, 'id'));
    const png = media.kind === 'still'
      // A still keeps its transparency, which the frame store of opaque pictures doesn't.
      ? await sharp(storedPath(places.media, media.hash)).rotate().toColourspace('srgb').png({ compressionLevel: 1 }).toBuffer()
      : await new FrameStore(join(places.frames, String(media.id))).exact(rowNumber(req, 'frame'), media.facts!.layout);
    res.type('png').set('Cache-Control', 'private, max-age=31536000, immutable').send(png);
  });
  return router;
}
