import { Router } from 'express';
import { join } from 'node:path';
import { inUse } from '../../core/base/geometry/outline.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import { folders, type Config } from '../config.ts';
import { type Database } from '../database/connection.ts';
import { readDocument } from '../database/documents.ts';
import { findJob, jobReply, listShotJobs, requestStop } from '../database/jobs.ts';
import { findMedia } from '../database/media.ts';
import { findShot } from '../database/shots.ts';
import { trackChanges } from '../database/tracks.ts';
import { sampleTrial } from '../jobs/sampling-trial.ts';
import { page } from './paging.ts';
import { route, rowNumber } from './route.ts';
import { found } from '../database/found.ts';
import { sendFile } from './render-routes.ts';
import { fileNameOf } from '../../core/handoff/send/file-pattern.ts';
import { startFollow, clearFollowed } from '../use-cases/follow-shot.ts';
import { startSteady } from '../use-cases/steady-shot.ts';
import { startBoard } from '../use-cases/write-board.ts';

/** As many jobs of a shot are listed where nothing is said, and as many can be paged through. */
const NEWEST_JOBS = 50;
const MOST_JOBS = 10_000;

/** Long work: start it, look at it, stop it, fetch what came of it. */
export function jobRoutes(db: Database, config: Config): Router {
  const router = Router();
  const renders = folders(config.dataFolder).renders;
  const jobOf = async (id: number) => found(await findJob(db, id), 'job', id);
  const reply = async (id: number) => jobReply(await jobOf(id));

  route(router, 'post', '/shots/:id/follow', { body: 'followRequest', reply: 'apiJob' }, async ({ id, body }) =>
    reply(await startFollow(db, id(), body)),
  );
  route(
    router,
    'post',
    '/shots/:id/track/clear',
    { body: 'clearRequest', reply: 'trackRows' },
    async ({ id, body }) => {
      await clearFollowed(db, id(), body.frames);
      return trackChanges(db, id(), 0);
    },
  );
  route(router, 'post', '/shots/:id/sampling', { reply: 'samplingTrials' }, async ({ id }) => {
    const shot = found(await findShot(db, id()), 'shot', id());
    const plate = shot.plate && (await findMedia(db, shot.plate.id));
    if (!plate?.facts) throw new Problem('no-plate');
    if (plate.state === 'cleared') throw new Problem('frames-cleared', { name: plate.name });
    const document = await readDocument(db, shot.id, shot.revision);
    if (inUse(document.regions).length === 0) throw new Problem('no-region', { where: 'this shot' });
    return sampleTrial(plate, document, config.dataFolder);
  });
  route(router, 'post', '/shots/:id/board-clip', { reply: 'apiJob' }, async ({ id }) =>
    reply(await startBoard(db, id())),
  );
  route(router, 'post', '/shots/:id/steady', { body: 'steadyRequest', reply: 'apiJob' }, async ({ id, body }) =>
    reply(await startSteady(db, id(), body)),
  );
  route(router, 'get', '/shots/:id/jobs', { reply: 'jobs' }, async ({ id, req, res }) =>
    page(
      req,
      res,
      (
        await listShotJobs(
          db,
          id(),
          req.query.limit === undefined && req.query.after === undefined ? NEWEST_JOBS : MOST_JOBS,
        )
      ).map(jobReply),
    ),
  );
  route(router, 'get', '/jobs/:id', { reply: 'apiJob' }, ({ id }) => reply(id()));
  route(router, 'post', '/jobs/:id/stop', { reply: 'apiJob' }, async ({ id }) => {
    await jobOf(id());
    if (!(await requestStop(db, id()))) throw new Problem('job-ended');
    return reply(id());
  });
  router.get('/jobs/:id/result', async (req, res) => {
    const job = await jobOf(rowNumber(req, 'id'));
    if (job.state !== 'done' || !job.result)
      throw new Problem('not-found', { thing: 'finished file of job', id: job.id });
    if (job.kind === 'render') return sendFile(res, join(renders, String(job.id)), job.result);
    const shot = job.shotId === null ? null : await findShot(db, job.shotId);
    const ending = job.result.slice(job.result.lastIndexOf('.'));
    return res.download(
      join(renders, String(job.id), job.result),
      `${fileNameOf(shot?.name ?? 'shot')}${{ steady: '-steadied', board: '-board', loop: '-loop' }[job.kind as string] ?? ''}${ending}`,
      { dotfiles: 'allow' },
    );
  });
  return router;
}
