// `npm run test:quick [COMMIT]`: rules, types, and the tests of core and web that what changed since a commit (HEAD unless named) touches.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { buildKernels } from './build-kernels.mjs';
import { bin, checks, Parts, root } from './run-parts.mjs';

const since = process.argv[2] ?? 'HEAD';

function git(...args) {
  const { status, stdout, stderr } = spawnSync('git', args, { cwd: root, encoding: 'utf8' });
  if (status === 0) return stdout.split('\n').filter(Boolean);
  console.error(`git ${args.join(' ')}: ${stderr.trim()}. Name a commit that there is: npm run test:quick -- COMMIT`);
  process.exit(1);
}

const changed = [...git('diff', '--name-only', since), ...git('ls-files', '--others', '--exclude-standard')].filter(
  (file) => /\.(ts|vue|mjs|js)$/.test(file) && existsSync(join(root, file)),
);
console.log(`${changed.length} files changed since ${since}`);
buildKernels();
const started = Date.now();
const tests = {
  title: 'tests',
  command: bin('vitest'),
  args: [
    'run',
    '--changed',
    since,
    '--project',
    'core',
    '--project',
    'web',
    '--project',
    'web, mocked',
    '--passWithNoTests',
  ],
};
const parts = new Parts();
const fallen = await parts.runTwoAtATime([
  ...checks(changed).filter(({ title }) => changed.length > 0 || (title !== 'rules' && title !== 'form')),
  tests,
]);
console.log(
  `\n${Math.round((Date.now() - started) / 1000)} s; ${fallen.length === 0 ? 'all holds' : `fails: ${fallen.join(', ')}`}`,
);
process.exitCode = fallen.length === 0 ? 0 : 1;
