/** Measures lenses told by straight borders on generated plates, three seeds each, and writes them into docs/accuracy.md. `npm run accuracy:lens [-- plate …]`; with names it only prints. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Quad } from '../../core/base/geometry/quad.ts';
import { borderLines } from '../../core/motion/lens/border-lines.ts';
import { lensFromLines } from '../../core/motion/lens/lens-from-lines.ts';
import type { Lens } from '../../core/motion/lens/lens.ts';
import { lightPicture } from '../../core/base/image/light-sampler.ts';
import { conditionShot, LENS_CONDITIONS } from '../../demo/conditions/index.ts';
import { conditionPlate, SEEDS } from '../../demo/make-conditions.ts';
import type { Truth } from '../../demo/truth.ts';
import { writeSection } from '../document-section.ts';
import { lumaOf } from '../plate-luma.ts';
import { cornersOff } from './lens-figures.ts';

/** Frames that borders are looked for on, and how far their corners are put off, px: as a follow without the lens leaves them, and worse. */
const FRAMES = 24;
const OFF = 2;
const REACH = 1;
const only = process.argv.slice(2);
const rows: string[] = [];
for (const { name, title } of LENS_CONDITIONS)
  for (const seed of SEEDS.filter((s) => only.length === 0 || only.includes(`${name}@${s}`))) {
    const { plate, truth: file } = await conditionPlate(`${name}@${seed}`);
    const { width, height, frames } = JSON.parse(readFileSync(file, 'utf8')) as Truth;
    const luma = await lumaOf(plate);
    const { lens: filmed } = conditionShot(`${name}@${seed}`)!.scene();
    const truth: Lens = {
      k1: filmed.bend!.k1,
      k2: filmed.bend!.k2,
      k3: 0,
      centre: [width / 2, height / 2],
      focal: filmed.focal,
    };
    const lines = Array.from({ length: FRAMES }, (_, k) => Math.floor(((k + 0.5) * luma.length) / FRAMES)).flatMap(
      (f) =>
        borderLines(
          lightPicture(luma[f]!),
          frames[f]!.corners.map(([x, y], i) => [
            x + OFF * Math.sin(7 * f + 2 * i),
            y + OFF * Math.cos(5 * f + 3 * i),
          ]) as unknown as Quad,
        ),
    );
    const fit = lensFromLines(lines, truth.centre, truth.focal)!;
    const off = cornersOff(fit.lens, truth, width, height);
    const row = `| ${title}, ${seed} | ${lines.length} | ${fit.before.toFixed(2)} → ${fit.rms.toFixed(2)} | ${fit.lens.k1.toFixed(4)} (${truth.k1.toFixed(4)}) | ${off.toFixed(2)} | ≤ ${REACH} px | ${off <= REACH ? 'reached' : '**not reached**'} |`;
    rows.push(row);
    console.log(row);
  }
const text = `## Lenses told by straight borders

Made by \`npm run accuracy:lens\`. The tablet's borders are followed along their length on ${FRAMES} frames, its corners put ${OFF} px off; k1 is what straightens them. How far the points are off their lines, px, as filmed and straightened; k1 with the generator's in
brackets; how far that puts the straightened picture's corners and sides off, px (its scale about the middle taken out).

| plate, seed | borders | off straight | k1 | corners of the frame | reach | |
|---|---|---|---|---|---|---|
${rows.join('\n')}
`;
if (only.length === 0) writeSection(join(import.meta.dirname, '../../docs/accuracy.md'), 'lens-lines', text);
