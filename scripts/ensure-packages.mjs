// Installs the npm packages when they are missing or not those of package-lock.json. Needs no package itself.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

export function ensurePackages(root) {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19)) {
    console.error(
      `Yarlop needs Node 20.19 or newer; this is ${process.versions.node}. Install a newer Node and try again.`,
    );
    process.exit(1);
  }
  const lock = readFileSync(join(root, 'package-lock.json'));
  const wanted = createHash('sha256').update(lock).digest('hex');
  const mark = join(root, 'node_modules/.yarlop-lock');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === wanted) return;
  console.error('Installing npm packages (once) …');
  const result = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: ['ignore', 2, 2],
  });
  if (result.error || result.status !== 0) {
    console.error(
      'The npm packages could not be installed. Check the connection to the npm registry, then try again (or run: npm ci).',
    );
    process.exit(1);
  }
  writeFileSync(mark, wanted);
}
