import { Worker } from 'node:worker_threads';
import { Problem } from '../../core/problem/problem.ts';
import type { SamplingTrials, ShotDocument } from '../../core/schemas/types.ts';
import type { StoredMedia } from '../database/media.ts';
import type { SamplingTask } from './sampling-thread.ts';

/** What the thread answers: its trials, or why nothing can be followed. */
export type SamplingAnswer = { readonly trials: SamplingTrials } | { readonly why: string };

/** Tries in a thread of its own what looking at few points and at many costs and gains on three frames of a shot. */
export async function sampleTrial(plate: StoredMedia, document: ShotDocument, dataFolder: string): Promise<SamplingTrials> {
  const task: SamplingTask & { entry: string } = { entry: new URL('./sampling-thread.ts', import.meta.url).href, plate, document, dataFolder };
  const worker = new Worker(new URL('../../scripts/ts-worker.mjs', import.meta.url), { workerData: task });
  const answer = await new Promise<SamplingAnswer>((resolve, reject) => {
    worker.once('message', resolve);
    worker.once('error', reject);
    worker.once('exit', (code) => reject(new Error(`the trial ended with ${code} and no answer`)));
  });
  if ('why' in answer) throw new Problem('nothing-to-follow', { why: answer.why });
  return answer.trials;
}
