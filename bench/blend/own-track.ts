import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { main } from '../../cli/main.ts';
import { cornersByFrame } from '../../core/handoff/exchange/track-file.ts';
import type { Quad } from '../../core/base/geometry/quad.ts';
import { parsed } from '../../core/base/schemas/check.ts';
import { conditionPlate } from '../../demo/make-conditions.ts';
import type { Truth } from '../../demo/truth.ts';
import { jobFromTruth } from '../accuracy-job.ts';

/** Corners of a condition's plate as `yarlop track` finds them, and as `yarlop seat --lock` then holds them to the device's borders. */
export async function followedCorners(
  name: string,
  truth: Truth,
): Promise<Readonly<Record<'followed' | 'locked', ReadonlyMap<number, Quad>>>> {
  const folder = join(import.meta.dirname, '../../.cache/blend');
  const file = (kind: string) => join(folder, `${name}.${kind}.json`);
  const job = file('job');
  const { plate } = await conditionPlate(name);
  mkdirSync(folder, { recursive: true });
  writeFileSync(job, JSON.stringify(jobFromTruth(truth)));
  const run = async (...args: string[]) => {
    if ((await main(args)) !== 0) throw new Error(`${name}: ${args[0]} did not work`);
  };
  await run('track', '--plate', plate, '--job', job, '--out', file('track'));
  await run('seat', '--plate', plate, '--track', file('track'), '--lock', '--out', file('locked'));
  const corners = (kind: string) => cornersByFrame(parsed('track', readFileSync(file(kind), 'utf8'), file(kind)));
  return { followed: corners('track'), locked: corners('locked') };
}
