import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, test } from 'vitest';
import sharp from 'sharp';
import { inProcess } from './test/in-process.ts';
import { homographyBetweenQuads } from '../core/base/geometry/estimate-homography.ts';
import { type Quad } from '../core/base/geometry/quad.ts';
import { checked } from '../core/base/schemas/check.ts';
import type { TrackFile } from '../core/base/schemas/types.ts';
import type { Truth } from '../demo/truth.ts';
import { temporaryFolder } from '../server/test/folders.ts';
import { shortClip } from '../server/test/prepared-shot.ts';

const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
const FIRST = 30;
const COUNT = 14;
const REFERENCE = 5;
let truth: Truth, plate: string;
const corners = (frame: number) => truth.frames[FIRST + frame]!.corners as unknown as Quad;
const off = (file: TrackFile) =>
  file.frames.map(({ frame, corners: found }) =>
    Math.max(
      ...(found?.map(([x, y], i) => Math.hypot(x - corners(frame)[i]![0], y - corners(frame)[i]![1])) ?? [Infinity]),
    ),
  );
/** The same without a process of its own. */
const yarlop = (...args: string[]) => inProcess(folder.path, args);
function write(name: string, value: unknown): string {
  writeFileSync(at(name), JSON.stringify(value));
  return at(name);
}
const read = (name: string): TrackFile => checked('track', JSON.parse(readFileSync(at(name), 'utf8')), name);
const exact = (from: number, to: number, by = 0): TrackFile => ({
  format: 'yarlop-track/1',
  pixelCentre: 'half',
  width: 640,
  height: 360,
  rate: [25, 1],
  referenceFrame: REFERENCE,
  frames: Array.from({ length: to - from + 1 }, (_, i) => ({
    frame: from + i,
    homography: [...homographyBetweenQuads(corners(REFERENCE), corners(from + i))!] as never,
    corners: corners(from + i).map(([x, y]) => [x + by, y]) as never,
    confidence: 0.9,
  })),
});
const splice = (spans: object[], change: object = {}) => ({
  pixelCentre: 'half',
  referenceFrame: REFERENCE,
  width: 640,
  height: 360,
  rate: [25, 1],
  spans,
  ...change,
});

beforeAll(async () => {
  const clip = await shortClip(COUNT, {
    clip: 'bench-tablet',
    filter: `select=gte(n\\,${FIRST}),setpts=N/25/TB`,
  });
  ({ truth } = clip);
  plate = at('plate.mp4');
  mkdirSync(folder.path, { recursive: true });
  writeFileSync(plate, clip.bytes);
});

describe('yarlop splice', () => {
  const key = (frame: number, by = 0) => ({ frame, corners: corners(frame).map(([x, y]) => [x + by, y - by]) });
  test('tracks and keys become one motion; jumps are reported and faded, and every frame names its source', async () => {
    write('a.json', exact(0, 6));
    write('b.json', exact(6, 13, 2));
    const job = write(
      'splice.json',
      splice(
        [
          { from: 0, to: 5, track: 'a.json' },
          { from: 6, to: 8, keys: [key(6), key(8)] },
          { from: 9, to: 13, track: 'b.json' },
        ],
        { fade: 2 },
      ),
    );
    const { code, stderr } = await yarlop('splice', '--job', job, '--out', at('spliced.json'));
    expect([code, stderr]).toEqual([
      0,
      expect.stringMatching(/join at frame 9: a jump of [12]\.\d+ px, faded over frames 8-9/),
    ]);
    const track = read('spliced.json');
    expect(track.frames.map((f) => f.source)).toEqual(
      [
        'a.json',
        'a.json',
        'a.json',
        'a.json',
        'a.json',
        'a.json + keys',
        'a.json',
        'keys',
        'keys',
        'b.json',
        'b.json',
        'b.json',
        'b.json',
        'b.json',
      ].map((s, i) => (i === 6 ? 'keys + a.json' : i === 8 ? 'keys + b.json' : i === 9 ? 'b.json + keys' : s)),
    );
    // Half of the 2 px between keys and second track at frame 8.
    expect(Math.max(...off(track).slice(0, 8))).toBeLessThan(0.8);
    expect(off(track)[12]).toBeCloseTo(2, 3);
    expect(track.frames[7]!.note).toBe('interpolated by pose');
  });
  test('keys a pixel off are pulled onto the picture', async () => {
    write('a.json', exact(0, 4));
    const job = write(
      'pull.json',
      splice(
        [
          { from: 0, to: 4, track: 'a.json' },
          { from: 5, to: 13, keys: [key(5), key(9, 1), key(13, -1)], pull: true },
        ],
        { fade: 0 },
      ),
    );
    const { code, stderr } = await yarlop('splice', '--plate', plate, '--job', job, '--out', at('pulled.json'));
    expect([code, stderr]).toEqual([0, expect.stringContaining('6 of 6 frames between keys pulled onto the picture')]);
    const errors = off(read('pulled.json'));
    for (const frame of [6, 7, 8, 10, 11, 12]) expect(errors[frame]).toBeLessThan(0.3);
    expect(errors[9]).toBeGreaterThan(1);
  });
  test.each([
    ['no spans', () => splice([]), [], 'there are no spans'],
    [
      'a span without a source',
      () => splice([{ from: 0, to: 3 }]),
      [],
      'the span 0-3 has nothing to take its motion from',
    ],
    [
      'spans that overlap',
      () =>
        splice([
          { from: 0, to: 3, keys: [key(0)] },
          { from: 3, to: 5, keys: [key(4)] },
        ]),
      [],
      'the spans 0-3 and 3-5 overlap',
    ],
    [
      'keys turned inside out',
      () =>
        splice([
          {
            from: 0,
            to: 3,
            keys: [{ frame: 1, corners: [corners(1)[0], corners(1)[2], corners(1)[1], corners(1)[3]] }],
          },
        ]),
      [],
      'keyed on frame 1 cross each other',
    ],
    [
      'pulling without a plate',
      () => splice([{ from: 0, to: 5, keys: [key(0), key(5)], pull: true }]),
      [],
      'are to be pulled onto the picture, but no plate is given',
    ],
    ['a track that is not there', () => splice([{ from: 0, to: 3, track: 'nowhere.json' }]), [], 'nowhere.json'],
  ])('%s: a sentence', async (_, job, args, sentence) => {
    const { code, stderr } = await yarlop(
      'splice',
      ...args,
      '--job',
      write('wrong-splice.json', job()),
      '--out',
      at('wrong-splice.track.json'),
    );
    expect([code, stderr]).toEqual([1, expect.stringContaining(sentence)]);
  });
});

