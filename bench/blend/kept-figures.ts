import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const root = join(import.meta.dirname, '../..');
const folder = join(root, '.cache/blend');
/** What the figures depend on, as it was committed: they are made anew when it changes. */
const CODE = ['core', 'demo', 'bench/blend'];

/** Figures that take minutes, kept until the code changes: a run that is broken off goes on where it was. */
export async function keptFigures<T>(name: string, make: () => Promise<T>): Promise<T> {
  const code = CODE.map((path) =>
    execFileSync('git', ['rev-parse', `HEAD:${path}`], { cwd: root, encoding: 'utf8' }).trim(),
  ).join();
  const file = join(folder, `kept-${name}.json`);
  if (existsSync(file)) {
    const kept = JSON.parse(readFileSync(file, 'utf8')) as { code: string; figures: T };
    if (kept.code === code) return kept.figures;
  }
  const figures = await make();
  mkdirSync(folder, { recursive: true });
  writeFileSync(file, JSON.stringify({ code, figures }));
  return figures;
}
