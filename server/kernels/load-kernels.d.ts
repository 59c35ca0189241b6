import { type CompositeKernels } from '../../core/base/kernels/composite-kernels.ts';
import { type KernelFactory } from '../../core/base/kernels/index.ts';
import type { WorkBlock } from '../../core/base/kernels/shared-work.ts';
/** What the helping thread is sent: whose kernels it is to take part in. */
export interface Lent {
  readonly module: WebAssembly.Module;
  readonly memory: WebAssembly.Memory;
  readonly block: WorkBlock;
}
/** The compiled kernels, of which a second thread does a part unless told otherwise; compiles them first when nobody has. */
export declare function compiledFactory({ helped }?: { helped?: boolean }): KernelFactory;
/** The compiled kernels of compositing. */
export declare function compiledCompositeKernels(): CompositeKernels;
/** Puts the compiled kernels in place for this thread. */
export declare function loadKernels(): void;
