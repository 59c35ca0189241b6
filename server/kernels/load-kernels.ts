import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import { compiledComposite } from '../../core/base/kernels/compiled-composite.ts';
import { useCompositeKernels, type CompositeKernels } from '../../core/base/kernels/composite-kernels.ts';
import { compiledKernels, useKernels, type KernelFactory } from '../../core/base/kernels/index.ts';
import type { WorkBlock } from '../../core/base/kernels/shared-work.ts';

const FILE = fileURLToPath(new URL('../../core/base/kernels/build/kernels.wasm', import.meta.url));
const COMPOSITE = fileURLToPath(new URL('../../core/base/kernels/build/composite.wasm', import.meta.url));
const SCRIPT = fileURLToPath(new URL('../../scripts/build-kernels.mjs', import.meta.url));

const factories = new Map<boolean, KernelFactory>();
let helper: Worker | null = null;

/** What the helping thread is sent: whose kernels it is to take part in. */
export interface Lent {
  readonly module: WebAssembly.Module;
  readonly memory: WebAssembly.Memory;
  readonly block: WorkBlock;
}

/** The compiled kernels, of which a second thread does a part unless told otherwise; compiles them first when nobody has. */
export function compiledFactory({ helped = true }: { helped?: boolean } = {}): KernelFactory {
  const made = factories.get(helped);
  if (made) return made;
  if (!existsSync(FILE)) spawnSync(process.execPath, [SCRIPT], { stdio: 'inherit' });
  const module = new WebAssembly.Module(readFileSync(FILE));
  const factory = compiledKernels((pages) => {
    const memory = new WebAssembly.Memory({ initial: pages, maximum: pages, shared: true });
    return {
      exports: new WebAssembly.Instance(module, { env: { memory, abort } }).exports,
      buffer: memory.buffer,
      ...(helped ? { lend: (block: WorkBlock) => lend({ module, memory, block }) } : {}),
    };
  });
  factories.set(helped, factory);
  return factory;
}

/** One thread helps this one, with the newest set that it was asked for. */
function lend(lent: Lent): void {
  helper ??= startHelper();
  helper.postMessage(lent);
}

function startHelper(): Worker {
  const worker = new Worker(new URL('../../scripts/ts-worker.mjs', import.meta.url), {
    workerData: { entry: new URL('./helper-thread.ts', import.meta.url).href },
  });
  // Without it the work is done all the same, on one thread.
  worker.on('error', () => (helper = null));
  worker.unref();
  return worker;
}

let composite: CompositeKernels | null = null;

/** The compiled kernels of compositing. */
export function compiledCompositeKernels(): CompositeKernels {
  if (composite) return composite;
  if (!existsSync(COMPOSITE)) spawnSync(process.execPath, [SCRIPT], { stdio: 'inherit' });
  const module = new WebAssembly.Module(readFileSync(COMPOSITE));
  composite = compiledComposite((pages) => {
    const memory = new WebAssembly.Memory({ initial: pages, maximum: pages });
    return { exports: new WebAssembly.Instance(module, { env: { memory, abort } }).exports, buffer: memory.buffer };
  });
  return composite;
}

function abort(): never {
  throw new Error('the compiled kernels gave up');
}

/** Puts the compiled kernels in place for this thread. */
export function loadKernels(): void {
  useKernels(compiledFactory());
  useCompositeKernels(compiledCompositeKernels());
}
