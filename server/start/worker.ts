import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { pino } from 'pino';
import { Problem } from '../../core/base/problem/problem.ts';
import { makeFolders, readConfig } from '../config.ts';
import { openPool, withoutPassword } from '../database/connection.ts';
import { socketFolder } from '../database/private-mariadb.ts';
import { startWorkers } from '../jobs/worker-threads.ts';

const root = join(import.meta.dirname, '../..');

/**
 * `npm run worker`: takes part in the work of a Yarlop that runs already, on this machine by its data folder, on another by the
 * house's database (YARLOP_DATABASE) and the shared data folder (YARLOP_DATA), or without that folder by fetching frames from the server (YARLOP_MEDIA,
 * YARLOP_TOKEN). Ends with Ctrl-C; what it had in hand goes back.
 */
async function main(): Promise<void> {
  const config = readConfig(process.env, join(root, 'data/own'));
  const own = join(socketFolder(join(config.dataFolder, 'database')), 'db.sock');
  if (config.database === null && !existsSync(own)) throw new Problem('no-service-here', { folder: config.dataFolder });
  if (config.database !== null) makeFolders(config.dataFolder);
  const database = config.database ?? own;
  const db = openPool(database, 1);
  try {
    await db.query('SELECT 1 FROM jobs LIMIT 1');
  } catch (error) {
    throw new Problem(
      'database-unreachable',
      {
        address: config.database === null ? database : withoutPassword(config.database),
        why: (error as Error).message,
      },
      { cause: error },
    );
  } finally {
    await db.end();
  }
  const names = await startWorkers(
    {
      database,
      dataFolder: config.dataFolder,
      workers: Math.max(1, config.workers),
      frameServer: config.media === null ? null : { address: config.media, token: process.env.YARLOP_TOKEN ?? null },
    },
    pino({ level: config.logLevel, base: { part: 'worker' } }),
  );
  console.log(`Yarlop worker: ${names.length} ${names.length === 1 ? 'thread' : 'threads'} at work (Ctrl-C stops it)`);
}

for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => process.exit(0));
try {
  await main();
} catch (error) {
  console.error(error instanceof Problem ? error.sentence : error);
  process.exit(1);
}
