/**
 * Looks at generated plates as Plate does on arrival and compares blur and noise with what the generator knows:
 * writes docs/check-accuracy.md. `npm run accuracy:check`. Lossless clips are made once into .cache/demo.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { main as yarlop } from '../cli/main.ts';
import { quantile } from '../core/base/image/statistics.ts';
import type { ProbeFile } from '../core/base/schemas/types.ts';
import { losslessShot } from '../demo/make-shots.ts';
import { visibleSmears } from '../demo/scene/visible-motion.ts';
import type { Shot } from '../demo/scene/shot.ts';
import { SHIPPED, SHOTS } from '../demo/shots/index.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { probe } from '../server/media/probe.ts';
import { resolveSource } from '../server/media/source.ts';
import { lumaNoise } from './luma-noise.ts';

const root = join(import.meta.dirname, '..');
const CHECKED = [...SHIPPED, 'bench-tablet-dark'];

async function checkOf(name: string, plate: string): Promise<ProbeFile> {
  const out = join(tmpdir(), `${name}.facts.json`);
  if ((await yarlop(['probe', '--plate', plate, '--check', '--out', out])) !== 0)
    throw new Error(`${plate} could not be checked`);
  return JSON.parse(readFileSync(out, 'utf8')) as ProbeFile;
}

async function noises(plate: string, shot: Shot): Promise<number[]> {
  const source = resolveSource(plate);
  const out: number[] = [];
  for await (const frame of decodeFrames(source, await probe(source))) out.push(lumaNoise(frame, shot.noise));
  return out;
}

function blurFigures(check: NonNullable<ProbeFile['check']>, truth: readonly number[]): string {
  const errors = check.map((row, i) => Math.abs(row.blur - truth[i]!));
  const worst = Math.max(...errors);
  const frame = errors.indexOf(worst);
  const mean = errors.reduce((a, b) => a + b) / errors.length;
  return `${Math.max(...truth).toFixed(1)} | ${mean.toFixed(2)} | ${worst.toFixed(2)} (frame ${frame}: ${check[frame]!.blur.toFixed(1)} for ${truth[frame]!.toFixed(1)})`;
}

const rows: string[] = [];
for (const name of CHECKED) {
  const shot = SHOTS[name]!();
  const scene = shot.scene();
  const smears = Array.from({ length: shot.frames }, (_, frame) => quantile(visibleSmears(scene, frame, 40), 0.9));
  const { plate } = await losslessShot(name, ['plate']);
  const plates = [
    ['lossless', plate],
    ...((SHIPPED as readonly string[]).includes(name)
      ? [['as shipped, H.264', join(root, `demo/clips/${name}.mp4`)]]
      : []),
  ] as [string, string][];
  for (const [clip, file] of plates) {
    const facts = await checkOf(name, file);
    const check = facts.check!;
    const truth = clip === 'lossless' ? await noises(file, shot) : null;
    const noise = truth
      ? `${(100 * Math.max(...check.map((row, i) => Math.abs(row.noise / truth[i]! - 1)))).toFixed(0)} %`
      : '–';
    rows.push(
      `| ${name} | ${clip} | ${blurFigures(check, smears)} | ${noise} | ${facts.findings!.join('; ') || 'nothing'} |`,
    );
  }
}

const text = `# Accuracy of the plate check

Made by \`npm run accuracy:check\` from generated plates (demo/), looked at from beginning to end. The true blur of a frame is the 0.9
quantile, over all that is seen, of the way over the open shutter; the true noise that of the sensor, carried into the luma. A codec takes
noise away and some smear with it, so noise is compared on lossless plates only.

| shot | clip | longest blur px | mean error px | worst error px | worst error of noise | what is said |
|---|---|---|---|---|---|---|
${rows.join('\n')}
`;
writeFileSync(join(root, 'docs/check-accuracy.md'), text);
process.stdout.write(text);
