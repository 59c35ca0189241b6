import { checked } from '../../core/base/schemas/check.ts';
import type { RenderPlan } from '../../core/base/schemas/types.ts';
import { run, select, transaction, type Database, type Queryable } from './connection.ts';
import { noteFinished, type NamedFrame } from './finished-frames.ts';
import { countFrame } from './workers.ts';

/** Frames of one render that a worker has taken. */
export interface ClaimedFrames {
  jobId: number;
  shotId: number;
  /** Whose content it is; 0: the shot's own. */
  variantId: number;
  frames: number[];
}

/** Enters what a render depends on. */
export async function insertPlan(db: Queryable, jobId: number, plan: RenderPlan): Promise<void> {
  await run(db, 'INSERT INTO render_plans (job_id, plan) VALUES (?, ?)', [jobId, JSON.stringify(plan)]);
}

/** Enters what a render depends on and its frames, those that are there already as done. */
export async function insertTasks(
  db: Queryable,
  jobId: number,
  plan: RenderPlan,
  frames: readonly number[],
  done: ReadonlySet<number>,
): Promise<void> {
  await insertPlan(db, jobId, plan);
  for (let at = 0; at < frames.length; at += 1000) {
    const some = frames.slice(at, at + 1000);
    await run(
      db,
      `INSERT INTO render_tasks (job_id, frame, state) VALUES ${some.map(() => '(?, ?, ?)').join(', ')}`,
      some.flatMap((frame) => [jobId, frame, done.has(frame) ? 'done' : 'waiting']),
    );
  }
}

export async function readPlan(db: Queryable, jobId: number): Promise<RenderPlan> {
  const [row] = await select<{ plan: string }>(db, 'SELECT plan FROM render_plans WHERE job_id = ?', [jobId]);
  if (!row) throw new RangeError(`job ${jobId} has no plan`);
  return checked('renderPlan', JSON.parse(row.plan) as unknown, `the plan of job ${jobId}`);
}

/** Takes up to `most` frames of the render that comes first, the earliest first; null when none waits. Never two workers on one frame. */
export async function claimFrames(db: Database, worker: string, most: number): Promise<ClaimedFrames | null> {
  const [job] = await select<{ id: number; shot_id: number; variant: string | null }>(
    db,
    `SELECT j.id, j.shot_id, JSON_VALUE(j.params, '$.variant.id') AS variant FROM jobs j
    WHERE j.kind = 'render' AND j.state IN ('queued', 'running') AND NOT j.packing AND EXISTS (SELECT 1 FROM render_tasks t WHERE t.job_id = j.id AND t.state = 'waiting')
    ORDER BY j.priority DESC, j.id LIMIT 1`,
  );
  if (!job) return null;
  return transaction(db, async (connection) => {
    const rows = await select<{ frame: number }>(
      connection,
      `SELECT frame FROM render_tasks WHERE job_id = ? AND state = 'waiting' ORDER BY frame LIMIT ${Math.max(1, Math.floor(most))} FOR UPDATE SKIP LOCKED`,
      [job.id],
    );
    if (rows.length === 0) return null;
    for (const { frame } of rows)
      await run(connection, "UPDATE render_tasks SET state = 'running', worker = ? WHERE job_id = ? AND frame = ?", [
        worker,
        job.id,
        frame,
      ]);
    await run(
      connection,
      "UPDATE jobs SET state = 'running', problem = NULL, changed = NEXT VALUE FOR change_number WHERE id = ? AND state = 'queued'",
      [job.id],
    );
    return {
      jobId: job.id,
      shotId: job.shot_id,
      variantId: Number(job.variant ?? 0),
      frames: rows.map((row) => row.frame),
    };
  });
}

/** Whether a frame is still this worker's to make. */
export async function isMine(db: Queryable, jobId: number, frame: number, worker: string): Promise<boolean> {
  const rows = await select<{ state: string }>(
    db,
    `SELECT j.state FROM render_tasks t JOIN jobs j ON j.id = t.job_id WHERE t.job_id = ? AND t.frame = ? AND t.state = 'running' AND t.worker = ? AND j.state = 'running'`,
    [jobId, frame, worker],
  );
  return rows.length > 0;
}

/** A frame is done, all its layers named. One that was given to another meanwhile is left to that one. */
export async function finishFrame(
  db: Database,
  { jobId, shotId, variantId }: ClaimedFrames,
  frame: number,
  worker: string,
  made: readonly NamedFrame[],
): Promise<void> {
  await transaction(db, async (connection) => {
    const { affected } = await run(
      connection,
      "UPDATE render_tasks SET state = 'done', worker = NULL, problem = NULL WHERE job_id = ? AND frame = ? AND worker = ? AND state = 'running'",
      [jobId, frame, worker],
    );
    if (affected === 0) return;
    for (const one of made) await noteFinished(connection, shotId, variantId, one);
    await run(
      connection,
      'UPDATE jobs SET done = done + 1, problem = NULL, changed = NEXT VALUE FOR change_number WHERE id = ?',
      [jobId],
    );
    await countFrame(connection, worker);
  });
  await packWhenWhole(db, jobId);
}

