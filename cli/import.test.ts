import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { cornersByFrame } from '../core/handoff/exchange/track-file.ts';
import type { TrackFile } from '../core/base/schemas/types.ts';
import { inProcess } from './test/in-process.ts';
import { QUADS, TRACK } from './test/small-track.ts';
import { temporaryFolder } from '../server/test/folders.ts';

const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);

const yarlop = (...args: string[]) => inProcess(folder.path, args);
const done = async (...args: string[]) => expect(await yarlop(...args)).toMatchObject({ code: 0 });
/** How far corners of a track are from where they should be, px. */
const farthestOf = (name: string) =>
  Math.max(
    ...[...cornersByFrame(JSON.parse(text(name)) as TrackFile)].flatMap(([frame, quad]) =>
      quad.map(([x, y], i) => Math.hypot(x - QUADS[frame]![i]![0], y - QUADS[frame]![i]![1])),
    ),
  );
const text = (name: string) => readFileSync(at(name), 'utf8');

beforeAll(() => {
  writeFileSync(at('track.json'), JSON.stringify(TRACK));
  writeFileSync(
    at('look.json'),
    JSON.stringify({
      shapes: [
        {
          name: 'thumb',
          points: [
            [100, 80],
            [140, 84],
            [120, 130],
          ],
        },
      ],
    }),
  );
});
afterAll(() => folder.remove());

describe('import', () => {
  const farthest = farthestOf;
  test('what was exported comes back; homographies need the corners that they carry', async () => {
    for (const format of ['corners-csv', 'corners-json', 'homography-csv', 'homography-json']) {
      await done('export', '--track', 'track.json', '--format', format, '--out', `e.${format}`);
      await done('import', '--in', `e.${format}`, '--track', 'track.json', '--out', 'back.json');
      expect(farthest('back.json'), format).toBeLessThan(1.5e-5);
    }
    await done(
      'import',
      '--in',
      'e.corners-csv',
      '--size',
      '320x200',
      '--rate',
      '24',
      '--reference',
      '2',
      '--out',
      'back.json',
    );
    expect(JSON.parse(text('back.json'))).toMatchObject({ referenceFrame: 2, rate: [24, 1], width: 320 });
    expect(farthest('back.json')).toBeLessThan(1.5e-5);
    expect(
      (await yarlop('import', '--in', 'e.homography-csv', '--size', '320x200', '--rate', '24', '--out', 'x.json'))
        .stderr,
    ).toMatch(/no corners yet/);
  });
  test('a table with its columns told; lines that are wrong are named, the others read', async () => {
    writeFileSync(at('odd.txt'), `${QUADS.map((q, f) => ['x', f + 1, ...q.flat()].join(' ')).join('\n')}\nx 9 1 2\n`);
    const run = await yarlop(
      'import',
      '--in',
      'odd.txt',
      '--size',
      '320x200',
      '--rate',
      '24',
      '--columns',
      '1,2,3,4,5,6,7,8,9',
      '--frame-base',
      '1',
      '--out',
      'odd.json',
    );
    expect(run).toMatchObject({
      code: 0,
      stderr: expect.stringMatching(/odd\.txt, line 5: "" is not a number/) as unknown,
    });
    expect(farthest('odd.json')).toBeLessThan(1.5e-5);
    writeFileSync(at('bad.txt'), 'hello there\n');
    expect(
      (await yarlop('import', '--in', 'bad.txt', '--size', '320x200', '--rate', '24', '--out', 'x.json')).stderr,
    ).toMatch(/cannot be read as corners or homographies/);
    expect((await yarlop('import', '--in', 'odd.txt', '--out', 'x.json')).stderr).toMatch(
      /--plate is missing \(or --track, or --size WxH and --rate n\/d\)/,
    );
  });
});

describe('batch', () => {
  const batch = (decimals: number) =>
    JSON.stringify({
      format: 'yarlop-batch/1',
      shots: [
        {
          name: 'one',
          steps: [
            {
              run: 'export',
              with: { track: 'track.json', format: 'corners-csv', units: 'normalised', decimals, out: 'one.csv' },
            },
            { run: 'import', with: { in: 'one.csv', track: 'track.json', out: 'one.json' } },
          ],
        },
        {
          name: 'broken',
          steps: [{ run: 'export', with: { track: 'none.json', format: 'corners-csv', out: 'x.csv' } }],
        },
        {
          name: 'two',
          folder: '.',
          steps: [{ run: 'export', with: { track: 'track.json', format: 'gltf', out: 'two.gltf' } }],
        },
      ],
    });
  test('runs all shots, names the one that fails, and goes on where it was', async () => {
    writeFileSync(at('batch.json'), batch(9));
    const first = await yarlop('batch', 'batch.json');
    expect(first.code).toBe(1);
    expect(first.stderr).toMatch(
      /broken: The file none\.json does not exist\.[^]*1 of 3 shots could not be finished: broken\./,
    );
    expect(text('two.gltf')).toContain('"asset"');
    expect(farthestOf('one.json')).toBeLessThan(0.001);
    // Nothing that is done is done again; with other options it is, and so is what follows from it.
    const second = await yarlop('batch', 'batch.json');
    expect(second.stderr).not.toMatch(/one: |two: /);
    writeFileSync(at('batch.json'), batch(2));
    expect((await yarlop('batch', 'batch.json')).stderr).toMatch(/one: export[^]*one: import/);
    expect(farthestOf('one.json')).toBeGreaterThan(0.1);
    expect((await yarlop('batch', 'track.json')).stderr).toMatch(/^yarlop: track\.json: /);
  });
});
