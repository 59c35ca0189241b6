import { existsSync } from 'node:fs';
import { hostname } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { Logger } from 'pino';
import { openPool, type DatabaseAddress } from '../database/connection.ts';
import { releaseJobsOf, runningWorkers } from '../database/job-queue.ts';
import type { FrameServer } from '../media/frame-server.ts';
import { packWhenWhole } from '../database/render-tasks.ts';
import { releaseFramesOf, releaseLost, seen } from '../database/workers.ts';
import type { ThreadData } from './job-thread.ts';

const LOOK_EVERY_MS = 2000;

export interface WorkerSettings {
  database: DatabaseAddress;
  dataFolder: string;
  workers: number;
  frameServer?: FrameServer | null;
}

/** Starts a thread for each worker and looks after them for as long as the process lives. Returns their names. */
export async function startWorkers(
  { database, dataFolder, workers, frameServer = null }: WorkerSettings,
  log: Logger,
): Promise<string[]> {
  const machine = hostname();
  const prefix = `${machine}/`;
  const db = openPool(database, 1);
  /** What processes of this machine that are gone had in hand goes back into the queue at once. */
  const releaseGone = async (): Promise<void> => {
    const gone = (await runningWorkers(db)).filter(
      (worker) =>
        worker.startsWith(prefix) &&
        !names.includes(worker) &&
        !isAlive(Number(worker.slice(prefix.length).split('/')[0])),
    );
    await releaseJobsOf(db, gone);
    await releaseFramesOf(db, gone);
  };
  const names = Array.from({ length: workers }, (_, i) => `${prefix}${process.pid}/${i}`);
  await releaseGone();
  await seen(db, machine, names);
  const startThread = (worker: string): void => {
    const data: ThreadData & { entry: string } = {
      entry: new URL('./job-thread.ts', import.meta.url).href,
      database,
      dataFolder,
      worker,
      frameServer,
    };
    const thread = new Worker(new URL('../../scripts/ts-worker.mjs', import.meta.url), { workerData: data });
    thread.on('message', (message) => log.error(message, 'in a job'));
    thread.on('error', (error) => log.error({ error: error.stack }, 'a worker thread ended'));
    thread.on(
      'exit',
      () =>
        void releaseFramesOf(db, [worker])
          .then(() => seen(db, machine, [worker]))
          .catch(() => {})
          .finally(() => setTimeout(() => startThread(worker), 1000)),
    );
  };
  names.forEach(startThread);
  // A thread in the middle of a frame cannot tell that it lives: this one tells it for all, and looks after what those that are gone left behind.
  setInterval(
    () =>
      void seen(db, machine, names)
        .then(releaseGone)
        .then(() => releaseLost(db))
        .then(() => packWhenWhole(db))
        .catch(() => {}),
    LOOK_EVERY_MS,
  );
  return names;
}

function isAlive(pid: number): boolean {
  return existsSync(`/proc/${pid}`);
}
