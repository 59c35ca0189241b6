import { setTimeout as sleep } from 'node:timers/promises';
import { parentPort, workerData } from 'node:worker_threads';
import { Problem } from '../../core/base/problem/problem.ts';
import { isDatabaseError, openPool, type Database, type DatabaseAddress } from '../database/connection.ts';
import { dropFollowState } from '../database/follow-states.ts';
import { claimJob, endJob, releaseJobsOf, type JobKind, type StoredJob } from '../database/jobs.ts';
import type { FrameServer } from '../media/frame-server.ts';
import { loadKernels } from '../kernels/load-kernels.ts';
import { boardClip } from './board-job.ts';
import { bringIn } from './bring-in-job.ts';
import { checkPlate } from './check-job.ts';
import { follow } from './follow-job.ts';
import { JobContext, JobStopped, JobTakenAway } from './job-context.ts';
import { followPoints } from './points-job.ts';
import { pullKeys } from './pull-job.ts';
import { FrameWork } from './frame-work.ts';
import { solveShotScene } from './scene-job.ts';
import { seat } from './seat-job.ts';
import { joinLoop } from './loop-job.ts';
import { steadyClip } from './steady-job.ts';
import { deliver } from '../send/deliver.ts';
import { releaseFramesOf } from '../database/workers.ts';

/** A worker thread: claims a job, does it, claims the next. */
export interface ThreadData {
  database: DatabaseAddress;
  dataFolder: string;
  worker: string;
  /** A worker without the house's folder makes frames only, and gets what it needs from there. */
  frameServer?: FrameServer | null;
}

const IDLE_MS = 250;
/** A job that the database broke off so many times is reported as failed. */
const MOST_ATTEMPTS = 5;

async function perform(db: Database, job: StoredJob, { worker, dataFolder }: ThreadData): Promise<void> {
  const context = new JobContext(db, job, worker, dataFolder);
  try {
    const result = await dispatch(context);
    await endJob(db, job.id, worker, { state: 'done', result });
  } catch (error) {
    if (error instanceof JobTakenAway) return;
    // The loop gives the job back; it is taken up where it was.
    if (isDatabaseError(error) && job.attempts < MOST_ATTEMPTS) throw error;
    // What it had found stays in the track; where it stood is of no more use.
    await dropFollowState(db, job.id);
    if (error instanceof JobStopped) await endJob(db, job.id, worker, { state: 'stopped' });
    else {
      if (!(error instanceof Problem)) parentPort?.postMessage({ failed: job.id, error: (error as Error).stack });
      const problem = error instanceof Problem ? error : new Problem('internal', { id: `job ${job.id}` });
      await endJob(db, job.id, worker, { state: 'failed', problem: problem.sentence });
    }
  } finally {
    context.close();
  }
}

async function dispatch(context: JobContext<JobKind>): Promise<string | undefined> {
  // The row's kind decides which parameters it holds; the cast follows that rule.
  switch (context.job.kind) {
    case 'bring-in':
      return void (await bringIn(context as JobContext<'bring-in'>));
    case 'check':
      return void (await checkPlate(context as JobContext<'check'>));
    case 'follow':
      return void (await follow(context as JobContext<'follow'>));
    case 'points':
      return void (await followPoints(context as JobContext<'points'>));
    case 'pull':
      return void (await pullKeys(context as JobContext<'pull'>));
    case 'seat':
      return void (await seat(context as JobContext<'seat'>));
    case 'scene':
      return void (await solveShotScene(context as JobContext<'scene'>));
    case 'steady':
      return steadyClip(context as JobContext<'steady'>);
    case 'board':
      return boardClip(context as JobContext<'board'>);
    case 'loop':
      return joinLoop(context as JobContext<'loop'>);
    // Its frames are made one by one (frame-work.ts); what is left is the making of files from them.
    case 'render':
      return deliver(context as JobContext<'render'>);
  }
}

async function loop(data: ThreadData): Promise<never> {
  const db = openPool(data.database, 2);
  const frames = new FrameWork(
    db,
    data.worker,
    data.dataFolder,
    (failed) => parentPort?.postMessage(failed),
    data.frameServer ?? null,
  );
  for (;;) {
    try {
      const job = data.frameServer ? null : await claimJob(db, data.worker);
      if (job) await perform(db, job, data);
      else await sleep((await frames.some()) ?? IDLE_MS);
    } catch (error) {
      // The database may be restarting.
      parentPort?.postMessage({ error: (error as Error).message });
      await sleep(1000);
      // The job that was broken off is taken up again as soon as the database is back.
      await releaseJobsOf(db, [data.worker]).catch(() => {});
      await releaseFramesOf(db, [data.worker]).catch(() => {});
    }
  }
}

loadKernels();
await loop(workerData as ThreadData);
