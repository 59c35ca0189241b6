import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { main } from '../../cli/main.ts';
import { cornersByFrame } from '../../core/exchange/track-file.ts';
import type { Quad } from '../../core/geometry/quad.ts';
import { parsed } from '../../core/schemas/check.ts';
import { conditionPlate } from '../../demo/make-conditions.ts';
import type { Truth } from '../../demo/truth.ts';
import { jobFromTruth } from '../accuracy-job.ts';

/** Corners of a condition's plate as `yarlop track` finds them. */
export async function followedCorners(name: string, truth: Truth): Promise<ReadonlyMap<number, Quad>> {
  const folder = join(import.meta.dirname, '../../.cache/blend'), job = join(folder, `${name}.job.json`), out = join(folder, `${name}.track.json`);
  mkdirSync(folder, { recursive: true });
  writeFileSync(job, JSON.stringify(jobFromTruth(truth)));
  const code = await main(['track', '--plate', (await conditionPlate(name)).plate, '--job', job, '--out', out]);
  if (code !== 0) throw new Error(`${name} could not be followed`);
  return cornersByFrame(parsed('track', readFileSync(out, 'utf8'), out));
}
