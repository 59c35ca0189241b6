import { execa } from 'execa';
import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, expect, test } from 'vitest';

const root = join(import.meta.dirname, '..');
const name = `programs-test-${process.pid}`;
const builds = join(root, '.cache', name);
const folder = `${builds}-source`;
mkdirSync(folder, { recursive: true });
afterAll(() => {
  for (const path of [folder, builds]) rmSync(path, { recursive: true, force: true });
});
const yarlop = (...args: string[]) =>
  execa(join(root, 'bin/yarlop'), args, { env: { YARLOP_TEST_PROGRAMS: name }, reject: false, cwd: folder });

test('programs that begin at the same time share one build, of which nothing half is left', async () => {
  const said = await Promise.all([1, 2].map(() => yarlop('--help')));
  for (const { exitCode, stdout } of said)
    expect([exitCode, stdout]).toEqual([0, expect.stringContaining('yarlop render')]);
  const [build, ...others] = readdirSync(builds);
  expect(others).toEqual([]);
  expect(build).toMatch(/^[0-9a-f]{32}$/);
  expect(
    readdirSync(join(builds, build!, 'server/jobs'))
      .filter((file) => file.endsWith('.js'))
      .sort(),
  ).toEqual(['job-process.js', 'job-thread.js', 'sampling-thread.js', 'seat-thread.js']);
});

test('a module that is not among the programs runs as it is', async () => {
  writeFileSync(join(folder, 'other.ts'), 'const said: string = "from TypeScript";\nconsole.log(said);\n');
  const { stdout } = await execa(process.execPath, [join(root, 'scripts/run-ts.mjs'), join(folder, 'other.ts')], {
    env: { YARLOP_TEST_PROGRAMS: name },
  });
  expect(stdout).toBe('from TypeScript');
});
