import type { RenderWorker } from '../../core/base/schemas/types.ts';
import { deadAfterSeconds } from '../config.ts';
import { run, select, type Queryable } from './connection.ts';

/** A worker whose sign of life is older than this is taken for dead, and its work given to another. */
export const DEAD_AFTER_SECONDS = deadAfterSeconds(process.env);

/** Enters worker threads, or renews their sign of life. */
export async function seen(db: Queryable, machine: string, names: readonly string[]): Promise<void> {
  for (const name of names)
    await run(
      db,
      'INSERT INTO workers (name, machine) VALUES (?, ?) ON DUPLICATE KEY UPDATE seen_at = CURRENT_TIMESTAMP(3)',
      [name, machine],
    );
}

export async function countFrame(db: Queryable, name: string): Promise<void> {
  await run(db, 'UPDATE workers SET frames = frames + 1, seen_at = CURRENT_TIMESTAMP(3) WHERE name = ?', [name]);
}

/** Gives frames back that nobody is at any more, and forgets workers that were not heard of for a day. */
export async function releaseLost(db: Queryable): Promise<void> {
  await run(
    db,
    `UPDATE render_tasks t JOIN jobs j ON j.id = t.job_id AND j.ended_at IS NULL LEFT JOIN workers w ON w.name = t.worker AND w.seen_at >= CURRENT_TIMESTAMP(3) - INTERVAL ${DEAD_AFTER_SECONDS} SECOND
    SET t.state = 'waiting', t.worker = NULL WHERE t.state = 'running' AND w.name IS NULL`,
  );
  await run(db, 'DELETE FROM workers WHERE seen_at < CURRENT_TIMESTAMP(3) - INTERVAL 1 DAY');
}

/** Gives back what workers had that are known to be gone, and forgets them. */
export async function releaseFramesOf(db: Queryable, names: readonly string[]): Promise<void> {
  for (const name of names) {
    await run(db, "UPDATE render_tasks SET state = 'waiting', worker = NULL WHERE state = 'running' AND worker = ?", [
      name,
    ]);
    await run(db, 'DELETE FROM workers WHERE name = ?', [name]);
  }
}

export async function listWorkers(db: Queryable): Promise<RenderWorker[]> {
  const rows = await select<{ name: string; machine: string; frames: number; seen_at: Date; alive: number }>(
    db,
    `SELECT name, machine, frames, seen_at, seen_at >= CURRENT_TIMESTAMP(3) - INTERVAL ${DEAD_AFTER_SECONDS} SECOND AS alive FROM workers ORDER BY machine, name`,
  );
  return rows.map(({ name, machine, frames, seen_at, alive }) => ({
    name,
    machine,
    frames,
    alive: alive === 1,
    seenAt: seen_at.toISOString(),
  }));
}
