import { Problem } from '../../core/base/problem/problem.ts';
import { run, select, transaction, type Database, type Queryable } from './connection.ts';
import { SELECT_JOB, toDo, type AnyJobToDo, type JobRow } from './jobs.ts';
import { DEAD_AFTER_SECONDS } from './workers.ts';

/**
 * Takes the first job that waits or whose worker died; null when there is none. Never two workers on one job. Of a render it is the making of
 * files from its finished frames: these themselves are taken one by one (render-tasks.ts). Plate
 * checks come last and one at a time: nobody waits for them, and nobody should have to wait behind them.
 */
export async function claimJob(db: Database, worker: string): Promise<AnyJobToDo | null> {
  for (;;) {
    const row = await takeFirst(db, worker);
    if (!row) return null;
    try {
      return toDo(row);
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      // Nobody could ever do it: it must not stand before all that come after it.
      await endJob(db, row.id, worker, { state: 'failed', problem: error.sentence });
    }
  }
}

async function takeFirst(db: Database, worker: string): Promise<JobRow | null> {
  const [{ checking }] = (await select<{ checking: number }>(
    db,
    `SELECT COUNT(*) AS checking FROM jobs
    WHERE kind = 'check' AND state = 'running' AND heartbeat_at >= CURRENT_TIMESTAMP(3) - INTERVAL ${DEAD_AFTER_SECONDS} SECOND`,
  )) as [{ checking: number }];
  return transaction(db, async (connection) => {
    const [row] = await select<JobRow>(
      connection,
      `${SELECT_JOB}
      WHERE (state = 'queued' OR (state = 'running' AND heartbeat_at < CURRENT_TIMESTAMP(3) - INTERVAL ${DEAD_AFTER_SECONDS} SECOND))
        AND (kind <> 'check' OR ? = 0) AND (kind <> 'render' OR packing)
      ORDER BY kind = 'check', priority DESC, id LIMIT 1 FOR UPDATE SKIP LOCKED`,
      [checking],
    );
    if (!row) return null;
    await run(
      connection,
      `UPDATE jobs SET state = 'running', worker = ?, heartbeat_at = CURRENT_TIMESTAMP(3), attempts = attempts + 1,
      changed = NEXT VALUE FOR change_number WHERE id = ?`,
      [worker, row.id],
    );
    return { ...row, state: 'running', attempts: row.attempts + 1 };
  });
}

/** Gives back jobs of workers that are known to be gone. */
export async function releaseJobsOf(db: Queryable, workers: readonly string[]): Promise<void> {
  for (const worker of workers) {
    await run(
      db,
      "UPDATE jobs SET state = 'queued', worker = NULL, changed = NEXT VALUE FOR change_number WHERE state = 'running' AND worker = ?",
      [worker],
    );
  }
}

export async function runningWorkers(db: Queryable): Promise<string[]> {
  const rows = await select<{ worker: string }>(
    db,
    "SELECT DISTINCT worker FROM jobs WHERE state = 'running' AND worker IS NOT NULL UNION SELECT name FROM workers",
  );
  return rows.map((row) => row.worker);
}

/** Sign of life with progress; false when the job is no longer this worker's. */
export async function reportProgress(
  db: Queryable,
  id: number,
  worker: string,
  done: number,
  total: number,
): Promise<{ mine: boolean; stop: boolean }> {
  const { affected } = await run(
    db,
    `UPDATE jobs SET done = ?, total = ?, heartbeat_at = CURRENT_TIMESTAMP(3), changed = NEXT VALUE FOR change_number
    WHERE id = ? AND worker = ? AND state = 'running'`,
    [done, total, id, worker],
  );
  const [row] = await select<{ stop_requested: number }>(db, 'SELECT stop_requested FROM jobs WHERE id = ?', [id]);
  return { mine: affected > 0, stop: row?.stop_requested === 1 };
}

export async function endJob(
  db: Queryable,
  id: number,
  worker: string,
  end: { state: 'done' | 'failed' | 'stopped'; problem?: string; result?: string },
): Promise<void> {
  await run(
    db,
    `UPDATE jobs SET state = ?, problem = ?, result = ?, ended_at = CURRENT_TIMESTAMP(3), changed = NEXT VALUE FOR change_number
    WHERE id = ? AND worker = ? AND state = 'running'`,
    [end.state, end.problem ?? null, end.result ?? null, id, worker],
  );
}
