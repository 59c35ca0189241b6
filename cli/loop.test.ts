import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { driftingTake, ffmpeg } from '../server/test/media-files.ts';
import { temporaryFolder } from '../server/test/folders.ts';
import { inProcess } from './test/in-process.ts';

/** A drifting look at a still picture that grows darker. */
const FRAMES = 26;
const FADE = 8;
const WIDTH = 320;
const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
const loop = (...args: string[]) => inProcess(folder.path, ['loop', ...args]);
function write(name: string, value: unknown): string {
  writeFileSync(at(name), JSON.stringify(value));
  return name;
}
const report = (name: string) =>
  JSON.parse(readFileSync(at(name), 'utf8')) as {
    length: number;
    jump: { px: number; levels: number };
    joins: { frame: number }[];
  };
const pixels = (name: string): Promise<Buffer> => sharp(at(name)).removeAlpha().raw().toBuffer();
function apart(a: Buffer, b: Buffer, where: (col: number) => boolean = () => true): number {
  let sum = 0;
  let n = 0;
  a.forEach((v, i) => {
    if (!where(Math.floor(i / 3) % WIDTH)) return;
    sum += Math.abs(v - b[i]!);
    n++;
  });
  return sum / n;
}

beforeAll(async () => {
  await driftingTake(at('take.mkv'), FRAMES, [40, 60], 'fade=t=out:st=0:d=16');
  await driftingTake(at('other.mkv'), FRAMES, [52, 50], 'colorchannelmixer=rr=0.86:gg=0.86:bb=0.86');
}, 60_000);
afterAll(() => folder.remove());

describe('a loop', () => {
  test('is as much shorter as it goes over; untouched before; at the join nothing jumps, in place or in light', async () => {
    expect(
      await loop(
        '--plate',
        'take.mkv',
        '--job',
        write('loop.json', { pixelCentre: 'half', fade: FADE, motion: 'affine' }),
        '--out',
        'loop.%02d.png',
        '--report',
        'loop.report.json',
      ),
    ).toMatchObject({ code: 0 });
    await ffmpeg('-i', at('take.mkv'), '-start_number', '0', at('take.%02d.png'));
    const { length, jump, joins } = report('loop.report.json');
    const name = (i: number) => String(i).padStart(2, '0');
    expect([length, joins.length, joins[0]!.frame]).toEqual([FRAMES - FADE, FADE, FRAMES - FADE]);
    expect(jump.px).toBeLessThan(0.3);
    expect(jump.levels).toBeLessThan(1);
    expect(apart(await pixels('loop.00.png'), await pixels(`take.${name(FADE)}.png`))).toBeLessThan(0.6);
    // From its last frame to its first it changes no more than it does anywhere; simply cut it would.
    const usual = apart(await pixels('loop.05.png'), await pixels('loop.06.png'));
    const end = apart(await pixels(`loop.${name(length - 1)}.png`), await pixels('loop.00.png'));
    const cut = apart(await pixels(`take.${name(FRAMES - 1)}.png`), await pixels('take.00.png'));
    expect(end).toBeLessThan(1.6 * usual);
    expect(cut).toBeGreaterThan(4 * usual);
    // Half way through the fade the two pictures lie on each other: no softer than one of them.
    const middle = await pixels(`loop.${name(length - FADE / 2)}.png`);
    const contrast = (p: Buffer) => {
      let sum = 0;
      for (let i = 3; i < p.length; i++) sum += Math.abs(p[i]! - p[i - 3]!);
      return sum / p.length;
    };
    expect(contrast(middle)).toBeGreaterThan(0.88 * contrast(await pixels('take.13.png')));
  }, 60_000);
  test('shorter than its fade, or with nothing to align by, is refused with what to do', async () => {
    const short = await loop(
      '--plate',
      'take.mkv',
      '--job',
      write('short.json', { pixelCentre: 'half', fade: 13, frames: [0, 25] }),
      '--out',
      'never.mkv',
    );
    expect(short).toMatchObject({ code: 1 });
    expect(short.stderr).toMatch(/26 frames is too short to go over 13.*at least 27 frames/);
    await ffmpeg('-f', 'lavfi', '-i', 'color=gray:s=320x180:r=25:d=1', '-c:v', 'ffv1', at('flat.mkv'));
    expect(
      (
        await loop(
          '--plate',
          'flat.mkv',
          '--job',
          write('flat.json', { pixelCentre: 'half', fade: 4 }),
          '--out',
          'never.mkv',
        )
      ).stderr,
    ).toMatch(/could not be laid on each other.*by hand/);
    expect(
      (
        await loop(
          '--plate',
          'take.mkv',
          '--job',
          write('takes.json', { pixelCentre: 'half', second: { plate: 'other.mkv' } }),
          '--out',
          'never.mkv',
        )
      ).stderr,
    ).toMatch(/split is missing/);
  }, 60_000);
  test('by hand it goes by the places given', async () => {
    const from = [
      [20, 20],
      [300, 20],
      [300, 160],
      [20, 160],
    ];
    const to = from.map(([x, y]) => [x! + 5, y! - 3]);
    expect(
      await loop(
        '--plate',
        'take.mkv',
        '--job',
        write('hand.json', { pixelCentre: 'half', fade: 4, byHand: { from, to }, light: false }),
        '--out',
        'hand.mkv',
        '--report',
        'hand.report.json',
      ),
    ).toMatchObject({ code: 0 });
    const { joins } = JSON.parse(readFileSync(at('hand.report.json'), 'utf8')) as { joins: { map: number[] }[] };
    expect(joins[2]!.map.map((v) => Number(v.toFixed(6)))).toEqual(
      [1, 0, 5, 0, 1, -3, 0, 0, 1].map((v): unknown => expect.closeTo(v, 5)),
    );
  }, 60_000);
});

test('two takes are laid on each other and divided by a soft line: the second to its right, in the first one’s light', async () => {
  const job = {
    pixelCentre: 'half',
    motion: 'affine',
    frames: [4, 9],
    second: { plate: 'other.mkv', offset: 2 },
    split: {
      line: {
        points: [
          [160, 0],
          [160, 180],
        ],
        keys: [
          {
            frame: 9,
            points: [
              [200, 0],
              [200, 180],
            ],
          },
        ],
      },
      soft: 24,
      home: 4,
    },
  };
  expect(
    await loop(
      '--plate',
      'take.mkv',
      '--job',
      write('split.json', job),
      '--out',
      'split.%02d.png',
      '--report',
      'split.report.json',
    ),
  ).toMatchObject({ code: 0 });
  await ffmpeg('-i', at('take.mkv'), '-start_number', '0', at('take.%02d.png'));
  await ffmpeg('-i', at('other.mkv'), '-start_number', '0', at('other.%02d.png'));
  const { jump, joins } = report('split.report.json');
  expect(joins).toHaveLength(6);
  expect(jump.px).toBeLessThan(0.3);
  const joined = await pixels('split.00.png');
  const take = await pixels('take.04.png');
  const other = await pixels('other.06.png');
  // Seen along the line, which goes down, its right is the picture's left.
  expect(apart(joined, take, (col) => col > 180)).toBeLessThan(0.6);
  expect(apart(joined, take, (col) => col > 20 && col < 140)).toBeLessThan(3);
  expect(apart(other, take, (col) => col > 20 && col < 140)).toBeGreaterThan(8);
}, 60_000);
