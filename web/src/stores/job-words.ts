import type { Job } from '../../../core/base/schemas/types.ts';

/** How far a job is, in a word; what it does while it runs, and when it has ended well, is its own. */
export const jobWords = (running: string, done = 'done'): Readonly<Record<Job['state'], string>> => ({
  queued: 'waiting',
  running,
  done,
  failed: 'failed',
  stopped: 'stopped',
  paused: 'paused',
});