/** A frame cannot be made. The others are. */
export async function failFrame(
  db: Database,
  jobId: number,
  frame: number,
  worker: string,
  problem: string,
): Promise<void> {
  await run(
    db,
    "UPDATE render_tasks SET state = 'failed', worker = NULL, problem = ? WHERE job_id = ? AND frame = ? AND worker = ? AND state = 'running'",
    [problem, jobId, frame, worker],
  );
  await run(db, 'UPDATE jobs SET changed = NEXT VALUE FOR change_number WHERE id = ?', [jobId]);
  await packWhenWhole(db, jobId);
}

/** Gives frames back that a worker has taken and not made; `problem` tells meanwhile what hinders. */
export async function giveBack(
  db: Queryable,
  jobId: number,
  worker: string,
  problem: string | null = null,
): Promise<void> {
  await run(
    db,
    "UPDATE render_tasks SET state = 'waiting', worker = NULL WHERE job_id = ? AND worker = ? AND state = 'running'",
    [jobId, worker],
  );
  if (problem)
    await run(db, 'UPDATE jobs SET problem = ?, changed = NEXT VALUE FOR change_number WHERE id = ?', [problem, jobId]);
}

/** When no frame is open any more, somebody makes of them what was asked for. Without a number, of any render. */
export async function packWhenWhole(db: Queryable, jobId: number | null = null): Promise<void> {
  await run(
    db,
    `UPDATE jobs SET packing = TRUE, state = 'queued', worker = NULL, changed = NEXT VALUE FOR change_number
    WHERE ${jobId === null ? '' : 'id = ? AND '}kind = 'render' AND state IN ('queued', 'running') AND NOT packing AND NOT EXISTS (SELECT 1 FROM render_tasks t WHERE t.job_id = jobs.id AND t.state IN ('waiting', 'running'))`,
    jobId === null ? [] : [jobId],
  );
}

/** Frames of a render, and what went wrong with those that failed. */
export async function tasksOf(
  db: Queryable,
  jobId: number,
): Promise<{ frame: number; state: 'waiting' | 'running' | 'done' | 'failed'; problem: string | null }[]> {
  return select(db, 'SELECT frame, state, problem FROM render_tasks WHERE job_id = ? ORDER BY frame', [jobId]);
}

/** Frames of a shot that could not be made when they were last asked for, with what went wrong. */
export async function failedFrames(db: Queryable, shotId: number, variantId: number): Promise<Map<number, string>> {
  const rows = await select<{ frame: number; problem: string }>(
    db,
    `SELECT t.frame, t.problem FROM render_tasks t
    JOIN (SELECT r.frame, MAX(r.job_id) AS job_id FROM render_tasks r JOIN jobs j ON j.id = r.job_id WHERE j.shot_id = ? AND j.kind = 'render' AND COALESCE(JSON_VALUE(j.params, '$.variant.id'), 0) = ? GROUP BY r.frame) newest ON newest.frame = t.frame AND newest.job_id = t.job_id
    WHERE t.state = 'failed'`,
    [shotId, variantId],
  );
  return new Map(rows.map((row) => [row.frame, row.problem]));
}

export async function pauseRender(db: Queryable, jobId: number): Promise<boolean> {
  return (
    (
      await run(
        db,
        "UPDATE jobs SET state = 'paused', changed = NEXT VALUE FOR change_number WHERE id = ? AND kind = 'render' AND state IN ('queued', 'running') AND NOT packing",
        [jobId],
      )
    ).affected > 0
  );
}

/** Goes on with a render that was paused, stopped or failed: with what is not done. */
export async function resumeRender(db: Database, jobId: number): Promise<boolean> {
  return transaction(db, async (connection) => {
    const { affected } = await run(
      connection,
      "UPDATE jobs SET state = 'queued', packing = FALSE, problem = NULL, ended_at = NULL, stop_requested = FALSE, attempts = 0, worker = NULL, changed = NEXT VALUE FOR change_number WHERE id = ? AND kind = 'render' AND state IN ('paused', 'stopped', 'failed')",
      [jobId],
    );
    if (affected > 0)
      await run(
        connection,
        "UPDATE render_tasks SET state = 'waiting', problem = NULL WHERE job_id = ? AND state = 'failed'",
        [jobId],
      );
    return affected > 0;
  });
}

export async function noteFile(
  db: Queryable,
  jobId: number,
  file: { name: string; layer: string; bytes: number },
): Promise<void> {
  await run(
    db,
    'INSERT INTO delivered_files (job_id, name, layer, bytes) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE bytes = VALUE(bytes)',
    [jobId, file.name, file.layer, file.bytes],
  );
}
