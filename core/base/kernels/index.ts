import type { KernelFactory } from './kernel-set.ts';
import { plainKernels } from './plain-kernels.ts';

let active: KernelFactory = plainKernels;

/** The kernels in use. */
export function kernels(): KernelFactory {
  return active;
}

/** Puts others in place, e.g. the compiled ones; all compute the same. */
export function useKernels(factory: KernelFactory): void {
  active = factory;
}

export * from './kernel-set.ts';
export { compiledKernels } from './compiled-kernels.ts';
export { plainKernels } from './plain-kernels.ts';
