import { FileStore } from '@tus/file-store';
import { Server as TusServer } from '@tus/server';
import { Router } from 'express';
import { existsSync, rmSync, statfsSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { Problem } from '../../core/base/problem/problem.ts';
import type { ClaimUploadRequest } from '../../core/base/schemas/types.ts';
import { folders, type Config } from '../config.ts';
import { transaction, type Database } from '../database/connection.ts';
import { findJob, jobReply } from '../database/jobs.ts';
import { findHeld, findMedia, holdsSize, mediaReply } from '../database/media.ts';
import { findProject } from '../database/projects.ts';
import { findUpload, insertUpload } from '../database/uploads.ts';
import { listServerFolder, takeFromServer } from '../media/server-folder.ts';
import { adoptFile, gigabytes, storeUpload, type StoredFile } from '../media/uploads.ts';
import { route } from './route.ts';
import { found } from '../database/found.ts';
import { statusOf } from './status-of.ts';
import { addMedia } from '../use-cases/add-media.ts';
import { cleanName } from '../media/clean-name.ts';

const TUS_PATH = '/api/v1/uploads';

/**
 * Ways for a file to come in: resumable by the tus protocol (tus.io, version 1.0.0) and then claimed by a project; in one
 * piece; not at all because it is here already; or from a folder of this machine.
 */
export function uploadRoutes(db: Database, config: Config): Router {
  const router = Router();
  const places = folders(config.dataFolder);
  const tus = tusServer(config, places.uploads);
  router.all(['/uploads', '/uploads/{*rest}'], (req, res) => void tus.handle(req, res));

  const replyFor = async ({ mediaId, jobId }: { mediaId: number; jobId: number }) => ({
    media: mediaReply(found(await findMedia(db, mediaId), 'medium', mediaId)),
    job: jobReply(found(await findJob(db, jobId), 'job', jobId)),
  });
  const add = async (projectId: number, name: string, stored: StoredFile) =>
    replyFor(await transaction(db, (connection) => addMedia(connection, projectId, name, stored)));
  /** Claims of this run of the server: two at once for one upload, as from two tabs, come to one medium. */
  const claims = new Map<string, ReturnType<typeof claimUpload>>();
  const projectOf = async (id: number) => found(await findProject(db, id), 'project', id);

  route(router, 'get', '/limits', { reply: 'limits' }, async () => ({
    uploadBytes: config.uploadLimitBytes,
    serverFolder: config.platesFolder !== null,
  }));

  route(router, 'post', '/projects/:id/media', { reply: 'uploadReply' }, async ({ id, req }) => {
    await projectOf(id());
    const name = cleanName(typeof req.query.name === 'string' ? req.query.name : '');
    return add(id(), name, await storeUpload(req, places.uploads, places.media, config.uploadLimitBytes, name));
  });

  route(
    router,
    'post',
    '/projects/:id/media/held',
    { body: 'heldRequest', reply: 'heldReply' },
    async ({ id, body }) => {
      await projectOf(id());
      if (body.hash === undefined) return { maybe: await holdsSize(db, body.bytes), taken: null };
      const held = await findHeld(db, body.hash);
      return {
        maybe: held !== null,
        taken:
          held && held.bytes === body.bytes
            ? await add(id(), cleanName(body.name), { hash: body.hash, bytes: body.bytes })
            : null,
      };
    },
  );

  route(
    router,
    'post',
    '/projects/:id/media/uploaded',
    { body: 'claimUpload', reply: 'uploadReply' },
    async ({ id, body }) => {
      await projectOf(id());
      const before = await findUpload(db, body.uploadId);
      if (before) return replyFor(before);
      let claim = claims.get(body.uploadId);
      if (!claim) {
        claim = claimUpload(id(), body);
        claims.set(body.uploadId, claim);
        claim.catch(() => claims.delete(body.uploadId));
      }
      return replyFor(await claim);
    },
  );

  async function claimUpload(projectId: number, body: ClaimUploadRequest) {
    const file = join(places.uploads, body.uploadId);
    const note = `${file}.json`;
    if (!existsSync(file) || !existsSync(note)) throw new Problem('not-found', { thing: 'upload', id: body.uploadId });
    const { size, offset } = await tus.datastore.getUpload(body.uploadId);
    if (size === undefined || offset < size || statSync(file).size < size)
      throw new Problem('upload-not-whole', { name: body.name, have: gigabytes(offset), size: gigabytes(size ?? 0) });
    const name = cleanName(body.name);
    const stored = await adoptFile(file, places.media, name);
    const made = await transaction(db, async (connection) => {
      const added = await addMedia(connection, projectId, name, stored);
      await insertUpload(connection, body.uploadId, added.mediaId, added.jobId);
      return added;
    });
    rmSync(note, { force: true });
    return made;
  }

  route(router, 'get', '/server-files', { reply: 'serverFolder' }, async ({ req }) =>
    listServerFolder(config.platesFolder, typeof req.query.path === 'string' ? req.query.path : ''),
  );
  route(
    router,
    'post',
    '/projects/:id/media/from-server',
    { body: 'fromServerRequest', reply: 'uploadReply' },
    async ({ id, body }) => {
      await projectOf(id());
      const { name, stored } = await takeFromServer(config.platesFolder, body.path, places);
      return add(id(), name, stored);
    },
  );
  return router;
}

function tusServer(config: Config, directory: string): TusServer {
  const refuse = (problem: Problem) =>
    Object.assign(new Error(problem.sentence), {
      status_code: statusOf(problem.code),
      body: JSON.stringify({ code: problem.code, message: problem.message, remedy: problem.remedy, request: '' }),
    });
  return new TusServer({
    path: TUS_PATH,
    relativeLocation: true,
    datastore: new FileStore({ directory }),
    maxSize: config.uploadLimitBytes,
    onUploadCreate: async (_req, upload) => {
      const { bavail, bsize } = statfsSync(directory);
      const size = upload.size ?? 0;
      if (size === 0) throw refuse(new Problem('empty-file', { file: cleanName(upload.metadata?.name ?? 'the file') }));
      if (size > bavail * bsize)
        throw refuse(
          new Problem('no-room', {
            file: cleanName(upload.metadata?.name ?? 'the file'),
            needed: gigabytes(size),
            free: gigabytes(bavail * bsize),
          }),
        );
      return {};
    },
    onResponseError: (_req, error) => {
      if (!(error instanceof Error) && error.status_code === 413)
        return refuse(new Problem('upload-too-large', { limit: gigabytes(config.uploadLimitBytes) }));
      return undefined;
    },
  });
}
