import { parentPort, workerData } from 'node:worker_threads';
import { SharedWork, type WorkBlock } from '../../core/base/kernels/shared-work.ts';

/** What the thread is given: where work is agreed on, what is written to, and which thread did what. */
export interface HelpingTask {
  readonly block: WorkBlock;
  readonly out: Float64Array;
  readonly by: Int32Array;
  /** Set to 1 to end it. */
  readonly end: Int32Array;
}

/** A unit of work that takes a while: `given[0]` times its number, written to its place; returns the units done. */
export function slowPart({ out, by }: Pick<HelpingTask, 'out' | 'by'>) {
  return (_kernel: number, from: number, to: number, given: Float64Array, seat: 0 | 1): number => {
    for (let i = from; i < to; i++) {
      let value = 0;
      for (let k = 0; k < 2000; k++) value += Math.sin(k);
      out[i] = Number.isFinite(value) ? given[0]! * i : NaN;
      by[i] = seat + 1;
    }
    return to - from;
  };
}

if (parentPort && (workerData as Partial<HelpingTask> | null)?.block) {
  const task = workerData as HelpingTask;
  const work = new SharedWork(task.block, slowPart(task));
  parentPort.postMessage('ready');
  while (Atomics.load(task.end, 0) === 0) work.help();
}
