import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';

const root = join(import.meta.dirname, '../..');

/** What a whole process took. */
export interface ProcessCost {
  seconds: number;
  /** Greatest resident set of the process itself, MB. */
  memory: number;
}

/** Runs `yarlop` as a person would; throws when it fails. */
export async function yarlopProcess(args: readonly string[]): Promise<ProcessCost> {
  const started = performance.now();
  const child = spawn(join(root, 'bin/yarlop'), args, { stdio: ['ignore', 'ignore', 'inherit'] });
  const ended = new Promise<number>((resolve) => child.on('close', resolve));
  let code: number | null = null;
  let memory = 0;
  void ended.then((c) => (code = c));
  while (code === null) {
    memory = Math.max(memory, peakOf(child.pid!));
    await Promise.race([ended, sleep(50)]);
  }
  if (code !== 0) throw new Error(`yarlop ${args.join(' ')} ended with ${String(code)}`);
  return { seconds: (performance.now() - started) / 1000, memory };
}

/** Peak resident set of a process and of its node children (the launcher starts one), MB. */
function peakOf(pid: number): number {
  try {
    const own = Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
    const children = readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').trim().split(' ').filter(Boolean);
    return Math.max(own, ...children.map((c) => peakOf(Number(c))));
  } catch {
    return 0; // It has just ended.
  }
}
