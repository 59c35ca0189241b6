/**
 * Follows the generated plates of every condition through the command line, from an exact seat and a rough region, and
 * writes docs/conditions.md. `npm run accuracy:follow [-- condition …]`. Plates are made once into .cache/conditions; a
 * plate whose track is newer than itself is followed again only with --again, so that a run can be broken off.
 */
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { main as yarlop } from '../cli/main.ts';
import type { TrackFile } from '../core/schemas/types.ts';
import { CONDITIONS } from '../demo/conditions/index.ts';
import { conditionPlate, SEEDS } from '../demo/make-conditions.ts';
import type { Truth } from '../demo/truth.ts';
import { jobFromTruth } from './accuracy-job.ts';
import { brokenLimits, falselyCertain, measureTrack, type PlateMeasures } from './conditions/measure.ts';

const root = join(import.meta.dirname, '..'), results = join(root, '.cache/conditions/tracks');
const again = process.argv.includes('--again'), only = process.argv.slice(2).filter((a) => !a.startsWith('-'));

async function followed(name: string): Promise<PlateMeasures> {
  const { plate, truth: truthFile } = await conditionPlate(name);
  const truth = JSON.parse(readFileSync(truthFile, 'utf8')) as Truth;
  mkdirSync(results, { recursive: true });
  const job = join(results, `${name}.job.json`), track = join(results, `${name}.track.json`);
  writeFileSync(job, JSON.stringify(jobFromTruth(truth)));
  if (again || !existsSync(track)) {
    if ((await yarlop(['track', '--plate', plate, '--job', job, '--out', track])) !== 0) throw new Error(`${name} could not be followed`);
  }
  return measureTrack(truth, JSON.parse(readFileSync(track, 'utf8')) as TrackFile);
}

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;
const percent = (share: number) => `${(100 * share).toFixed(1)} %`;

const rows: string[] = [], all: PlateMeasures[] = [];
for (const condition of CONDITIONS.filter((c) => only.length === 0 || only.includes(c.name))) {
  const plates: PlateMeasures[] = [];
  for (const seed of SEEDS) plates.push(await followed(`${condition.name}@${seed}`));
  all.push(...plates);
  const broken = brokenLimits(condition.limits, plates), worst = Math.max(...plates.map((p) => p.worst));
  rows.push(`| ${condition.title} | ${mean(plates.map((p) => p.mean)).toFixed(3)} | ${worst.toFixed(2)} | ${percent(mean(plates.map((p) => p.under1)))} | ${percent(mean(plates.map((p) => p.under5)))} | ${mean(plates.map((p) => p.jitter)).toFixed(3)} | ${broken.length === 0 ? 'reached' : broken.join('; ')} |`);
  console.log(rows.at(-1));
}
const corners = all.flatMap((p) => p.frames.flatMap((f) => f.corners.filter((c) => c.bound !== null)));
const held = corners.filter((c) => c.distance <= c.bound!).length / corners.length;
const text = `# Following, condition by condition

Made by \`npm run accuracy:follow\`: ${SEEDS.length} plates of each condition (demo/conditions), followed by \`yarlop track\` from an exact seat and a rough
region, no corrections. Corner error of a frame: root mean square over the four corners, px, at mid-shutter; frames with less than a
quarter of the screen in the picture do not count. Means over the seeds, the worst frame of all.

| condition | mean px | worst px | < 1 px | < 5 px | jitter px | limit |
|---|---|---|---|---|---|---|
${rows.join('\n')}

The stated bound holds for ${percent(held)} of ${corners.length} corners (95 % is meant). Frames over 5 px that are neither lost nor doubted: ${all.reduce((n, p) => n + falselyCertain(p.frames).length, 0)}.
`;
if (only.length === 0) writeFileSync(join(root, 'docs/conditions.md'), text);
else console.log(text);
