import { compiledComposite } from '../../../core/base/kernels/compiled-composite.ts';
import { useCompositeKernels } from '../../../core/base/kernels/composite-kernels.ts';
import file from '../../../core/base/kernels/build/composite.wasm?url';

/** Puts the compiled loops of compositing in place for this thread. Where the browser has not what they need, the plain ones do the work. */
export async function loadComposite(): Promise<void> {
  try {
    const module = await WebAssembly.compileStreaming(fetch(file));
    useCompositeKernels(
      compiledComposite((pages) => {
        const memory = new WebAssembly.Memory({ initial: pages, maximum: pages });
        const abort = () => {
          throw new Error('the compiled kernels gave up');
        };
        return { exports: new WebAssembly.Instance(module, { env: { memory, abort } }).exports, buffer: memory.buffer };
      }),
    );
  } catch (error) {
    console.warn('Frames are composed by the plain loops, which take longer:', error);
  }
}
