import { parentPort, workerData } from 'node:worker_threads';
import { NothingToFollow } from '../../core/motion/follow/follow-plan.ts';
import { inUse } from '../../core/base/geometry/outline.ts';
import { trySampling } from '../../core/motion/follow/sampling-trial.ts';
import { lumaFromRaw } from '../../core/base/image/raw-frame.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { ShotDocument } from '../../core/base/schemas/types.ts';
import { folders } from '../config.ts';
import type { StoredMedia } from '../database/media.ts';
import { loadKernels } from '../kernels/load-kernels.ts';
import { openFrames } from '../media/stored-frames.ts';
import type { SamplingAnswer } from './sampling-trial.ts';

/** What the thread is given. */
export interface SamplingTask {
  readonly plate: StoredMedia;
  readonly document: ShotDocument;
  readonly dataFolder: string;
}

const { plate, document, dataFolder } = workerData as SamplingTask;
const { layout, colour, frames } = plate.facts!;
const store = openFrames(folders(dataFolder), plate);
const { motion, regions, keepOut, referenceFrame } = document;
loadKernels();
const corners = document.corners ?? inUse(regions)[0]!.points.slice(0, 4);
const answer = await trySampling(
  { motion, regions, keepOut, referenceFrame, ...(document.corners ? { screen: document.corners } : {}) },
  corners,
  frames,
  async (frame) => lumaFromRaw(await store.readRaw(frame), layout, colour.transfer),
  () => performance.now(),
).then(
  (trials): SamplingAnswer => ({ trials }),
  (error: unknown): SamplingAnswer => {
    if (error instanceof NothingToFollow) return { problem: 'nothing-to-follow', values: { why: error.message } };
    if (error instanceof Problem) return { problem: error.code, values: error.values };
    throw error;
  },
);
parentPort!.postMessage(answer);
// The helper of the kernels would keep the thread alive.
process.exit(0);
