import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Problem } from '../../core/base/problem/problem.ts';

/** Holds a data folder for this process; a Problem when a live one holds it. Returns how to let go. */
export function lockData(folder: string): () => void {
  const file = join(folder, 'yarlop.lock');
  if (existsSync(file)) {
    const [pid, started] = readFileSync(file, 'utf8').trim().split(' ');
    if (Number(pid) !== process.pid && started !== undefined && startTime(Number(pid)) === started)
      throw new Problem('data-in-use', { folder, pid: pid! });
  }
  writeFileSync(file, `${process.pid} ${startTime(process.pid) ?? '-'}\n`);
  return () => rmSync(file, { force: true });
}

/** When a process started (field 22 of /proc/PID/stat, man proc(5)): tells a process from a later one of the same number. */
function startTime(pid: number): string | null {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19] ?? null;
  } catch {
    return null;
  }
}
