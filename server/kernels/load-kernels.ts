import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { compiledKernels, useKernels, type KernelFactory } from '../../core/kernels/index.ts';

const FILE = fileURLToPath(new URL('../../core/kernels/build/kernels.wasm', import.meta.url));
const SCRIPT = fileURLToPath(new URL('../../scripts/build-kernels.mjs', import.meta.url));

let factory: KernelFactory | null = null;

/** The compiled kernels; compiles them first when nobody has. */
export function compiledFactory(): KernelFactory {
  if (factory) return factory;
  if (!existsSync(FILE)) spawnSync(process.execPath, [SCRIPT], { stdio: 'inherit' });
  const module = new WebAssembly.Module(readFileSync(FILE));
  factory = compiledKernels((pages) => {
    const memory = new WebAssembly.Memory({ initial: pages, maximum: pages });
    const abort = () => { throw new Error('the compiled kernels gave up'); };
    return { exports: new WebAssembly.Instance(module, { env: { memory, abort } }).exports, buffer: memory.buffer };
  });
  return factory;
}

/** Puts the compiled kernels in place for this thread. */
export function loadKernels(): void {
  useKernels(compiledFactory());
}
