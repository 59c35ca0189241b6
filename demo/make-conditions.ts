/**
 * Makes the plates of the conditions that following is measured in, with their truth, into .cache/conditions; those
 * that are there already stay. `npm run demo:conditions [-- name@seed …]`.
 */
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { CONDITIONS, HAND_CONDITIONS, conditionShot } from './conditions/index.ts';
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
  const compression = [...CONDITIONS, ...HAND_CONDITIONS].find((c) => name.startsWith(`${c.name}@`))!.compression;
  if (!existsSync(paths.plate)) await renderShot(shot, 'plate', paths.plate, compression === undefined ? LOSSLESS : lossy(compression));
  writeFileSync(paths.truth, JSON.stringify(truthOf(shot)));
  return paths;
}

if (process.argv[1] === import.meta.filename) {
  const names = process.argv.slice(2);
  const all = SEEDS.flatMap((seed) => [...CONDITIONS, ...HAND_CONDITIONS].map((c) => `${c.name}@${seed}`));
  for (const name of names.length > 0 ? names : all) await conditionPlate(name);
}
