import { execa } from 'execa';
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { appendFileSync, closeSync, existsSync, mkdirSync, openSync, readFileSync, statfsSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir, userInfo } from 'node:os';
import { dirname, join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { Problem } from '../../core/base/problem/problem.ts';

/** A MariaDB of our own: private data folder, own socket, loopback only. */
export interface PrivateDatabase {
  socketPath: string;
  /** Starts it again if it is not running; true when it had to. */
  revive(): Promise<boolean>;
  stop(): Promise<void>;
}

const READY_WITHIN_MS = 30_000;
const STOP_WITHIN_MS = 30_000;

/** Where the socket of a folder's database lies. Socket paths are limited to about 100 characters, so it is not in the data folder. */
export function socketFolder(folder: string): string {
  return join(tmpdir(), `yarlop-${createHash('sha256').update(folder).digest('hex').slice(0, 16)}`);
}

/** Starts the database of a folder, or takes over one that a killed server left running. */
export async function startDatabase(folder: string): Promise<PrivateDatabase> {
  const data = join(folder, 'data');
  const run = socketFolder(folder);
  mkdirSync(folder, { recursive: true });
  mkdirSync(run, { recursive: true, mode: 0o700 });
  const socketPath = join(run, 'db.sock');
  const pidFile = join(run, 'db.pid');
  const log = join(folder, 'mariadb.log');
  // A MariaDB that starts deletes every temporary table it finds in its folder for them, those of its neighbours in /tmp as well.
  const temporary = join(folder, 'tmp');
  mkdirSync(temporary, { recursive: true, mode: 0o700 });
  if (!(await answers(socketPath))) {
    await endLeftover(pidFile);
    if (!existsSync(join(data, 'mysql'))) await install(data, temporary, log);
    await launch(data, temporary, socketPath, pidFile, log);
  }
  const revive = async () => {
    if (pidOf(pidFile) !== null) return false;
    await launch(data, temporary, socketPath, pidFile, log);
    return true;
  };
  return { socketPath, revive, stop: () => stop(pidFile) };
}

async function install(data: string, temporary: string, log: string): Promise<void> {
  const result = await execa(
    'mariadb-install-db',
    [
      '--no-defaults',
      `--datadir=${data}`,
      `--tmpdir=${temporary}`,
      `--user=${userInfo().username}`,
      '--auth-root-authentication-method=normal',
      '--skip-test-db',
      '--skip-name-resolve',
      '--innodb-log-file-size=16M',
      // A machine that cannot look up its own name gets a database all the same: it is only reached by socket.
      '--force',
    ],
    { reject: false, timeout: 120_000, all: true },
  );
  if (!result.failed) return;
  const failure = startFailure(result, log);
  // A disk that is full takes no log either.
  if (failure.code !== 'disk-full') appendFileSync(log, `${result.all}\n`);
  throw failure;
}

async function launch(
  data: string,
  temporary: string,
  socketPath: string,
  pidFile: string,
  log: string,
): Promise<void> {
  const output = openSync(log, 'a');
  const child = spawn(
    'mariadbd',
    [
      '--no-defaults',
      `--user=${userInfo().username}`,
      `--datadir=${data}`,
      `--tmpdir=${temporary}`,
      '--bind-address=127.0.0.1',
      `--port=${await freePort()}`,
      `--socket=${socketPath}`,
      `--pid-file=${pidFile}`,
      '--max-allowed-packet=64M',
      '--innodb-log-file-size=16M',
      '--skip-name-resolve',
      '--character-set-server=utf8mb4',
      '--collation-server=utf8mb4_unicode_ci',
    ],
    // Its own process group: Ctrl-C is for us; we shut it down in order.
    { detached: true, stdio: ['ignore', output, output] },
  );
  closeSync(output);
  let ended: { code?: string; shortMessage?: string } | null = null;
  child.once('error', (error: NodeJS.ErrnoException) => (ended = { code: error.code, shortMessage: error.message }));
  child.once('exit', (code) => (ended ??= { shortMessage: `it ended at once with code ${code}` }));
  child.unref();
  const end = Date.now() + READY_WITHIN_MS;
  while (Date.now() < end) {
    if (ended) throw startFailure(ended, log);
    if (await answers(socketPath)) return;
    await sleep(100);
  }
  child.kill('SIGKILL');
  throw new Problem('database-failed', { why: `it was not ready after ${READY_WITHIN_MS / 1000} s`, log });
}

/** A database that fails to start on a disk with less than this has failed for want of space, whatever it says. */
const ENOUGH_BYTES = 48 * 2 ** 20;

function freeBytes(folder: string): number {
  const { bavail, bsize } = statfsSync(folder);
  return bavail * bsize;
}

function startFailure(result: { code?: string; shortMessage?: string; stderr?: string }, log: string): Problem {
  if (result.code === 'ENOENT') return new Problem('tool-missing', { tool: 'MariaDB', package: 'mariadb-server' });
  const words = `${result.stderr ?? ''}\n${existsSync(log) ? readFileSync(log, 'utf8').slice(-4000) : ''}`;
  if (/No space left|Disk is full|errno: 28|Errcode: 28/i.test(words) || freeBytes(dirname(log)) < ENOUGH_BYTES)
    return new Problem('disk-full');
  if (/Unable to lock|lock.*ibdata1/i.test(words))
    return new Problem('database-failed', { why: 'another MariaDB uses its data folder', log });
  return new Problem('database-failed', {
    why: (result.shortMessage ?? 'it ended at once').split('\n')[0]!.slice(0, 120),
    log,
  });
}

async function answers(socketPath: string): Promise<boolean> {
  if (!existsSync(socketPath)) return false;
  const ping = await execa(
    'mariadb-admin',
    ['--no-defaults', `--socket=${socketPath}`, '-u', 'root', '--connect-timeout=2', 'ping'],
    { reject: false, timeout: 5000 },
  );
  return ping.exitCode === 0;
}

function pidOf(pidFile: string): number | null {
  // The file goes away with the database, at any moment.
  try {
    const pid = Number(readFileSync(pidFile, 'utf8'));
    if (!Number.isInteger(pid) || pid < 2) return null;
    return readFileSync(`/proc/${pid}/comm`, 'utf8').startsWith('mariadbd') ? pid : null;
  } catch {
    return null;
  }
}

/** A database that runs but does not answer (it is still starting or stopping) is waited for, then ended. */
async function endLeftover(pidFile: string): Promise<void> {
  if (pidOf(pidFile) !== null) await stop(pidFile);
}

async function stop(pidFile: string): Promise<void> {
  const pid = pidOf(pidFile);
  if (pid === null) return;
  process.kill(pid, 'SIGTERM');
  const end = Date.now() + STOP_WITHIN_MS;
  while (pidOf(pidFile) === pid || isAlive(pid)) {
    if (Date.now() > end) {
      process.kill(pid, 'SIGKILL');
      return;
    }
    await sleep(50);
  }
}

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    // A process that has ended but was not waited for still takes signals.
    return !/^\d+ \(.*\) Z/.test(readFileSync(`/proc/${pid}/stat`, 'utf8'));
  } catch {
    return false;
  }
}

/** A port that nobody listens on just now. */
export function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const address = server.address();
      server.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
    });
  });
}
