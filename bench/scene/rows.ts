/**
 * Measures scene solves by a camera that reads its rows over 20 ms and pans fast, three seeds, and writes them into docs/accuracy.md.
 * `npm run accuracy:rows [-- plate …]`; with names it only prints.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROLLING_CONDITIONS } from '../../demo/conditions/index.ts';
import { conditionPlate, SEEDS } from '../../demo/make-conditions.ts';
import type { Truth } from '../../demo/truth.ts';
import { loadKernels } from '../../server/kernels/load-kernels.ts';
import { writeSection } from '../document-section.ts';
import { followed } from '../lens/lens-figures.ts';
import { lumaOf } from '../plate-luma.ts';
import { hallFigures } from './hall-figures.ts';

loadKernels();
const only = process.argv.slice(2);
const mean = (v: readonly number[]) => v.reduce((a, b) => a + b, 0) / Math.max(1, v.length);
/** 20 ms of 25 frames a second; corner error halved or better. */
const TRUE_ROWS = 0.5;
const BETTER = 2;

const rows: string[] = [];
for (const { name, title } of ROLLING_CONDITIONS)
  for (const seed of SEEDS.filter((s) => only.length === 0 || only.includes(`${name}@${s}`))) {
    const without = await hallFigures(`${name}@${seed}`);
    const withRows = await hallFigures(`${name}@${seed}`, {}, undefined, 'estimate');
    const say = ({ off }: typeof without) =>
      `${mean(off.filter(Number.isFinite)).toFixed(3)} mean, ${Math.max(...off).toFixed(2)} worst`;
    const { plate, truth } = await conditionPlate(`${name}@${seed}`);
    const region = await followed(JSON.parse(readFileSync(truth, 'utf8')) as Truth, await lumaOf(plate));
    const told = withRows.scene.rows
      ? `${(40 * withRows.scene.rows.rowTime).toFixed(2)} ms (${(40 * TRUE_ROWS).toFixed(0)})`
      : 'not known';
    const gain = mean(without.off) / mean(withRows.off);
    const row = `| ${title}, ${seed} | ${say(without)} | ${say(withRows)} | ${region.mean.toFixed(3)} mean, ${region.worst.toFixed(2)} worst | ${told} | ${(100 * without.focal).toFixed(1)} % | ${(100 * withRows.focal).toFixed(2)} % | ${(100 * withRows.held).toFixed(0)} % of ${withRows.bound.toFixed(2)} px | ${gain.toFixed(0)} × (${BETTER} ×) | ${gain >= BETTER ? 'reached' : '**not reached**'} |`;
    rows.push(row);
    console.log(row);
  }
const text = `## Rows read one after the other

Made by \`npm run accuracy:rows\`. The camera pans to and fro by up to 20 px a frame while it is carried past; each row is filmed at its own time. The wall screen's plane is placed by its exact corners on one frame, as filmed; corners on all others
against the generator's, px: with all rows taken as read at once, and with the row time that the shot itself tells; beside it what following the dark screen with its rim comes to, whose homography takes the lean of a pan along by itself.

| plate, seed | at once | row by row | region followed | row time (true) | focal length, at once | row by row | within bounds | better by | |
|---|---|---|---|---|---|---|---|---|---|
${rows.join('\n')}
`;
if (only.length === 0) writeSection(join(import.meta.dirname, '../../docs/accuracy.md'), 'scene-rows', text);
