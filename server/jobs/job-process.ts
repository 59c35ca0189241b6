import { existsSync } from 'node:fs';
import { hostname } from 'node:os';
import { Worker } from 'node:worker_threads';
import { pino } from 'pino';
import { openPool } from '../database/connection.ts';
import { releaseJobsOf, runningWorkers } from '../database/jobs.ts';
import { packWhenWhole } from '../database/render-tasks.ts';
import { releaseFramesOf, releaseLost, seen } from '../database/workers.ts';
import type { ThreadData } from './job-thread.ts';

/**
 * The process in which jobs run: a thread for each worker. It ends when the server that started it is
 * gone, however that came about, so that nobody works on behind its back.
 */
export interface JobProcessSettings {
  socketPath: string;
  dataFolder: string;
  workers: number;
  logLevel: string;
}

const settings = JSON.parse(process.argv.at(-1)!) as JobProcessSettings;
const log = pino({ level: settings.logLevel, base: { part: 'jobs' } });

process.on('disconnect', () => process.exit(0));
process.on('SIGTERM', () => process.exit(0));
process.on('SIGINT', () => {});

const LOOK_EVERY_MS = 2000;
const prefix = `${hostname()}/`;
const db = openPool(settings.socketPath, 1);
// Jobs of processes of this machine that are gone go back into the queue at once.
const gone = (await runningWorkers(db)).filter((worker) => worker.startsWith(prefix) && !isAlive(Number(worker.slice(prefix.length).split('/')[0])));
await releaseJobsOf(db, gone);
await releaseFramesOf(db, gone);

const names = Array.from({ length: settings.workers }, (_, i) => `${prefix}${process.pid}/${i}`);
await seen(db, hostname(), names);
names.forEach(startThread);
// A thread in the middle of a frame cannot tell that it lives: this one tells it for all.
setInterval(() => void lookAfter().catch(() => {}), LOOK_EVERY_MS);

/** Signs of life, and what workers that are gone have left behind. */
async function lookAfter(): Promise<void> {
  await seen(db, hostname(), names);
  await releaseLost(db);
  await packWhenWhole(db);
}

function startThread(worker: string): void {
  const data: ThreadData & { entry: string } = {
    entry: new URL('./job-thread.ts', import.meta.url).href, socketPath: settings.socketPath, dataFolder: settings.dataFolder, worker,
  };
  const thread = new Worker(new URL('../../scripts/ts-worker.mjs', import.meta.url), { workerData: data });
  thread.on('message', (message) => log.error(message, 'in a job'));
  thread.on('error', (error) => log.error({ error: error.stack }, 'a worker thread ended'));
  thread.on('exit', () => void releaseFramesOf(db, [worker]).catch(() => {}).finally(() => setTimeout(() => startThread(worker), 1000)));
}

function isAlive(pid: number): boolean {
  return existsSync(`/proc/${pid}`) && pid !== process.pid;
}
