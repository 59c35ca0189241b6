import { Problem } from '../../core/base/problem/problem.ts';
import { type Database } from '../database/connection.ts';
import { hasOpenJob, SHOT_WORK } from '../database/jobs.ts';

/** One job at a time on a shot. */
export async function refuseWhileRunning(db: Database, shotId: number): Promise<void> {
  const open = await hasOpenJob(db, shotId, SHOT_WORK);
  if (open) throw new Problem('job-running', { kind: open });
}
