import { setTimeout as sleep } from 'node:timers/promises';
import { parentPort, workerData } from 'node:worker_threads';
import { Problem } from '../../core/base/problem/problem.ts';
import { isDatabaseError, openPool, type Database, type DatabaseAddress } from '../database/connection.ts';
import { dropFollowState } from '../database/follow-states.ts';
import { claimJob, endJob, releaseJobsOf } from '../database/job-queue.ts';
import type { AnyJobToDo, JobKind, JobToDo } from '../database/jobs.ts';
import type { FrameServer } from '../media/frame-server.ts';
import { loadKernels } from '../kernels/load-kernels.ts';
import { JobContext, JobStopped, JobTakenAway } from './job-context.ts';
import { FrameWork } from './frame-work.ts';
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

/** Does a job's work, and reports how it ended. */
async function carryOut<K extends JobKind>(
  db: Database,
  job: JobToDo<K>,
  { worker, dataFolder }: ThreadData,
  work: (context: JobContext<K>) => Promise<string | undefined | void>,
): Promise<void> {
  const context = new JobContext(db, job, worker, dataFolder);
  try {
    const result = (await work(context)) ?? undefined;
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

/** What does the work is loaded with the first job of its kind: a thread begins in a third of the time. */
async function perform(db: Database, job: AnyJobToDo, data: ThreadData): Promise<void> {
  switch (job.kind) {
    case 'bring-in':
      return carryOut(db, job, data, (await import('./bring-in-job.ts')).bringIn);
    case 'check':
      return carryOut(db, job, data, (await import('./check-job.ts')).checkPlate);
    case 'follow':
      return carryOut(db, job, data, (await import('./follow-job.ts')).follow);
    case 'points':
      return carryOut(db, job, data, (await import('./points-job.ts')).followPoints);
    case 'pull':
      return carryOut(db, job, data, (await import('./pull-job.ts')).pullKeys);
    case 'seat':
      return carryOut(db, job, data, (await import('./seat-job.ts')).seat);
    case 'scene':
      return carryOut(db, job, data, (await import('./scene-job.ts')).solveShotScene);
    case 'steady':
      return carryOut(db, job, data, (await import('./steady-job.ts')).steadyClip);
    case 'board':
      return carryOut(db, job, data, (await import('./board-job.ts')).boardClip);
    case 'loop':
      return carryOut(db, job, data, (await import('./loop-job.ts')).joinLoop);
    // Its frames are made one by one (frame-work.ts); what is left is the making of files from them.
    case 'render':
      return carryOut(db, job, data, (await import('../send/deliver.ts')).deliver);
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
