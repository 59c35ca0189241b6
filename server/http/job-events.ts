import { createChannel, createSession, type Channel } from 'better-sse';
import type { RequestHandler } from 'express';
import { checked } from '../../core/base/schemas/check.ts';
import type { Database } from '../database/connection.ts';
import { jobReply, jobsChangedAfter, newestChange } from '../database/jobs.ts';

/** How soon the table is asked again; while something goes on, so often that an outline seen to ride does not jerk. */
const POLL_MS = 200;
const POLL_BUSY_MS = 50;
/** For so long after the last change something goes on. */
const BUSY_MS = 1000;
/** Changes numbered in one transaction may become visible after later ones; this many are read again. */
const OVERLAP = 50;

/**
 * Tells every listener of changed jobs by server-sent events. The table is asked while somebody listens,
 * so that work done by any process on any machine is heard.
 */
export class JobEvents {
  private readonly channel: Channel = createChannel();
  private timer: NodeJS.Timeout | null = null;
  private after = 0;
  private lastChange = 0;
  private readonly told = new Map<number, number>();

  constructor(
    private readonly db: Database,
    private readonly onError: (error: unknown) => void,
  ) {}

  readonly handler: RequestHandler = async (req, res) => {
    const session = await createSession(req, res, { keepAlive: 15_000 });
    this.channel.register(session);
    if (!this.timer) {
      this.after = await newestChange(this.db);
      this.schedule();
    }
    session.push({}, 'ready');
  };

  close(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
  }

  private schedule(): void {
    this.timer = setTimeout(() => void this.poll(), Date.now() - this.lastChange < BUSY_MS ? POLL_BUSY_MS : POLL_MS);
  }

  private async poll(): Promise<void> {
    try {
      const jobs = await jobsChangedAfter(this.db, Math.max(0, this.after - OVERLAP), this.told);
      for (const job of jobs) {
        this.after = Math.max(this.after, job.changed);
        this.told.set(job.id, job.changed);
        this.lastChange = Date.now();
        this.channel.broadcast(checked('apiJob', jobReply(job), 'a job event'), 'job');
      }
    } catch (error) {
      this.onError(error);
    }
    if (!this.timer) return;
    if (this.channel.sessionCount > 0) this.schedule();
    else {
      this.timer = null;
      this.told.clear();
    }
  }
}
