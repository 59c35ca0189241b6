import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { main as yarlop } from '../../cli/main.ts';
import type { LumaFrame } from '../../core/base/image/luma-frame.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import type { TrackFile } from '../../core/base/schemas/types.ts';
import { conditionPlate } from '../../demo/make-conditions.ts';
import type { Truth } from '../../demo/truth.ts';
import { jobFromTruth } from '../accuracy-job.ts';
import { lumaOf } from '../plate-luma.ts';

const results = join(import.meta.dirname, '../../.cache/conditions/tracks');

/** A generated plate with its truth, and the track that following it from an exact seat gave. */
export interface Condition {
  readonly name: string;
  readonly truth: Truth;
  readonly luma: LumaFrame[];
  readonly track: TrackFile;
  readonly corners: Quad;
}

/** Plates and tracks are made where they are not there. */
export async function openCondition(name: string): Promise<Condition> {
  const paths = await conditionPlate(name);
  const truth = JSON.parse(readFileSync(paths.truth, 'utf8')) as Truth;
  const file = join(results, `${name}.track.json`);
  if (!existsSync(file)) {
    mkdirSync(results, { recursive: true });
    const job = join(results, `${name}.job.json`);
    writeFileSync(job, JSON.stringify(jobFromTruth(truth)));
    if ((await yarlop(['track', '--plate', paths.plate, '--job', job, '--out', file])) !== 0)
      throw new Error(`${name} could not be followed`);
  }
  return {
    name,
    truth,
    luma: await lumaOf(paths.plate),
    track: JSON.parse(readFileSync(file, 'utf8')) as TrackFile,
    corners: quadOf(truth, truth.referenceFrame),
  };
}

export function quadOf(truth: Truth, frame: number): Quad {
  return truth.frames[frame]!.corners as unknown as Quad;
}

/** Root mean square over the corners, px. */
export function quadError(found: Quad, truth: Quad): number {
  return Math.sqrt(found.reduce((sum, [x, y], i) => sum + (x - truth[i]![0]) ** 2 + (y - truth[i]![1]) ** 2, 0) / 4);
}

export const mean = (values: readonly number[]): number =>
  values.reduce((a, b) => a + b, 0) / Math.max(1, values.length);
