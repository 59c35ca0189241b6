import { fork, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { pino, type Logger } from 'pino';
import { Problem } from '../../core/base/problem/problem.ts';
import { newSecret } from '../access/secrets.ts';
import { isGuarded, makeFolders, type Config } from '../config.ts';
import { openPool, withoutPassword, type Database } from '../database/connection.ts';
import { hasOwner } from '../database/access.ts';
import { migrate } from '../database/migrate.ts';
import { startDatabase, type PrivateDatabase } from '../database/private-mariadb.ts';
import { createApp } from '../http/app.ts';
import type { JobProcessSettings } from '../jobs/job-process.ts';
import { lockData } from './data-lock.ts';

const root = join(import.meta.dirname, '../..');

/** How long an idle connection is kept: longer than proxies keep theirs (60 s usually), or one would send a request into a connection that is just being closed. */
const IDLE_MS = 70_000;

/** Everything that runs: database, HTTP, the job process. */
export interface Service {
  address: string;
  /** Where nobody has an account yet: opens the making of the first one. */
  setUpCode: string | null;
  db: Database;
  stop(): Promise<void>;
}

/** Starts the service on a data folder and returns when it answers. What was started is stopped again if a part fails. */
export async function startService(config: Config): Promise<Service> {
  makeFolders(config.dataFolder);
  const undo: (() => unknown)[] = [lockData(config.dataFolder)];
  const stop = async () => {
    for (const step of undo.splice(0).reverse()) await step();
  };
  try {
    const log = pino({ level: config.logLevel, base: { part: 'server' } });
    const database = config.database ?? (await ownDatabase(config, log, undo));
    await migrate(database).catch((error: unknown) =>
      Promise.reject(
        config.database === null
          ? error
          : new Problem(
              'database-unreachable',
              { address: withoutPassword(config.database), why: (error as Error).message },
              { cause: error },
            ),
      ),
    );
    const db = openPool(database, 10);
    undo.push(() => db.end());
    const setUpCode = isGuarded(config) && !(await hasOwner(db)) ? newSecret().slice(0, 16) : null;
    const { app, close } = createApp(db, config, log, join(root, 'web/dist'), setUpCode);
    const server = app.listen(config.port, config.host);
    server.keepAliveTimeout = IDLE_MS;
    server.headersTimeout = IDLE_MS + 5000;
    // `once` rejects when an error comes first.
    await once(server, 'listening').catch((error: NodeJS.ErrnoException) =>
      Promise.reject(listenProblem(error, config)),
    );
    undo.push(async () => {
      close();
      server.close();
      server.closeAllConnections();
    });
    const jobs = new JobProcess({
      database,
      dataFolder: config.dataFolder,
      workers: config.workers,
      logLevel: config.logLevel,
    });
    undo.push(() => jobs.stop());
    return {
      address: `http://${config.host.includes(':') ? `[${config.host}]` : config.host}:${(server.address() as AddressInfo).port}`,
      db,
      setUpCode,
      stop,
    };
  } catch (error) {
    await stop();
    throw error;
  }
}

async function ownDatabase(config: Config, log: Logger, undo: (() => unknown)[]): Promise<string> {
  const database = await startDatabase(join(config.dataFolder, 'database'));
  undo.push(() => database.stop());
  undo.push(keepAlive(database, log));
  return database.socketPath;
}

const LOOK_EVERY_MS = 1000;

/** A database that died is started again: what was saved is there, and jobs go on where they were. Returns what ends the watch. */
function keepAlive(database: PrivateDatabase, log: Logger): () => Promise<void> {
  let ended = false;
  const watch = (async () => {
    while (!ended) {
      await sleep(LOOK_EVERY_MS);
      if (ended) return;
      try {
        if (await database.revive()) log.error('the database had died and was started again');
      } catch (error) {
        log.error({ error: String(error) }, 'the database could not be started again');
      }
    }
  })();
  return async () => {
    ended = true;
    await watch;
  };
}

function listenProblem(error: NodeJS.ErrnoException, config: Config): unknown {
  if (error.code === 'EADDRINUSE') return new Problem('port-busy', { port: config.port });
  if (error.code === 'EACCES' || error.code === 'EADDRNOTAVAIL')
    return new Problem('bad-setting', {
      name: 'YARLOP_HOST / YARLOP_PORT',
      value: `${config.host}:${config.port}`,
      why: error.message,
    });
  return error;
}

/** The child process that runs the jobs; started again when it dies. */
class JobProcess {
  private child: ChildProcess | null = null;
  private stopping = false;

  constructor(private readonly settings: JobProcessSettings) {
    this.start();
  }

  private start(): void {
    this.child = fork(
      join(root, 'scripts/run-ts.mjs'),
      [join(root, 'server/jobs/job-process.ts'), JSON.stringify(this.settings)],
      {
        // A process group of its own: Ctrl-C is for us, not for the decoders of running jobs; we stop them in order.
        stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
        execArgv: [],
        detached: true,
      },
    );
    this.child.once('exit', () => {
      if (!this.stopping) setTimeout(() => this.stopping || this.start(), 500);
    });
  }

  async stop(): Promise<void> {
    this.stopping = true;
    if (!this.child || this.child.exitCode !== null || this.child.signalCode !== null) return;
    const ended = once(this.child, 'exit');
    this.child.kill('SIGTERM');
    await ended;
  }
}
