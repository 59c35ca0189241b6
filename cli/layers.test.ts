import { execa } from 'execa';
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { homographyBetweenQuads } from '../core/base/geometry/estimate-homography.ts';
import { writeTrack } from '../core/handoff/exchange/track-file.ts';
import type { Quad } from '../core/base/geometry/quad.ts';
import { codeToLight } from '../core/base/image/transfer.ts';
import { readExrFile } from '../server/media/exr-file.ts';
import { ffmpeg } from '../server/test/media-files.ts';
import { inProcess } from './test/in-process.ts';
import { temporaryFolder } from '../server/test/folders.ts';

const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
const FRAMES = 6;
const QUADS: Quad[] = Array.from({ length: FRAMES }, (_, f) => [
  [60.3 + 6 * f, 40],
  [250 + 5 * f, 52 + f],
  [240 + 5 * f, 170.7 - f],
  [52 + 6 * f, 160],
]);

const yarlop = (...args: string[]) => inProcess(folder.path, args);
const render = (...args: string[]) =>
  yarlop(
    'render',
    '--plate',
    'plate.mkv',
    '--track',
    'track.json',
    '--content',
    'content.png',
    '--look',
    'look.json',
    ...args,
  );
const pictures = (name: string) =>
  readdirSync(at(name))
    .sort()
    .map((file) => [file, readFileSync(at(join(name, file))).toString('base64')]);

beforeAll(async () => {
  await ffmpeg(
    '-f',
    'lavfi',
    '-i',
    `testsrc2=size=320x200:rate=24:duration=${FRAMES / 24}`,
    '-c:v',
    'ffv1',
    '-pix_fmt',
    'bgr0',
    at('plate.mkv'),
  );
  await ffmpeg('-f', 'lavfi', '-i', 'testsrc=size=200x120', '-frames:v', '1', at('content.png'));
  const track = writeTrack(
    { pixelCentre: 'half', width: 320, height: 200, rate: [24, 1], referenceFrame: 1, corners: QUADS[1]! },
    QUADS.map((quad, frame) => ({
      frame,
      homography: homographyBetweenQuads(QUADS[1]!, quad),
      error: 0,
      confidence: 1,
    })),
  );
  writeFileSync(at('track.json'), JSON.stringify(track));
  writeFileSync(
    at('look.json'),
    JSON.stringify({
      levels: { black: 0.05, white: 0.9 },
      soften: 0.8,
      motionBlur: { shutter: 180 },
      grain: { levels: [{ level: 0.5, sigma: [0.01, 0.01, 0.01] }] },
    }),
  );
  for (const name of ['whole', 'parts', 'again', 'mattes', 'inserts']) mkdirSync(at(name));
});
afterAll(() => folder.remove());

test('a chunk done twice gives the same bytes, and chunks give what one run gives', async () => {
  expect(await render('--out', 'whole/p.%04d.png')).toMatchObject({ code: 0 });
  for (const span of ['0-1', '2-4', '5-5', '2-4'])
    expect(await render('--frames', span, '--out', 'parts/p.%04d.png')).toMatchObject({ code: 0 });
  expect(pictures('parts')).toEqual(pictures('whole'));
}, 120_000);

test('mattes, inserts and what changed go beside, in their own formats; the insert over the plate is the picture', async () => {
  expect(
    await render(
      '--frames',
      '3-3',
      '--out',
      'full.%d.png',
      '--matte',
      'mattes/m.%04d.png',
      '--insert',
      'inserts/i.%04d.exr',
      '--difference',
      'd.%d.tif',
    ),
  ).toMatchObject({ code: 0 });
  const matte = await sharp(at('mattes/m.0003.png')).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
  const full = await sharp(at('full.3.png')).raw().toBuffer();
  const insert = readExrFile(at('inserts/i.0003.exr'));
  expect([(await sharp(at('mattes/m.0003.png')).metadata()).channels, matte.info.channels]).toEqual([1, 1]);
  await ffmpeg('-i', at('plate.mkv'), '-vf', 'select=eq(n\\,3)', '-frames:v', '1', at('plate3.png'));
  const plate = await sharp(at('plate3.png')).removeAlpha().raw().toBuffer();
  let covered = 0;
  let sum = 0;
  let alphaOff = 0;
  let worst = 0;
  for (let i = 0; i < 320 * 200; i++) {
    const alpha = insert.channels.get('A')![i]!;
    alphaOff = Math.max(alphaOff, Math.abs(matte.data[i]! / 255 - alpha));
    if (alpha === 0) continue;
    covered++;
    ['R', 'G', 'B'].forEach((name, c) => {
      const off = Math.abs(
        insert.channels.get(name)![i]! +
          (1 - alpha) * codeToLight(plate[3 * i + c]! / 255) -
          codeToLight(full[3 * i + c]! / 255),
      );
      worst = Math.max(worst, off);
      sum += off;
    });
  }
  expect(covered).toBeGreaterThan(15_000);
  expect(alphaOff).toBeLessThan(0.003);
  expect(worst).toBeLessThan(0.002);
  expect(sum / (3 * covered)).toBeLessThan(3e-4);
}, 60_000);

test('codecs by ending or by name; what is wrong is named before anything is rendered', async () => {
  expect(await render('--codec', 'hevc', '--quality', 'best', '--out', 'film.mov')).toMatchObject({ code: 0 });
  expect(await render('--out', 'film.webm')).toMatchObject({ code: 0 });
  for (const [file, codec] of [
    ['film.mov', 'hevc'],
    ['film.webm', 'vp9'],
  ] as const) {
    const { stdout } = await execa('ffprobe', [
      '-v',
      'error',
      '-select_streams',
      'v',
      '-count_frames',
      '-show_entries',
      'stream=codec_name,nb_read_frames',
      '-of',
      'csv=p=0',
      at(file),
    ]);
    expect(stdout.trim()).toBe(`${codec},${FRAMES}`);
  }
  expect((await render('--codec', 'wax', '--out', 'x.mp4')).stderr).toMatch(
    /--codec is "wax"; it must be one of h264, hevc/,
  );
  expect((await render('--out', 'x.mp4', '--insert', 'x.gif')).stderr).toMatch(/--insert is "x\.gif"; it must end in/);
  expect((await render('--out', 'x.mp4', '--matte', 'x.mp4')).stderr).toMatch(
    /--matte is the same file as another output/,
  );
}, 60_000);
