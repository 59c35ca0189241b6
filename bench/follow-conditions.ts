/**
 * Follows the generated plates of every condition through the command line, from an exact seat and a rough region, beside
 * what the reference library has for it, and writes the table and the calibration of the bounds into docs/accuracy.md.
 * `npm run accuracy:follow [-- condition …]`. Plates are made once into .cache/conditions. Whatever has been followed is
 * kept there, so that a run can be broken off; with --again our own tracks are made anew.
 */
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { main as yarlop } from '../cli/main.ts';
import { writeTrack } from '../core/handoff/exchange/track-file.ts';
import type { Quad } from '../core/base/geometry/quad.ts';
import type { TrackFile } from '../core/base/schemas/types.ts';
import { CONDITIONS } from '../demo/conditions/index.ts';
import { conditionPlate, SEEDS } from '../demo/make-conditions.ts';
import type { Truth } from '../demo/truth.ts';
import { jobFromTruth } from './accuracy-job.ts';
import { boundChart, type BoundRatios } from './conditions/bound-chart.ts';
import { brokenLimits, falselyCertain, measureTrack, type PlateMeasures } from './conditions/measure.ts';
import { writeSection } from './document-section.ts';
import { lumaOf } from './plate-luma.ts';
import { chainedLk, ecc, type ReferenceFollower } from './reference/followers.ts';
import { loadOpenCv } from './reference/opencv.ts';

const root = join(import.meta.dirname, '..');
const results = join(root, '.cache/conditions/tracks');
const again = process.argv.includes('--again');
const only = process.argv.slice(2).filter((a) => !a.startsWith('-'));
mkdirSync(results, { recursive: true });
const cv = await loadOpenCv();
const REFERENCES: readonly [title: string, file: string, follow: ReferenceFollower][] = [
  ['LK', 'lk', chainedLk(cv)],
  ['ECC', 'ecc', ecc(cv)],
];

interface Plate {
  name: string;
  plate: string;
  truth: Truth;
}

async function plateOf(name: string): Promise<Plate> {
  const { plate, truth } = await conditionPlate(name);
  return { name, plate, truth: JSON.parse(readFileSync(truth, 'utf8')) as Truth };
}

const kept = (file: string) => JSON.parse(readFileSync(file, 'utf8')) as TrackFile;

async function ours({ name, plate, truth }: Plate, lastPass = false): Promise<PlateMeasures> {
  const kind = lastPass ? 'last' : 'track';
  const job = join(results, `${name}.job.json`);
  const track = join(results, `${name}.${kind}.json`);
  writeFileSync(job, JSON.stringify({ ...jobFromTruth(truth), ...(lastPass ? { lastPass } : {}) }));
  if (again || !existsSync(track)) {
    if ((await yarlop(['track', '--plate', plate, '--job', job, '--out', track])) !== 0)
      throw new Error(`${name} could not be followed`);
  }
  return measureTrack(truth, kept(track));
}

/** The reference library is given the picture alone: it has no keep-outs and says nothing of its certainty. */
async function theirs(
  { name, plate, truth }: Plate,
  [, file, follow]: (typeof REFERENCES)[number],
): Promise<PlateMeasures> {
  const track = join(results, `${name}.${file}.json`);
  if (!existsSync(track)) {
    const maps = follow({
      plate: await lumaOf(plate),
      region: truth.region,
      referenceFrame: truth.referenceFrame,
      frames: [0, truth.frames.length - 1],
    });
    const { width, height, rate, referenceFrame } = truth;
    const corners = truth.frames[referenceFrame]!.corners as unknown as Quad;
    const frames = truth.frames.map(({ frame }) => ({
      frame,
      homography: maps.get(frame) ?? null,
      error: 0,
      confidence: maps.has(frame) ? 1 : 0,
      lost: 'not found',
    }));
    writeFileSync(
      track,
      JSON.stringify(writeTrack({ pixelCentre: 'half', width, height, rate, referenceFrame, corners }, frames)),
    );
  }
  return measureTrack(truth, kept(track));
}

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;
const percent = (share: number) => `${(100 * share).toFixed(share > 0.995 && share < 1 ? 1 : 0)} %`;
/** Mean, worst and shares over the seeds; a frame that is lost counts as not under any limit. */
const figures = (plates: readonly PlateMeasures[]) =>
  `${mean(plates.map((p) => p.mean)).toFixed(3)} | ${Math.max(...plates.map((p) => p.worst)).toFixed(2)} | ${percent(mean(plates.map((p) => p.under1)))} | ${percent(mean(plates.map((p) => p.under5)))}`;
