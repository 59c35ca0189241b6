import type { KernelSet } from './kernel-set.ts';
import { plainKernels } from './plain-kernels.ts';

let active: KernelSet = plainKernels;

/** The kernels in use. */
export function kernels(): KernelSet {
  return active;
}

/** Puts another set in place, e.g. a compiled one; every set computes the same. */
export function useKernels(set: KernelSet): void {
  active = set;
}

export type { GradientPlane, KernelSet, NormalEquationInput } from './kernel-set.ts';
export { plainKernels } from './plain-kernels.ts';
