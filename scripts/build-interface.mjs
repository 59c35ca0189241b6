// Builds web/dist unless it was built from these very sources.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { buildKernels } from './build-kernels.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));

export function buildInterface() {
  buildKernels();
  const mark = join(root, 'web/dist/.built-from');
  const wanted = sourcesHash();
  if (existsSync(mark) && readFileSync(mark, 'utf8') === wanted) return;
  console.log('Building the interface …');
  const result = spawnSync(
    process.execPath,
    [join(root, 'node_modules/vite/bin/vite.js'), 'build', 'web', '--logLevel', 'warn'],
    { cwd: root, stdio: ['ignore', 2, 2] },
  );
  if (result.status !== 0) {
    console.error('The interface could not be built; the lines above say why.');
    process.exit(1);
  }
  writeFileSync(mark, wanted);
}

function sourcesHash() {
  const hash = createHash('sha256');
  const visit = (path) => {
    for (const name of readdirSync(path).sort()) {
      const at = join(path, name);
      if (name === 'dist' || name === 'node_modules' || name.includes('.test.')) continue;
      if (statSync(at).isDirectory()) visit(at);
      else hash.update(at.slice(root.length)).update(readFileSync(at));
    }
  };
  visit(join(root, 'web'));
  visit(join(root, 'core'));
  return hash.update(readFileSync(join(root, 'package-lock.json'))).digest('hex');
}

if (process.argv[1] === fileURLToPath(import.meta.url)) buildInterface();
