import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Router } from 'express';
import { Problem } from '../../core/base/problem/problem.ts';
import { checked } from '../../core/base/schemas/check.ts';
import { folders, type Config } from '../config.ts';
import type { Database } from '../database/connection.ts';
import { findJob, jobReply } from '../database/jobs.ts';
import { LOOP_REPORT } from '../jobs/loop-job.ts';
import { route } from './route.ts';
import { found } from '../database/found.ts';
import { startLoop } from '../use-cases/join-loop.ts';

/** Joining a shot's end with its beginning, or with another take. */
export function loopRoutes(db: Database, config: Config): Router {
  const router = Router();
  const renders = folders(config.dataFolder).renders;
  route(router, 'post', '/shots/:id/loop', { body: 'loopRequest', reply: 'apiJob' }, async ({ id, body }) => {
    const job = await startLoop(db, id(), body);
    return jobReply(found(await findJob(db, job), 'job', job));
  });
  route(router, 'get', '/jobs/:id/loop', { reply: 'loopReport' }, async ({ id }) => {
    const job = found(await findJob(db, id()), 'job', id());
    const file = join(renders, String(job.id), LOOP_REPORT);
    if (job.kind !== 'loop' || job.state !== 'done' || !existsSync(file))
      throw new Problem('not-found', { thing: 'loop of job', id: job.id });
    return checked('loopReport', JSON.parse(readFileSync(file, 'utf8')) as unknown, 'the report of the loop');
  });
  return router;
}
