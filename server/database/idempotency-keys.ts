import { run, select, type Queryable } from './connection.ts';

/** What was answered to a request; `reply` is null while it is being worked on. */
export interface KeptReply {
  requestHash: string;
  status: number | null;
  reply: string | null;
}

/** For so long a key means the same request. */
const KEPT_HOURS = 24;

/** Takes a key for a request; null when it is this request's, else whose it is. */
export async function takeKey(db: Queryable, name: string, requestHash: string): Promise<KeptReply | null> {
  await run(db, `DELETE FROM idempotency_keys WHERE created_at < CURRENT_TIMESTAMP(3) - INTERVAL ${KEPT_HOURS} HOUR`);
  if (
    (await run(db, 'INSERT IGNORE INTO idempotency_keys (name, request_hash) VALUES (?, ?)', [name, requestHash]))
      .affected > 0
  )
    return null;
  const [row] = await select<{ request_hash: string; status: number | null; reply: string | null }>(
    db,
    'SELECT request_hash, status, reply FROM idempotency_keys WHERE name = ?',
    [name],
  );
  return row ? { requestHash: row.request_hash, status: row.status, reply: row.reply } : null;
}

export async function keepReply(db: Queryable, name: string, status: number, reply: string): Promise<void> {
  await run(db, 'UPDATE idempotency_keys SET status = ?, reply = ? WHERE name = ?', [status, reply, name]);
}

/** A request that failed may be tried again under its key. */
export async function freeKey(db: Queryable, name: string): Promise<void> {
  await run(db, 'DELETE FROM idempotency_keys WHERE name = ?', [name]);
}
