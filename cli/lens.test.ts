import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { distance } from '../core/base/geometry/quad.ts';
import { checked } from '../core/base/schemas/check.ts';
import type { Truth } from '../demo/truth.ts';
import { temporaryFolder } from '../server/test/folders.ts';
import { shortClip } from '../server/test/prepared-shot.ts';
import { inProcess } from './test/in-process.ts';

/** Every fourth frame of the wide tablet, half as large, whose lens the generator knows: 3 % barrel at the corners, 260 px. */
const FRAMES = 14;
const EVERY = 4;
const FOURTH = `select=not(mod(n\\,${EVERY})),setpts=N/25/TB`;
/** Frames that suffice for seating, as large as they were filmed: what half of them bend within the surface is hardly more than a border tells. */
const SEATED = 6;
const LENS = { k1: -0.03 / ((240 / 260) ** 2 + (135 / 260) ** 2), k2: 0, k3: 0, centre: [240, 135], focal: 260 };
const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
const yarlop = (...args: string[]) => inProcess(folder.path, args);
let truth: Truth, job: Record<string, unknown>;
function write(name: string, value: unknown): string {
  writeFileSync(at(name), JSON.stringify(value));
  return name;
}
const read = (name: string): unknown => JSON.parse(readFileSync(at(name), 'utf8'));
/** The mean distance of corners from the truth over the last frames, where the tablet is farthest from where it began. */
function off(name: string): number {
  const { frames } = checked('track', read(`${name}.json`), name);
  const away = frames
    .filter((f) => f.frame >= FRAMES - 5)
    .flatMap((f) => f.corners!.map((p, i) => distance(p, truth.frames[EVERY * f.frame]!.corners[i]!)));
  return away.reduce((a, b) => a + b, 0) / away.length;
}

beforeAll(async () => {
  const clip = await shortClip(FRAMES, {
    filter: FOURTH,
    clip: 'wide-tablet',
  });
  ({ truth } = clip);
  writeFileSync(at('wide.mp4'), clip.bytes);
  job = {
    pixelCentre: 'half',
    referenceFrame: 0,
    motion: 'perspective',
    regions: [{ points: truth.region }],
    corners: truth.frames[0]!.corners,
  };
}, 60_000);
afterAll(() => folder.remove());

test('with its lens a plate is followed closer, in either pixel convention, and the track keeps the lens', async () => {
  const less = (p: readonly number[]) => [p[0]! - 0.5, p[1]! - 0.5];
  const integer = {
    ...job,
    pixelCentre: 'integer',
    regions: [{ points: truth.region.map(less) }],
    corners: truth.frames[0]!.corners.map(less),
    lens: { ...LENS, centre: less(LENS.centre) },
    // Only what is compared below.
    frames: [0, 6],
  };
  for (const [name, given] of [
    ['without', { ...job, points: 1500 }],
    ['with', { ...job, lens: LENS }],
    ['integer', integer],
  ] as const)
    expect(
      await yarlop('track', '--plate', 'wide.mp4', '--job', write(`${name}.job.json`, given), '--out', `${name}.json`),
    ).toMatchObject({ code: 0 });
  expect(off('with')).toBeLessThan(0.12);
  expect(off('without')).toBeGreaterThan(2 * off('with'));
  const kept = checked('track', read('with.json'), 'the track');
  const other = checked('track', read('integer.json'), 'the track');
  expect(kept.lens).toEqual({ ...LENS, k1: Number(LENS.k1.toFixed(9)) });
  expect(other.lens!.centre).toEqual([239.5, 134.5]);
  expect(distance(other.frames[6]!.corners![2], less(kept.frames[6]!.corners![2]) as [number, number])).toBeLessThan(
    0.02,
  );
  // Without a lens nothing is said of it.
  expect(read('without.json')).not.toHaveProperty('lens');
}, 120_000);

