import { Router } from 'express';
import { statfsSync, statSync } from 'node:fs';
import { Problem } from '../../core/base/problem/problem.ts';
import { folders, type Config } from '../config.ts';
import { select, type Database } from '../database/connection.ts';
import { hasOpenPlateJob } from '../database/jobs.ts';
import {
  findMedia,
  listAllMedia,
  listMedia,
  mediaReply,
  mediaUses,
  setMediaDeleted,
  setStoreCleared,
} from '../database/media.ts';
import { findProject } from '../database/projects.ts';
import { folderBytes } from '../media/folder-bytes.ts';
import { fileOfKey } from '../send/finished-paths.ts';
import { openFrames } from '../media/stored-frames.ts';
import { sweep } from '../jobs/sweep.ts';
import { join } from 'node:path';
import { route } from './route.ts';
import { found } from '../database/found.ts';

/** What finished frames of a project's shots take. */
async function finishedBytes(db: Database, renders: string, project: number): Promise<number> {
  const rows = await select<{ frame_key: string }>(
    db,
    'SELECT DISTINCT f.frame_key FROM finished_frames f JOIN shots s ON s.id = f.shot_id WHERE s.project_id = ?',
    [project],
  );
  return rows.reduce(
    (sum, { frame_key }) => sum + (statSync(fileOfKey(renders, frame_key) ?? '', { throwIfNoEntry: false })?.size ?? 0),
    0,
  );
}

/** What the disk holds for a project; putting frames away, and looking for what is lost. */
export function storageRoutes(db: Database, config: Config): Router {
  const router = Router();
  const places = folders(config.dataFolder);
  const mediaOf = async (id: number) => found(await findMedia(db, id), 'medium', id);

  route(router, 'get', '/projects/:id/storage', { reply: 'storage' }, async ({ id }) => {
    found(await findProject(db, id()), 'project', id());
    const media = await listMedia(db, id());
    const renders = await select<{ id: number }>(
      db,
      "SELECT id FROM jobs WHERE project_id = ? AND kind IN ('steady', 'board', 'render')",
      [id()],
    );
    const { bavail, bsize } = statfsSync(config.dataFolder);
    return {
      media: media.map((m) => ({
        mediaId: m.id,
        name: m.name,
        fileBytes: m.bytes,
        frameBytes: m.store ? folderBytes(join(places.frames, m.store)) : 0,
        state: m.state,
      })),
      renderBytes:
        renders.reduce((sum, job) => sum + folderBytes(join(places.renders, String(job.id))), 0) +
        (await finishedBytes(db, places.renders, id())),
      freeBytes: bavail * bsize,
    };
  });

  route(router, 'post', '/media/:id/clear', { reply: 'media' }, async ({ id }) => {
    const media = await mediaOf(id());
    if (media.state === 'ready' && media.store) {
      const sharing = (await listAllMedia(db)).filter((m) => m.store === media.store);
      for (const { id: other } of sharing) {
        const open = await hasOpenPlateJob(db, other);
        if (open) throw new Problem('job-running', { kind: open });
      }
      await setStoreCleared(db, media.store);
      openFrames(places, media).clear();
    }
    return mediaReply(await mediaOf(id()), await mediaUses(db, media.projectId));
  });

  route(router, 'delete', '/media/:id', { reply: 'mediaList' }, async ({ id }) => {
    const media = await mediaOf(id());
    const uses = (await mediaUses(db, media.projectId)).get(media.id) ?? [];
    if (uses.length > 0)
      throw new Problem('medium-used', { name: media.name, shots: [...new Set(uses.map((u) => u.shot))].join(', ') });
    await setMediaDeleted(db, media.id, true);
    return (await listMedia(db, media.projectId)).map((m) => mediaReply(m));
  });
  route(router, 'post', '/media/:id/restore', { reply: 'media' }, async ({ id }) => {
    await mediaOf(id());
    await setMediaDeleted(db, id(), false);
    return mediaReply(await mediaOf(id()));
  });

  route(router, 'post', '/storage/sweep', { reply: 'sweepReply' }, () => sweep(db, places));
  return router;
}
