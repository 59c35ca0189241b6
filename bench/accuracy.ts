/**
 * Follows every generated plate from an exact seat, renders the first's composite on its own track with the
 * truth's look, and writes docs/accuracy.md. `npm run accuracy`. Lossless clips are made once into .cache/demo.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { main as yarlop } from '../cli/main.ts';
import { cornersByFrame } from '../core/handoff/exchange/track-file.ts';
import type { Look, TrackFile } from '../core/base/schemas/types.ts';
import { losslessShot } from '../demo/make-shots.ts';
import { SHIPPED, SHOTS } from '../demo/shots/index.ts';
import type { Truth } from '../demo/truth.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { probe } from '../server/media/probe.ts';
import { resolveSource } from '../server/media/source.ts';
import { cornerErrors, jobFromTruth, type CornerErrors } from './accuracy-job.ts';
import { writeSection } from './document-section.ts';
import { psnrInside } from './psnr.ts';

const root = join(import.meta.dirname, '..');

/** The look that the truth says the device would have given the content. */
export function lookFromTruth(truth: Truth): Look {
  return { levels: truth.levels, soften: truth.softness, motionBlur: { shutter: truth.shutter, phase: 0 } };
}

async function run(...args: string[]): Promise<void> {
  if ((await yarlop(args)) !== 0) throw new Error(`yarlop ${args[0]} failed`);
}

async function* pictures(file: string): AsyncGenerator<Uint8Array> {
  const source = resolveSource(file);
  yield* decodeFrames(source, await probe(source));
}

async function composite(
  name: string,
  plate: string,
  truth: Truth,
  trackFile: string,
  reference: string,
): Promise<{ mean: number; worst: number }> {
  const lookFile = join(tmpdir(), `${name}.look.json`);
  const out = join(tmpdir(), `${name}.render.mkv`);
  writeFileSync(lookFile, JSON.stringify(lookFromTruth(truth)));
  await run(
    'render',
    '--plate',
    plate,
    '--track',
    trackFile,
    '--content',
    join(root, 'demo/content', truth.content),
    '--look',
    lookFile,
    '--out',
    out,
  );
  const values: number[] = [];
  const expected = pictures(reference);
  for await (const frame of pictures(out)) {
    const { value } = (await expected.next()) as { value: Uint8Array };
    values.push(psnrInside(frame, value, truth.width, truth.height, truth.frames[values.length]!.corners));
  }
  return { mean: values.reduce((a, b) => a + b) / values.length, worst: Math.min(...values) };
}

function row(name: string, clip: string, e: CornerErrors): string {
  return `| ${name} | ${clip} | ${e.mean.toFixed(3)} | ${e.worst.toFixed(3)} (frame ${e.worstFrame}) | ${(100 * e.under1).toFixed(0)} % | ${e.lost} |`;
}

const rows: string[] = [];
const composites: string[] = [];
for (const name of Object.keys(SHOTS)) {
  const lossless = await losslessShot(name);
  const truth = JSON.parse(readFileSync(lossless.truth, 'utf8')) as Truth;
  const jobFile = join(tmpdir(), `${name}.job.json`);
  writeFileSync(jobFile, JSON.stringify(jobFromTruth(truth)));
  const ships = (SHIPPED as readonly string[]).includes(name);
  const plates = [
    ['lossless', lossless.plate],
    ...(ships ? [['as shipped, H.264', join(root, `demo/clips/${name}.mp4`)]] : []),
  ] as [string, string][];
  for (const [clip, plate] of plates) {
    const trackFile = join(tmpdir(), `${name}.track.json`);
    await run('track', '--plate', plate, '--job', jobFile, '--out', trackFile);
    rows.push(
      row(name, clip, cornerErrors(truth, cornersByFrame(JSON.parse(readFileSync(trackFile, 'utf8')) as TrackFile))),
    );
    // Where something covers the screen the insert alone cannot be right: holding it out is the Front step's work.
    if (clip === 'lossless' && ships) {
      const psnr = await composite(name, plate, truth, trackFile, lossless.composite);
      composites.push(`| ${name} | ${psnr.mean.toFixed(1)} | ${psnr.worst.toFixed(1)} |`);
    }
  }
}

const text = `# Accuracy

Made by \`npm run accuracy\` from generated plates whose corners are exactly known (demo/). Corner error of a frame:
root mean square over the four corners, pixels, at mid-shutter. Followed with perspective motion from an exact seat on
the reference frame and a rough region.

| shot | clip | mean px | worst px | frames < 1 px | lost |
|---|---|---|---|---|---|
${rows.join('\n')}

The composite on its own track, with the levels, softness and shutter of the truth entered, against the true composite
(the same shot as if the device had shown the content; without noise), inside the screen:

| shot | mean PSNR dB | worst frame dB |
|---|---|---|
${composites.join('\n')}
`;
writeSection(join(root, 'docs/accuracy.md'), 'shots', text);
process.stdout.write(text);
