import { Worker } from 'node:worker_threads';
import type { ProblemCode } from '../../core/base/problem/catalogue.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { SamplingTrials, ShotDocument } from '../../core/base/schemas/types.ts';
import type { StoredMedia } from '../database/media.ts';
import type { SamplingTask } from './sampling-thread.ts';

/** What the thread answers: its trials, or the problem that stood in the way; an error would cross without what it says. */
export type SamplingAnswer =
  | { readonly trials: SamplingTrials }
  | { readonly problem: ProblemCode; readonly values: Readonly<Record<string, string | number>> };

/** Tries in a thread of its own what looking at few points and at many costs and gains on three frames of a shot. */
export async function sampleTrial(
  plate: StoredMedia,
  document: ShotDocument,
  dataFolder: string,
): Promise<SamplingTrials> {
  const task: SamplingTask & { entry: string } = {
    entry: new URL('./sampling-thread.ts', import.meta.url).href,
    plate,
    document,
    dataFolder,
  };
  const worker = new Worker(new URL('../../scripts/ts-worker.mjs', import.meta.url), { workerData: task });
  const answer = await new Promise<SamplingAnswer>((resolve, reject) => {
    worker.once('message', resolve);
    worker.once('error', reject);
    worker.once('exit', (code) => reject(new Error(`the trial ended with ${code} and no answer`)));
  });
  if ('problem' in answer) throw new Problem(answer.problem, answer.values);
  return answer.trials;
}
