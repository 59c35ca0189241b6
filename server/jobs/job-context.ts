import { folders } from '../config.ts';
import type { Database } from '../database/connection.ts';
import { reportProgress } from '../database/job-queue.ts';
import type { JobKind, JobToDo } from '../database/jobs.ts';

/** Thrown out of a job when a person asked it to stop; what is done stays. */
export class JobStopped extends Error {
  override name = 'JobStopped';
}

/** Thrown out of a job that has been given to another worker meanwhile. */
export class JobTakenAway extends Error {
  override name = 'JobTakenAway';
}

const HEARTBEAT_MS = 2000;
/** Progress is written at most this often. */
const PROGRESS_MS = 60;

/** What a running job has at hand. */
export class JobContext<K extends JobKind> {
  readonly folders: ReturnType<typeof folders>;
  private done: number;
  private total: number;
  private stop = false;
  private mine = true;
  private lastReport = 0;
  private told: Promise<void> = Promise.resolve();
  private readonly timer: NodeJS.Timeout;

  constructor(
    readonly db: Database,
    readonly job: JobToDo<K>,
    readonly worker: string,
    dataFolder: string,
  ) {
    this.folders = folders(dataFolder);
    this.done = job.done;
    this.total = job.total;
    this.timer = setInterval(() => void this.report().catch(() => {}), HEARTBEAT_MS);
  }

  /** Tells how far the job is; throws when it must not go on. */
  async progress(done: number, total: number): Promise<void> {
    this.done = done;
    this.total = total;
    if (Date.now() - this.lastReport >= PROGRESS_MS || done === total) await this.report();
    this.check();
  }

  /** Throws when the job must not go on. */
  check(): void {
    if (!this.mine) throw new JobTakenAway();
    if (this.stop) throw new JobStopped();
  }

  close(): void {
    clearInterval(this.timer);
  }

  /** One after the other: on two connections a heartbeat could overtake what was reported after it, and the job would end short. */
  private report(): Promise<void> {
    this.lastReport = Date.now();
    const telling = this.told.then(() => this.tell());
    this.told = telling.catch(() => {});
    return telling;
  }

  private async tell(): Promise<void> {
    const { mine, stop } = await reportProgress(this.db, this.job.id, this.worker, this.done, this.total);
    this.mine = mine;
    this.stop = stop;
  }
}