describe('yarlop steady', () => {
  test('the steadied clip stands still; a track of it comes back to the plate within a millionth of a pixel', async () => {
    write('exact.json', exact(0, COUNT - 1));
    const { code } = await yarlop(
      'steady',
      '--plate',
      plate,
      '--track',
      at('exact.json'),
      '--out',
      at('steady.%04d.png'),
      '--maps',
      at('maps.json'),
    );
    expect(code).toBe(0);
    const [before, after] = await Promise.all(
      [0, 13].map((f) =>
        sharp(at(`steady.${String(f).padStart(4, '0')}.png`))
          .extract({
            left: Math.round(corners(REFERENCE)[0][0]) + 20,
            top: Math.round(corners(REFERENCE)[0][1]) + 20,
            width: 80,
            height: 60,
          })
          .greyscale()
          .raw()
          .toBuffer(),
      ),
    );
    const difference = before!.reduce((s, v, i) => s + Math.abs(v - after![i]!), 0) / before!.length;
    expect(difference).toBeLessThan(6);
    // The surface stands on the steadied clip where it is on the reference.
    const still: TrackFile = {
      ...exact(0, COUNT - 1),
      frames: Array.from({ length: COUNT }, (_, frame) => ({
        frame,
        homography: [1, 0, 0, 0, 1, 0, 0, 0, 1],
        corners: corners(REFERENCE).map(([x, y]) => [x, y]) as never,
      })),
    };
    expect(
      (
        await yarlop(
          'steady',
          '--back',
          at('maps.json'),
          '--track',
          write('still.json', still),
          '--out',
          at('back.json'),
        )
      ).code,
    ).toBe(0);
    expect(Math.max(...off(read('back.json')))).toBeLessThan(1e-6);
  });
  test.each([
    [['--remove', 'position,wobble'], 'names "wobble", not one of position, rotation, scale, perspective'],
    [['--outside', 'mirror'], 'is "mirror", not one of crop, fill, transparent'],
    [['--outside', 'transparent'], 'can be transparent only in numbered pictures'],
  ])('%s: a sentence', async (args, sentence) => {
    write('exact.json', exact(0, COUNT - 1));
    const { code, stderr } = await yarlop(
      'steady',
      '--plate',
      plate,
      '--track',
      at('exact.json'),
      '--out',
      at('wrong.mkv'),
      ...args,
    );
    expect([code, stderr]).toEqual([1, expect.stringContaining(sentence)]);
  });
});

test('a track job may hold keys: they stand as they were put, and the rest goes on', async () => {
  const keyed = corners(9).map(([x, y]) => [x + 1, y]);
  const job = write('keyed.json', {
    pixelCentre: 'half',
    referenceFrame: REFERENCE,
    motion: 'perspective',
    points: 1500,
    regions: [{ points: truth.region }],
    corners: corners(REFERENCE),
    frames: [5, 12],
    keys: [{ frame: 9, corners: keyed }],
  });
  expect((await yarlop('track', '--plate', plate, '--job', job, '--out', at('keyed.track.json'))).code).toBe(0);
  const track = read('keyed.track.json');
  expect(track.frames.find((f) => f.frame === 9)).toMatchObject({ note: 'keyed by hand', confidence: 1 });
  track.frames
    .find((f) => f.frame === 9)!
    .corners!.flat()
    .forEach((v, k) => expect(v).toBeCloseTo(keyed.flat()[k]!, 3));
  expect(
    off(track)
      .filter((_, i) => track.frames[i]!.frame !== 9)
      .every((e) => e < 0.3),
  ).toBe(true);
});
