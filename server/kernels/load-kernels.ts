import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { compiledKernels, useKernels } from '../../core/kernels/index.ts';

const FILE = fileURLToPath(new URL('../../core/kernels/build/kernels.wasm', import.meta.url));
const SCRIPT = fileURLToPath(new URL('../../scripts/build-kernels.mjs', import.meta.url));

let loaded = false;

/** Puts the compiled kernels in place for this thread; compiles them first when nobody has. */
export function loadKernels(): void {
  if (loaded) return;
  if (!existsSync(FILE)) spawnSync(process.execPath, [SCRIPT], { stdio: 'inherit' });
  const module = new WebAssembly.Module(readFileSync(FILE));
  useKernels(compiledKernels((pages) => {
    const memory = new WebAssembly.Memory({ initial: pages, maximum: pages });
    const abort = () => { throw new Error('the compiled kernels gave up'); };
    return { exports: new WebAssembly.Instance(module, { env: { memory, abort } }).exports, buffer: memory.buffer };
  }));
  loaded = true;
}
