import type { FollowState } from '../../core/motion/follow/follow-state.ts';
import type { FrameFit } from '../../core/motion/follow/frame-fit.ts';
import { checked } from '../../core/base/schemas/check.ts';
import type { StoredFit } from '../../core/base/schemas/types.ts';
import { run, select, type Queryable } from './connection.ts';

/** Where a follow job stood when its last rows were written; null when it had not begun. */
export async function readFollowState(db: Queryable, jobId: number): Promise<FollowState | null> {
  const [row] = await select<{ state: string }>(db, 'SELECT state FROM follow_states WHERE job_id = ?', [jobId]);
  if (!row) return null;
  const stored = checked('followState', JSON.parse(row.state) as unknown, `the state of job ${jobId}`);
  return { ...stored, held: stored.held && fitFrom(stored.held), pending: stored.pending.map(fitFrom) };
}

/** JSON has no infinity: a frame without any fit has no error. */
function fitFrom({ error, ...fit }: StoredFit): FrameFit {
  return { ...fit, error: error ?? Infinity };
}

export async function writeFollowState(db: Queryable, jobId: number, state: FollowState): Promise<void> {
  await run(
    db,
    'INSERT INTO follow_states (job_id, state) VALUES (?, ?) ON DUPLICATE KEY UPDATE state = VALUE(state)',
    [jobId, JSON.stringify(state)],
  );
}

/** A job that has ended needs its state no more. */
export async function dropFollowState(db: Queryable, jobId: number): Promise<void> {
  await run(db, 'DELETE FROM follow_states WHERE job_id = ?', [jobId]);
}
