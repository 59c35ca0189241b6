import { parentPort, receiveMessageOnPort } from 'node:worker_threads';
import { runPartOf } from '../../core/base/kernels/compiled-kernels.ts';
import { SharedWork } from '../../core/base/kernels/shared-work.ts';
import type { Lent } from './load-kernels.ts';

/** Takes part in the kernels of the set that it was lent to last, until its process ends. */
function help(): never {
  let work: SharedWork | null = null;
  for (;;) {
    for (let letter = receiveMessageOnPort(parentPort!); letter; letter = receiveMessageOnPort(parentPort!)) {
      const { module, memory, block } = letter.message as Lent;
      const abort = () => {
        throw new Error('the compiled kernels gave up');
      };
      work = new SharedWork(block, runPartOf(new WebAssembly.Instance(module, { env: { memory, abort } }).exports));
    }
    if (work) work.help();
    else Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 20);
  }
}

help();
