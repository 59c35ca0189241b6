/** Measures seats on plates of a wide lens, three seeds, with the lens and without, by the command line; writes them into docs/accuracy.md. `npm run accuracy:seat-lens`. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { distance } from '../../core/base/geometry/quad.ts';
import { parsed } from '../../core/base/schemas/check.ts';
import { conditionShot, LENS_CONDITIONS } from '../../demo/conditions/index.ts';
import { conditionPlate, SEEDS } from '../../demo/make-conditions.ts';
import type { Truth } from '../../demo/truth.ts';
import { writeSection } from '../document-section.ts';

/** Corners are put this far off, px. */
const OFF = 1.2;
const folder = mkdtempSync(join(tmpdir(), 'yarlop-'));
const at = (name: string) => join(folder, name);
const rows: string[] = [];
const yarlop = (...args: string[]) =>
  execFileSync(process.execPath, [join(import.meta.dirname, '../../bin/yarlop'), ...args], { stdio: 'ignore' });
for (const { name, title } of LENS_CONDITIONS)
  for (const seed of SEEDS) {
    const { plate, truth: file } = await conditionPlate(`${name}@${seed}`);
    const truth = JSON.parse(readFileSync(file, 'utf8')) as Truth;
    const { width, height, referenceFrame, region, frames } = truth;
    const { lens: filmed } = conditionShot(`${name}@${seed}`)!.scene();
    const lens = {
      k1: filmed.bend!.k1,
      k2: filmed.bend!.k2,
      k3: 0,
      centre: [width / 2, height / 2],
      focal: filmed.focal,
    };
    const corners = frames[referenceFrame]!.corners.map(([x, y], i) => [
      x + OFF * Math.sin(3 * i + 1),
      y + OFF * Math.cos(2 * i),
    ]);
    writeFileSync(
      at('job.json'),
      JSON.stringify({
        pixelCentre: 'half',
        referenceFrame,
        motion: 'perspective',
        regions: [{ points: region }],
        corners,
        lens,
      }),
    );
    yarlop('track', '--plate', plate, '--job', at('job.json'), '--out', at('with.json'));
    const { lens: _lens, ...plain } = parsed('track', readFileSync(at('with.json'), 'utf8'), 'the track');
    writeFileSync(at('without.json'), JSON.stringify(plain));
    const off = (track: string) => {
      const away = parsed('track', readFileSync(at(track), 'utf8'), track).frames.flatMap((f) =>
        (f.corners ?? []).map((p, i) => distance(p, frames[f.frame]!.corners[i]!)),
      );
      return `${(away.reduce((a, b) => a + b, 0) / away.length).toFixed(3)} mean, ${Math.max(...away).toFixed(2)} worst`;
    };
    for (const track of ['with', 'without'])
      yarlop(
        'seat',
        '--plate',
        plate,
        '--track',
        at(`${track}.json`),
        '--snap',
        'inner',
        '--lock',
        '--out',
        at(`${track}.seated.json`),
      );
    rows.push(
      `| ${title}, ${seed} | ${off('with.json')} | ${off('without.seated.json')} | ${off('with.seated.json')} |`,
    );
    console.log(rows.at(-1));
  }
rmSync(folder, { recursive: true });
writeSection(
  join(import.meta.dirname, '../../docs/accuracy.md'),
  'seat-lens',
  `## Seats through a lens

Made by \`npm run accuracy:seat-lens\`. Corners are put ${OFF} px off and followed with the lens; then snapped to the screen's borders on the reference and locked on all frames: looking at the plate as filmed, where borders are bowed, and
through the lens, where they are straight. Corners of all frames against the generator's, px.

| plate, seed | as placed and followed | seated on the plate as filmed | seated through the lens |
|---|---|---|---|
${rows.join('\n')}
`,
);
