import { Router } from 'express';
import { createWriteStream, mkdtempSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { Problem } from '../../core/base/problem/problem.ts';
import { readArchive } from '../archive/read-archive.ts';
import { writeArchive } from '../archive/write-archive.ts';
import { folders, type Config } from '../config.ts';
import type { Database } from '../database/connection.ts';
import { findProject } from '../database/projects.ts';
import { gigabytes } from '../media/uploads.ts';
import { route, rowNumber } from './route.ts';
import { found } from '../database/found.ts';
import { fileNameOf } from '../../core/handoff/send/file-pattern.ts';

/** A whole project out, as one file, and in again. */
export function archiveRoutes(db: Database, config: Config): Router {
  const router = Router();
  const places = folders(config.dataFolder);
  router.get('/projects/:id/archive', async (req, res) => {
    const project = found(await findProject(db, rowNumber(req, 'id')), 'project', rowNumber(req, 'id'));
    res.attachment(`${fileNameOf(project.name)}.yarlop.zip`);
    await writeArchive(db, project, places, res, {
      plates: req.query.plates !== 'no',
      renders: req.query.renders === 'yes',
    });
  });
  route(router, 'post', '/archives', { reply: 'archiveReply' }, async ({ req }) => {
    const folder = mkdtempSync(join(places.uploads, 'archive-'));
    const file = join(folder, 'archive.zip');
    try {
      let bytes = 0;
      const meter = new Transform({
        transform(chunk: Buffer, _encoding, done) {
          bytes += chunk.length;
          done(
            bytes > config.uploadLimitBytes
              ? new Problem('upload-too-large', { limit: gigabytes(config.uploadLimitBytes) })
              : null,
            chunk,
          );
        },
      });
      await pipeline(req, meter, createWriteStream(file));
      if (bytes === 0) throw new Problem('empty-file', { file: 'the archive' });
      return await readArchive(db, file, folder, places);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw new Problem('disk-full', {}, { cause: error });
      throw error;
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
  });
  return router;
}
