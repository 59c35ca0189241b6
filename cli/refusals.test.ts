import { execa } from 'execa';
import { existsSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { jobFromTruth } from '../bench/accuracy-job.ts';
import type { FollowJob } from '../core/base/schemas/types.ts';
import type { Truth } from '../demo/truth.ts';
import { badFiles, numberedPictures } from '../server/test/media-files.ts';
import { inProcess } from './test/in-process.ts';
import { ROOT, temporaryFolder } from '../server/test/folders.ts';
import { shortClip } from '../server/test/prepared-shot.ts';

const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
const plate = at('orders-laptop.mp4');
const content = join(ROOT, 'demo/content/orders.png');
let truth: Truth;
let job: FollowJob;

/** Runs the program itself, as a script would. */
async function asProcess(...args: string[]): Promise<{ code: number; stderr: string; stdout: string }> {
  const result = await execa(join(ROOT, 'bin/yarlop'), args, { reject: false, cwd: folder.path });
  return { code: result.exitCode ?? -1, stderr: result.stderr, stdout: result.stdout };
}
const yarlop = (...args: string[]) => inProcess(folder.path, args);
function write(name: string, value: unknown): string {
  writeFileSync(at(name), typeof value === 'string' ? value : JSON.stringify(value));
  return at(name);
}

beforeAll(async () => {
  const clip = await shortClip(80);
  writeFileSync(plate, clip.bytes);
  truth = clip.truth;
  job = { ...jobFromTruth(truth), frames: [36, 44] };
  write('job.json', job);
  expect(await asProcess('track', '--plate', plate, '--job', at('job.json'), '--out', at('track.json'))).toMatchObject({
    code: 0,
  });
});
afterAll(() => folder.remove());

describe('what a person can get wrong', () => {
  /** Exit code 1, one sentence that names the thing, no stack, no half-written output. */
  async function refused(words: RegExp, ...args: string[]): Promise<void> {
    const out = args[args.indexOf('--out') + 1];
    const run = await yarlop(...args);
    expect(run.stderr).toMatch(words);
    expect(run.code).toBe(1);
    expect(run.stderr.split('\n').filter((l) => l.startsWith('yarlop:') && !/assumed|tag/.test(l))).toHaveLength(1);
    expect(run.stderr).not.toMatch(/\n\s+at /);
    if (out && args.includes('--out')) expect(existsSync(out)).toBe(false);
    expect(readdirSync(folder.path).filter((f) => f.includes('.part'))).toEqual([]);
  }
  const trackWith = (change: object | string) => {
    const file = write('bad.json', typeof change === 'string' ? change : { ...job, ...change });
    return ['track', '--plate', plate, '--job', file, '--out', at('never.json')];
  };

  test.each<[string, object | string, RegExp]>([
    ['not JSON', '{"pixelCentre": half}', /bad\.json is not valid JSON/],
    [
      'a number that is not finite',
      JSON.stringify({ ...{ pixelCentre: 'half', referenceFrame: 0, motion: 'affine', regions: [] } }).replace(
        '"regions":[]',
        '"regions":[],"corners":[[NaN,0],[1,0],[1,1],[0,1]]',
      ),
      /bad\.json is not valid JSON/,
    ],
    ['an unknown field', { smooth: 3 }, /bad\.json: smooth is not known here/],
    ['a missing field', { corners: undefined }, /bad\.json: corners is missing/],
    [
      'corners that cross',
      {
        corners: [
          [0, 0],
          [99, 99],
          [99, 0],
          [0, 99],
        ],
      },
      /bad\.json: the corners cross each other/,
    ],
    [
      'a region of two points',
      {
        regions: [
          {
            points: [
              [0, 0],
              [9, 9],
            ],
          },
        ],
      },
      /bad\.json: regions\[0\]\.points has 2 points/,
    ],
    ['no region', { regions: [] }, /no region to follow/],
    [
      'a frame that is not there',
      { referenceFrame: 900 },
      /referenceFrame: frame 900 is outside the plate, which has frames 0 to 79/,
    ],
    ['a range backwards', { frames: [9, 3] }, /frames/],
    [
      'a region outside',
      {
        regions: [
          {
            points: [
              [5000, 0],
              [5100, 0],
              [5100, 90],
            ],
          },
        ],
      },
      /outside the picture/,
    ],
  ])('job: %s', async (_, change, words) => refused(words, ...trackWith(change)));

  test('files', async () => {
    const files = await badFiles(folder.path);
    for (const [file, words] of [
      [files.text, /notes\.mp4 is not a picture or film/],
      [files.truncated, /truncated\.mp4 is/],
      [files.empty, /empty\.mp4 is empty/],
      [files.sound, /sound\.mp4 has sound but no picture/],
      [files.tiny, /tiny\.mkv is 1×1/],
      [at('gone.mp4'), /gone\.mp4 does not exist/],
    ] as const) {
      await refused(words, 'track', '--plate', file, '--job', at('job.json'), '--out', at('never.json'));
    }
    await refused(
      /The track is for 640×360, the plate is 48×32/,
      'render',
      '--plate',
      await smallPlate(),
      '--track',
      at('track.json'),
      '--content',
      content,
      '--out',
      at('never.mkv'),
    );
    await refused(
      /no-such\.json does not exist/,
      'export',
      '--track',
      at('no-such.json'),
      '--format',
      'corners-csv',
      '--out',
      at('never.csv'),
    );
  });
  async function smallPlate(): Promise<string> {
    await numberedPictures(at('small'), [1, 2]);
    return at('small');
  }

  test.each<[RegExp, string[]]>([
    [/no command "trak"/, ['trak']],
    [/--plate is missing/, ['track', '--job', 'j', '--out', 'o.json']],
    [/Unknown option '--colour'/, ['track', '--plate', 'p', '--job', 'j', '--out', 'o.json', '--colour', 'red']],
    [/--out is "film\.avi"/, ['render', '--plate', 'p', '--track', 'TRACK', '--content', 'c', '--out', 'film.avi']],
    [/--format is "xml"/, ['export', '--track', 'TRACK', '--format', 'xml', '--out', 'o.xml']],
    [/--rate is "fast"/, ['track', '--plate', 'PLATE', '--job', 'JOB', '--out', 'o.json', '--rate', 'fast']],
    [
      /frame 99 is outside/,
      ['render', '--plate', 'PLATE', '--track', 'TRACK', '--content', 'CONTENT', '--frames', '3-99', '--out', 'o.mkv'],
    ],
    [
      /never\/o\.json cannot be written: its folder does not exist/,
      ['track', '--plate', 'PLATE', '--job', 'JOB', '--out', 'never/o.json'],
    ],
  ])('%s', async (words, args) =>
    refused(
      words,
      ...args.map((a) => ({ TRACK: at('track.json'), JOB: at('job.json'), PLATE: plate, CONTENT: content })[a] ?? a),
    ),
  );

  test('help goes to stdout with code 0; no command is an error', async () => {
    expect(await asProcess('--help')).toMatchObject({
      code: 0,
      stdout: expect.stringMatching(/yarlop track/) as unknown,
    });
    expect((await asProcess()).code).toBe(1);
    expect((await asProcess('trak')).code).toBe(1);
  });
});
