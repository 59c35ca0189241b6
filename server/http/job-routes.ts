import { Router } from 'express';
import { join } from 'node:path';
import { inUse } from '../../core/base/geometry/outline.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { FollowRequest, SteadyRequest } from '../../core/base/schemas/types.ts';
import { folders, type Config } from '../config.ts';
import { transaction, type Database } from '../database/connection.ts';
import { readDocument } from '../database/documents.ts';
import {
  findJob,
  hasOpenJob,
  insertJob,
  jobReply,
  lastFollowed,
  listShotJobs,
  requestStop,
  SHOT_WORK,
} from '../database/jobs.ts';
import { findMedia } from '../database/media.ts';
import { findShot } from '../database/shots.ts';
import { clearOthers, clearSpan, readTrack, trackChanges } from '../database/tracks.ts';
import { steadyFor } from '../jobs/steady-follow.ts';
import { sampleTrial } from '../jobs/sampling-trial.ts';
import { steadyingOf } from '../jobs/steady-job.ts';
import { page } from './paging.ts';
import { found, route, rowNumber } from './route.ts';
import { runKeyOf, sameQuestion } from '../database/run-key.ts';
import { sendFile } from './render-routes.ts';
import { fileNameOf } from '../../core/handoff/send/file-pattern.ts';

/**
 * Queues a follow of a shot. From the reference, what is still missing of a track that was begun with the same regions is
 * done; anything else in the span is done again. From another frame, all beyond it is done again. Protected spans stay.
 */
export async function startFollow(
  db: Database,
  shotId: number,
  { direction, frames: span, from }: FollowRequest,
): Promise<number> {
  const shot = found(await findShot(db, shotId), 'shot', shotId);
  const plate = shot.plate;
  if (!plate?.facts) throw new Problem('no-plate');
  if (plate.state === 'cleared') throw new Problem('frames-cleared', { name: plate.name });
  const document = await readDocument(db, shotId, shot.revision);
  if (document.rides !== undefined)
    throw new Problem('rides', { name: (await findShot(db, document.rides))?.name ?? 'another shot' });
  if (inUse(document.regions).length === 0) throw new Problem('no-region', { where: 'this shot' });
  await steadyFor(db, shot, document);
  const last = plate.facts.frames - 1;
  const start = from ?? document.referenceFrame;
  if (document.referenceFrame > last)
    throw new Problem('frame-outside', { where: 'the reference', frame: document.referenceFrame, last });
  if (start > last) throw new Problem('frame-outside', { where: 'the start', frame: start, last });
  const wanted = span ?? document.range ?? [0, last];
  const beyond = from === undefined ? 0 : 1;
  const frames: [number, number] = [
    direction === 'forward' ? Math.max(start + beyond, wanted[0]) : wanted[0],
    direction === 'backward' ? Math.min(start - beyond, wanted[1]) : wanted[1],
  ];
  if (frames[1] > last) throw new Problem('frame-outside', { where: 'the span', frame: frames[1], last });
  if (frames[0] > frames[1]) throw new Problem('bad-range', { where: 'the span', range: frames.join('-') });
  await refuseWhileRunning(db, shotId);
  const runKey = runKeyOf(document, plate.id);
  const rows = (await readTrack(db, shotId)).filter((row) => row.runKey === runKey && row.homography);
  if (from !== undefined && from !== document.referenceFrame && !rows.some((row) => row.frame === from))
    throw new Problem('not-followed', { frame: from });
  const total = frames[1] - frames[0] + 1;
  const have = rows.filter((row) => row.frame >= frames[0] && row.frame <= frames[1]).length;
  const before = await lastFollowed(db, shotId);
  const carriesOn = from === undefined && have < total && before !== null && sameQuestion(before, document);
  return transaction(db, async (connection) => {
    await clearOthers(connection, shotId, runKey);
    if (!carriesOn) await clearSpan(connection, shotId, frames, document.protect);
    return insertJob(connection, {
      kind: 'follow',
      projectId: shot.projectId,
      shotId,
      params: { direction, frames, ...(from === undefined ? {} : { from }), document, runKey },
      total,
    });
  });
}

/** Forgets what was followed in a span, but for protected frames. */
async function clearFollowed(db: Database, shotId: number, span: readonly [number, number]): Promise<void> {
  const shot = found(await findShot(db, shotId), 'shot', shotId);
  if (span[0] > span[1]) throw new Problem('bad-range', { where: 'the span', range: span.join('-') });
  await refuseWhileRunning(db, shotId);
  await clearSpan(db, shotId, span, (await readDocument(db, shotId, shot.revision)).protect);
}

/** Queues the writing of a shot's plate with its motion taken out, of its range. */
export async function startSteady(db: Database, shotId: number, { output, outside }: SteadyRequest): Promise<number> {
  const shot = found(await findShot(db, shotId), 'shot', shotId);
  const document = await readDocument(db, shotId, shot.revision);
  if (!shot.plate?.facts) throw new Problem('no-plate');
  if (shot.plate.state === 'cleared') throw new Problem('frames-cleared', { name: shot.plate.name });
  if (outside === 'transparent' && output !== 'png')
    throw new Problem('bad-field', {
      where: 'what was asked for',
      field: 'outside',
      why: 'can be transparent only in pictures',
    });
  await steadyingOf(db, shot, document);
  const last = shot.plate.facts.frames - 1;
  const [from, to] = document.range ?? [0, last];
  const frames: [number, number] = [Math.min(from, last), Math.min(to, last)];
  await refuseWhileRunning(db, shotId);
  return insertJob(db, {
    kind: 'steady',
    projectId: shot.projectId,
    shotId,
    params: { frames, output, outside, document },
    total: frames[1] - frames[0] + 1,
  });
}

/** Queues the writing of a shot's board as a clip, over the shot's range. */
export async function startBoard(db: Database, shotId: number): Promise<number> {
  const shot = found(await findShot(db, shotId), 'shot', shotId);
  const document = await readDocument(db, shotId, shot.revision);
  const { board } = document.look;
  if (!shot.plate?.facts) throw new Problem('no-plate');
  if (!board) throw new Problem('no-content');
  const last = shot.plate.facts.frames - 1;
  const [from, to] = document.range ?? [0, last];
  const frames: [number, number] = [Math.min(from, last), Math.min(to, last)];
  await refuseWhileRunning(db, shotId);
  return insertJob(db, {
    kind: 'board',
    projectId: shot.projectId,
    shotId,
    params: { frames, board },
    total: frames[1] - frames[0] + 1,
  });
}

/** One job at a time on a shot. */
export async function refuseWhileRunning(db: Database, shotId: number): Promise<void> {
  const open = await hasOpenJob(db, shotId, SHOT_WORK);
  if (open) throw new Problem('job-running', { kind: open });
}

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
