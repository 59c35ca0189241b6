import { setTimeout as sleep } from 'node:timers/promises';
import { expect, test, vi } from 'vitest';
import type { Database } from '../database/connection.ts';
import type { JobToDo } from '../database/jobs.ts';
import { JobContext } from './job-context.ts';

/** A database that is slow to take the first thing it is told. */
function slowAtFirst(): { db: Database; told: unknown[] } {
  const told: unknown[] = [];
  let slow = true;
  const execute = async (sql: string, values: unknown[]) => {
    if (!sql.includes('UPDATE jobs')) return [[{ mine: 1, stop_requested: 0 }]];
    const wait = slow;
    slow = false;
    if (wait) await sleep(80);
    told.push(values[0]);
    return [{ affectedRows: 1, insertId: 0 }];
  };
  return { db: { execute, query: execute, getConnection: vi.fn() } as unknown as Database, told };
}

test('progress that is reported later is written later, however slow what was reported before it', async () => {
  const { db, told } = slowAtFirst();
  const context = new JobContext(db, { id: 1, done: 0, total: 6 } as JobToDo<'follow'>, 'worker', '.');
  try {
    await Promise.all([context.progress(4, 6), context.progress(6, 6)]);
  } finally {
    context.close();
  }
  expect(told.at(-1)).toBe(6);
});
