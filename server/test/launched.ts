import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { ROOT } from './folders.ts';

/** The program as a person starts it, in a process of its own that can be killed. */
export interface Launched {
  address: string;
  output: () => string;
  process: ChildProcess;
  /** Ctrl-C; resolves with the exit code. */
  stop(): Promise<number | null>;
  /** What a power cut does. */
  kill(): Promise<void>;
}

/** Starts `npm start` (or `npm run demo`) without npm and waits until it says that it is ready; rejects with what it said instead. */
export async function launch(
  dataFolder: string,
  options: { demo?: boolean; env?: Record<string, string>; withinMs?: number } = {},
): Promise<Launched> {
  const child = spawn(process.execPath, [join(ROOT, 'scripts/launch.mjs'), ...(options.demo ? ['--demo'] : [])], {
    cwd: ROOT,
    stdio: ['ignore', 'pipe', 'pipe'],
    // What was killed is taken up sooner than in a house.
    env: { ...process.env, YARLOP_DEAD_AFTER: '8', YARLOP_PORT: '0', YARLOP_DATA: dataFolder, ...options.env },
  });
  let output = '';
  const ended = once(child, 'exit');
  const address = await new Promise<string>((resolve, reject) => {
    const timer = setTimeout(() => {
      child.kill('SIGKILL');
      reject(new Error(`not ready in time: ${output}`));
    }, options.withinMs ?? 120_000);
    const hear = (chunk: Buffer) => {
      output += chunk.toString();
      const ready = /ready at (http:\/\/\S+)/.exec(output);
      if (!ready) return;
      clearTimeout(timer);
      resolve(ready[1]!);
    };
    child.stdout.on('data', hear);
    child.stderr.on('data', hear);
    child.once('exit', () => {
      clearTimeout(timer);
      reject(new Error(output.trim()));
    });
  });
  return {
    address,
    output: () => output,
    process: child,
    stop: async () => {
      child.kill('SIGINT');
      await ended;
      return child.exitCode;
    },
    kill: async () => {
      child.kill('SIGKILL');
      await ended;
    },
  };
}