const short = (plates: readonly PlateMeasures[]) =>
  `${mean(plates.map((p) => p.mean)).toFixed(2)} | ${percent(mean(plates.map((p) => p.under1)))}`;
const boundsOf = (plates: readonly PlateMeasures[]) =>
  plates.flatMap((p) => p.frames.flatMap((f) => f.corners.filter((c) => c.bound !== null)));

const rows: string[] = [];
const calibration: string[] = [];
const all: PlateMeasures[] = [];
const ratios: BoundRatios[] = [];
for (const condition of CONDITIONS.filter((c) => only.length === 0 || only.includes(c.name))) {
  const plates: Plate[] = [];
  const measured: PlateMeasures[] = [];
  for (const seed of SEEDS) plates.push(await plateOf(`${condition.name}@${seed}`));
  for (const plate of plates) measured.push(await ours(plate));
  const passed: PlateMeasures[] = [];
  for (const plate of plates) passed.push(await ours(plate, true));
  const reference: string[] = [];
  for (const one of REFERENCES) {
    const found: PlateMeasures[] = [];
    for (const plate of plates) found.push(await theirs(plate, one));
    reference.push(short(found));
  }
  const broken = brokenLimits(condition.limits, measured);
  rows.push(
    `| ${condition.title} | ${figures(measured)} | ${mean(measured.map((p) => p.jitter)).toFixed(3)} | ${broken.length === 0 ? 'reached' : broken.join('; ')} | ${mean(passed.map((p) => p.mean)).toFixed(3)} | ${reference.join(' | ')} |`,
  );
  const bounds = boundsOf(measured);
  const held = bounds.filter((c) => c.distance <= c.bound!).length / Math.max(1, bounds.length);
  calibration.push(
    `| ${condition.title} | ${percent(held)} | ${bounds.length} | ${measured.reduce((n, p) => n + falselyCertain(p.frames).length, 0)} of ${measured.reduce((n, p) => n + p.frames.filter((f) => f.error !== null && f.error > 5).length, 0)} |`,
  );
  ratios.push({ title: condition.name, ratios: bounds.map((c) => c.distance / c.bound!) });
  all.push(...measured);
  console.log(rows.at(-1));
  console.log(calibration.at(-1));
}
const corners = boundsOf(all);
const held = corners.filter((c) => c.distance <= c.bound!).length / corners.length;
const gross = all.flatMap((p) => p.frames.filter((f) => f.error !== null && f.error > 5)).length;
const certain = all.reduce((n, p) => n + falselyCertain(p.frames).length, 0);
const table = `## Following, condition by condition

Made by \`npm run accuracy:follow\`: ${SEEDS.length} seeds of each condition (demo/conditions), followed by \`yarlop track\` from an exact seat and a
rough region, no corrections. Corner error of a frame as above; frames with less than a quarter of the screen in the picture do not
count, lost ones are under no limit. Means over the seeds, the worst frame of all; jitter: root mean square second difference in time
of the corner error. After a last pass: the same with JOB's \`lastPass\`. Beside it,
on the same plates, OpenCV 4.12's pyramidal LK chained with a robust homography, and its ECC.

| condition | mean px | worst px | < 1 px | < 5 px | jitter px | limit | mean after a last pass | LK mean | LK < 1 px | ECC mean | ECC < 1 px |
|---|---|---|---|---|---|---|---|---|---|---|---|
${rows.join('\n')}
`;
const chart = `## How sure it says it is

By the same run: \`bound\` of TRACK should hold 95 % of the corners. Over all plates it holds ${percent(held)} of ${corners.length}. Of ${gross} frames with
an error over 5 px, ${certain} are neither lost nor doubted (confidence < 0.3).

| condition | corners within the bound | corners | > 5 px yet certain |
|---|---|---|---|
${calibration.join('\n')}

![Share of corners within so many times the stated bound](charts/bounds.svg)
`;
if (only.length === 0) {
  writeSection(join(root, 'docs/accuracy.md'), 'conditions', table);
  writeSection(join(root, 'docs/accuracy.md'), 'certainty', chart);
  mkdirSync(join(root, 'docs/charts'), { recursive: true });
  writeFileSync(join(root, 'docs/charts/bounds.svg'), boundChart(ratios));
} else console.log(chart);
