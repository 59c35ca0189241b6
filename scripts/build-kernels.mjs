// Compiles core/base/kernels/assembly (AssemblyScript) to core/base/kernels/build/kernels.wasm (following, memory shared between threads) and
// composite.wasm (compositing, a memory of its own) when it changed; on its own or from the start, test and command-line scripts.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const source = join(root, 'core/base/kernels/assembly');
const build = join(root, 'core/base/kernels/build');
const OPTIONS = [
  '-O3',
  '--noAssert',
  '--runtime',
  'stub',
  '--importMemory',
  '--maximumMemory',
  '65536',
  '--enable',
  'simd',
];
const MODULES = [
  ['index.ts', 'kernels.wasm', ['--sharedMemory', '--enable', 'threads']],
  ['composite.ts', 'composite.wasm', []],
];

export function buildKernels() {
  const hash = createHash('sha256').update(JSON.stringify([OPTIONS, MODULES]));
  for (const name of readdirSync(source).sort()) hash.update(name).update(readFileSync(join(source, name)));
  const stamp = hash.digest('hex');
  const stampFile = join(build, 'stamp');
  if (
    MODULES.every(([, file]) => existsSync(join(build, file))) &&
    existsSync(stampFile) &&
    readFileSync(stampFile, 'utf8') === stamp
  )
    return;
  mkdirSync(build, { recursive: true });
  for (const [entry, file, more] of MODULES) {
    const part = join(build, `${process.pid}.${file}`);
    const { status, stderr } = spawnSync(
      process.execPath,
      [join(root, 'node_modules/assemblyscript/bin/asc.js'), join(source, entry), '-o', part, ...OPTIONS, ...more],
      { encoding: 'utf8' },
    );
    if (status !== 0) throw new Error(`the kernels do not compile:\n${stderr}`);
    renameSync(part, join(build, file));
  }
  writeFileSync(stampFile, stamp);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) buildKernels();