test('the lens is estimated from what stands still around, and content is bent by it', async () => {
  const done = await yarlop(
    'track',
    '--plate',
    'wide.mp4',
    '--job',
    write('estimate.job.json', { ...job, points: 1500, lens: 'estimate' }),
    '--out',
    'estimate.json',
  );
  expect(done).toMatchObject({ code: 0 });
  expect(done.stderr).toMatch(/lens: k1 -0\.0\d+/);
  const { lens } = checked('track', read('estimate.json'), 'the track');
  const corner = (l: typeof LENS) => {
    const r2 = (240 / l.focal) ** 2 + (135 / l.focal) ** 2;
    return l.k1 * r2 + l.k2 * r2 * r2;
  };
  // Three per cent at the corners, to a tenth of a per cent: half a pixel.
  expect(Math.abs(corner(lens as typeof LENS) - corner(LENS))).toBeLessThan(0.001);
  const render = (look: object, out: string) =>
    yarlop(
      'render',
      '--plate',
      'wide.mp4',
      '--track',
      'with.json',
      '--content',
      'content.png',
      '--look',
      write('look.json', look),
      '--frames',
      '13-13',
      '--matte',
      `${out}.%02d.png`,
      '--out',
      `${out}-full.%02d.png`,
    );
  writeFileSync(at('content.png'), readFileSync(join(import.meta.dirname, '../demo/content/orders.png')));
  for (const [look, out] of [
    [{}, 'bent'],
    [{ lens: { ...LENS, k1: 0 } }, 'flat'],
    [{ lens: LENS }, 'told'],
  ] as const)
    expect(await render(look, out)).toMatchObject({ code: 0 });
  const bytes = (out: string) => readFileSync(at(`${out}.13.png`));
  expect(bytes('told').equals(bytes('bent'))).toBe(true);
  expect(bytes('flat').equals(bytes('bent'))).toBe(false);
}, 120_000);

test('a lens that folds the picture over is refused with what to look at', async () => {
  const refused = await yarlop(
    'track',
    '--plate',
    'wide.mp4',
    '--job',
    write('bad.job.json', { ...job, lens: { ...LENS, k1: -0.9 } }),
    '--out',
    'never.json',
  );
  expect(refused.code).not.toBe(0);
  expect(refused.stderr).toMatch(/lens bends so far that the picture folds over before its corners/);
}, 60_000);

test('corners are seated through the lens, where borders are straight; what a splice joins keeps the lens, and different ones are refused', async () => {
  const { bytes, truth } = await shortClip(SEATED, { filter: FOURTH, clip: 'wide-tablet', size: 'full' });
  writeFileSync(at('whole.mp4'), bytes);
  const lens = { ...LENS, centre: [480, 270], focal: 520 };
  const off = (name: string) => {
    const away = checked('track', read(name), name).frames.flatMap((f) =>
      f.corners!.map((p, i) => distance(p, truth.frames[EVERY * f.frame]!.corners[i]!)),
    );
    return away.reduce((a, b) => a + b, 0) / away.length;
  };
  const placed = truth.frames[0]!.corners.map(([x, y], i) => [
    x + 1.2 * Math.sin(3 * i + 1),
    y + 1.2 * Math.cos(2 * i),
  ]);
  expect(
    await yarlop(
      'track',
      '--plate',
      'whole.mp4',
      '--job',
      write('placed.job.json', { ...job, regions: [{ points: truth.region }], corners: placed, lens }),
      '--out',
      'placed.json',
    ),
  ).toMatchObject({ code: 0 });
  const { lens: _lens, ...plain } = checked('track', read('placed.json'), 'the track');
  write('plain.json', plain);
  for (const name of ['placed', 'plain'])
    expect(
      await yarlop(
        'seat',
        '--plate',
        'whole.mp4',
        '--track',
        `${name}.json`,
        '--snap',
        'inner',
        '--lock',
        '--out',
        `${name}.seated.json`,
      ),
    ).toMatchObject({ code: 0 });
  expect(off('placed.seated.json')).toBeLessThan(0.15);
  expect(off('plain.seated.json')).toBeGreaterThan(2 * off('placed.seated.json'));

  const spans = (second: string) => ({
    pixelCentre: 'half',
    width: 960,
    height: 540,
    rate: [25, 1],
    referenceFrame: 0,
    spans: [
      { from: 0, to: 2, track: 'placed.seated.json' },
      { from: 3, to: SEATED - 1, track: second },
    ],
  });
  expect(
    await yarlop('splice', '--job', write('same.json', spans('placed.json')), '--out', 'spliced.json'),
  ).toMatchObject({ code: 0 });
  expect(checked('track', read('spliced.json'), 'the track').lens).toEqual(
    checked('track', read('placed.json'), 'the track').lens,
  );
  write('other.json', { ...checked('track', read('placed.json'), 'the track'), lens: { ...lens, k1: -0.01 } });
  expect(
    await yarlop('splice', '--job', write('different.json', spans('other.json')), '--out', 'never.json'),
  ).toMatchObject({ code: 1, stderr: expect.stringContaining('tracks of different lenses') as unknown });
}, 180_000);
