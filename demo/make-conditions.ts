/**
 * Makes the plates of the conditions that following is measured in, with their truth, into .cache/conditions; those
 * that are there already stay. `npm run demo:conditions [-- name@seed …]`.
 */
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ALL_CONDITIONS, conditionShot } from './conditions/index.ts';
import { lossy, LOSSLESS, renderShot } from './render-shot.ts';
import { truthOf } from './truth.ts';

const CACHE = join(import.meta.dirname, '../.cache/conditions');

/** Seeds of the table; others can be asked for by name. */
export const SEEDS: readonly number[] = [1, 2, 3];

export interface ConditionPlate {
  plate: string;
  truth: string;
}

/** The plate `name@seed` and its truth; made when it is not there. */
export async function conditionPlate(name: string): Promise<ConditionPlate> {
  mkdirSync(CACHE, { recursive: true });
  const shot = conditionShot(name);
  if (!shot) throw new RangeError(`no condition is called ${name}`);
  const paths = { plate: join(CACHE, `${name}.mkv`), truth: join(CACHE, `${name}.truth.json`) };
  const compression = ALL_CONDITIONS.find((c) => name.startsWith(`${c.name}@`))!.compression;
  if (!existsSync(paths.plate))
    await renderShot(shot, 'plate', paths.plate, compression === undefined ? LOSSLESS : lossy(compression));
  writeFileSync(paths.truth, JSON.stringify(truthOf(shot)));
  return paths;
}

/** The finished picture and the matte that a condition's plate should end as; made when they are not there. */
export async function conditionGoal(name: string): Promise<{ composite: string; matte: string }> {
  const shot = conditionShot(name);
  if (!shot) throw new RangeError(`no condition is called ${name}`);
  const paths = { composite: join(CACHE, `${name}.composite.mkv`), matte: join(CACHE, `${name}.matte.mkv`) };
  for (const kind of ['composite', 'matte'] as const)
    if (!existsSync(paths[kind])) await renderShot(shot, kind, paths[kind]);
  return paths;
}

/** A condition's plate without the screen's marks and without grain, and how much of each pixel is screen; made when they are not there. */
export async function conditionUnmarked(name: string): Promise<{ unmarked: string; matte: string }> {
  const shot = conditionShot(name);
  const paths = { unmarked: join(CACHE, `${name}.unmarked.mkv`), matte: join(CACHE, `${name}.matte.mkv`) };
  if (!shot?.unmarked) throw new RangeError(`no condition with marks is called ${name}`);
  mkdirSync(CACHE, { recursive: true });
  for (const kind of ['unmarked', 'matte'] as const)
    if (!existsSync(paths[kind])) await renderShot(shot, kind, paths[kind]);
  return paths;
}

if (process.argv[1] === import.meta.filename) {
  const names = process.argv.slice(2);
  const all = SEEDS.flatMap((seed) => ALL_CONDITIONS.map((c) => `${c.name}@${seed}`));
  for (const name of names.length > 0 ? names : all) await conditionPlate(name);
}
