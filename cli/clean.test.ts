import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { homographyBetweenQuads } from '../core/base/geometry/estimate-homography.ts';
import { applyToPoint } from '../core/base/geometry/homography.ts';
import { UNIT_SQUARE } from '../core/base/geometry/quad.ts';
import { leftInMarks, MARKED_QUAD, MARKED_SIZE, markedScreen } from '../core/test/marked-screen.ts';
import type { Look } from '../core/base/schemas/types.ts';
import type { Truth } from '../demo/truth.ts';
import { ffmpeg, filmOf } from '../server/test/media-files.ts';
import { temporaryFolder } from '../server/test/folders.ts';
import { shortClip } from '../server/test/prepared-shot.ts';
import { inProcess } from './test/in-process.ts';

/** Some frames of the green phone in a glove, with their exact corners as the track; a mark that a finger crosses, and what is beside it. */
const FRAMES = 8;
const EVERY = 7;
const MARK = [0.2528, 0.1253] as const;
const BESIDE = [0.2528, 0.19] as const;
const KEY = { colour: [0.03253, 0.4921, 0.07152] as [number, number, number], floor: 0.016, ceiling: 0.79 };
const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
let truth: Truth;
function write(name: string, value: unknown): string {
  writeFileSync(at(name), JSON.stringify(value));
  return name;
}
const render = (look: Look, out: string) =>
  inProcess(folder.path, [
    'render',
    '--plate',
    'phone.mp4',
    '--track',
    'track.json',
    '--content',
    'content.png',
    '--look',
    write('look.json', look),
    '--frames',
    '0-0',
    '--out',
    `${out}.%02d.png`,
  ]);
const box = (r: number, s: number): [number, number][] => [
  [MARK[0] - r, MARK[1] - s],
  [MARK[0] + r, MARK[1] - s],
  [MARK[0] + r, MARK[1] + s],
  [MARK[0] - r, MARK[1] + s],
];
async function pictureOf(name: string) {
  const { data, info } = await sharp(at(name)).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return (u: number, v: number) => {
    const [x, y] = applyToPoint(homographyBetweenQuads(UNIT_SQUARE, truth.frames[0]!.corners)!, [u, v]);
    const i = 3 * (Math.floor(y) * info.width + Math.floor(x));
    return [...data.subarray(i, i + 3)];
  };
}
const off = (a: number[], b: number[]) => Math.max(...a.map((v, c) => Math.abs(v - b[c]!)));

beforeAll(async () => {
  const clip = await shortClip(FRAMES, {
    filter: `select=not(mod(n\\,${EVERY})),setpts=N/25/TB`,
    clip: 'held-phone',
  });
  ({ truth } = clip);
  writeFileSync(at('phone.mp4'), clip.bytes);
  writeFileSync(at('content.png'), readFileSync(join(import.meta.dirname, '../demo/content/potting-round.png')));
  const home = truth.frames[0]!.corners;
  write('track.json', {
    format: 'yarlop-track/1',
    pixelCentre: 'half',
    width: truth.width,
    height: truth.height,
    rate: [25, 1],
    referenceFrame: 0,
    frames: Array.from({ length: FRAMES }, (_, frame) => {
      const corners = truth.frames[EVERY * frame]!.corners;
      return { frame, homography: [...homographyBetweenQuads(home, corners)!], corners, error: 0, confidence: 1 };
    }),
  });
  await ffmpeg('-i', at('phone.mp4'), '-start_number', '0', at('plate.%02d.png'));
}, 60_000);
afterAll(() => folder.remove());

test('a mark is painted out by one fix, its surroundings stay; found by themselves all are', async () => {
  const plate = await pictureOf('plate.00.png');
  expect(off(plate(...MARK), plate(...BESIDE))).toBeGreaterThan(60);
  expect(
    await render({ opacity: 0, clean: { fixes: [{ outline: box(0.035, 0.02), method: 'smooth' }] } }, 'one'),
  ).toMatchObject({ code: 0 });
  const one = await pictureOf('one.00.png');
  expect(off(one(...MARK), one(...BESIDE))).toBeLessThan(25);
  expect(off(one(0.6, 0.5), plate(0.6, 0.5))).toBeLessThan(3);
  const found = await render({ opacity: 0, keys: [KEY], clean: { fixes: 'find' } }, 'found');
  expect(found).toMatchObject({ code: 0 });
  const count = Number(/marks found on the surface: (\d+)/.exec(found.stderr)?.[1]);
  expect(count).toBeGreaterThanOrEqual(5);
  expect(count).toBeLessThanOrEqual(12);
  const all = await pictureOf('found.00.png');
  expect(off(all(...MARK), all(...BESIDE))).toBeLessThan(25);
}, 120_000);

test('a fix that cannot be is refused with where and why', async () => {
  expect(
    (
      await render(
        {
          clean: {
            fixes: [
              {
                outline: [
                  [0, 0],
                  [1, 1],
                ],
                method: 'smooth',
              },
            ],
          },
        },
        'never',
      )
    ).stderr,
  ).toMatch(/clean\/fixes\/0\/outline has 2 points/);
  expect((await render({ clean: { fixes: [{ outline: box(0.1, 0.1), method: 'patch' }] } }, 'never')).stderr).toMatch(
    /clean\/fixes\/0\/from is missing/,
  );
}, 60_000);

test('marks under glass go, what is mirrored over them stays', async () => {
  const { width, height } = MARKED_SIZE;
  const frames = 7;
  const mirrored = (k: number) => (u: number) => (u < 0.13 * k ? 0.06 : 0);
  const films = [true, false].map((marked) =>
    Array.from({ length: frames }, (_, k) => markedScreen({ marked, mirrored: mirrored(k) })),
  );
  await filmOf(films[0]!, at('marked.mkv'));
  write('still.json', {
    format: 'yarlop-track/1',
    pixelCentre: 'half',
    width,
    height,
    rate: [25, 1],
    referenceFrame: 0,
    frames: films[0]!.map((_, frame) => ({
      frame,
      homography: [1, 0, 0, 0, 1, 0, 0, 0, 1],
      corners: MARKED_QUAD,
      error: 0,
      confidence: 1,
    })),
  });
  const { code, stderr } = await inProcess(folder.path, [
    'render',
    '--plate',
    'marked.mkv',
    '--track',
    'still.json',
    '--content',
    'content.png',
    '--look',
    write('glass.json', { opacity: 0, clean: { fixes: 'find' } }),
    '--frames',
    '2-6',
    '--out',
    'glass.%02d.png',
  ]);
  expect(code, stderr).toBe(0);
  expect(stderr).toMatch(/marks found on the surface: 4/);
  for (const k of [2, 6]) {
    const { data } = await sharp(at(`glass.0${k}.png`))
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(leftInMarks({ data }, films[1]![k]!), `${k}`).toBeLessThan(1.5);
  }
}, 60_000);
