import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { homographyBetweenQuads } from '../core/base/geometry/estimate-homography.ts';
import { applyToPoints } from '../core/base/geometry/homography.ts';
import type { Quad } from '../core/base/geometry/quad.ts';
import { checked } from '../core/base/schemas/check.ts';
import type { TrackFile } from '../core/base/schemas/types.ts';
import { roughly } from '../bench/seat/drawn-surface.ts';
import type { Truth } from '../demo/truth.ts';
import { inProcess } from './test/in-process.ts';
import { runTool } from '../server/media/run-tool.ts';
import { clipPath, temporaryFolder } from '../server/test/folders.ts';
import { truthOfClip } from '../server/test/prepared-shot.ts';

const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
/** A part of the tablet's clip, in which the camera goes round it. */
const FIRST = 24;
const COUNT = 16;
const REFERENCE = 8;
let truth: Truth, plate: string;
const corners = (frame: number) => truth.frames[FIRST + frame]!.corners as unknown as Quad;

interface Report {
  sides: { side: string; found: boolean; bound?: number }[];
  frames: { frame: number; bound: number[]; drift: number; after: number }[];
  corrections: { frame: number; corner: number; dx: number; dy: number; ease?: string }[];
  advice: { kind: string; text: string; frames?: [number, number] }[];
}

const seat = (...args: string[]) => inProcess(folder.path, ['seat', '--plate', plate, ...args]);
function write(name: string, value: unknown): string {
  writeFileSync(at(name), JSON.stringify(value));
  return at(name);
}
const read = <T>(name: string) => JSON.parse(readFileSync(at(name), 'utf8')) as T;
/** An exact track but for what is planted, px of the reference. */
function track(
  plant: (frame: number, corner: number) => readonly [number, number] = () => [0, 0],
  change: Partial<TrackFile> = {},
): TrackFile {
  const base = corners(REFERENCE);
  return {
    format: 'yarlop-track/1',
    pixelCentre: 'half',
    width: 1280,
    height: 720,
    rate: [25, 1],
    referenceFrame: REFERENCE,
    frames: Array.from({ length: COUNT }, (_, frame) => {
      const moved = base.map(([x, y], c) => {
        const [dx, dy] = plant(frame, c);
        return [x + dx, y + dy];
      }) as unknown as Quad;
      const there = applyToPoints(homographyBetweenQuads(base, corners(frame))!, moved) as unknown as Quad;
      return {
        frame,
        homography: [...homographyBetweenQuads(base, there)!] as never,
        corners: there.map(([x, y]) => [x, y]) as never,
      };
    }),
    ...change,
  };
}
const worst = (file: TrackFile) =>
  Math.max(
    ...file.frames.flatMap(({ frame, corners: seated }) =>
      (seated ?? []).map(([x, y], i) => Math.hypot(x - corners(frame)[i]![0], y - corners(frame)[i]![1])),
    ),
  );

beforeAll(async () => {
  truth = await truthOfClip('bench-tablet');
  plate = at('plate.mkv');
  const made = await runTool(
    'ffmpeg',
    [
      '-v',
      'error',
      '-i',
      clipPath('bench-tablet.mp4'),
      '-vf',
      `select=gte(n\\,${FIRST}),setpts=N/25/TB`,
      '-r',
      '25',
      '-frames:v',
      String(COUNT),
      '-c:v',
      'ffv1',
      plate,
    ],
    60_000,
  );
  if (made.exitCode !== 0) throw new Error(made.stderr);
});
afterAll(() => folder.remove());

test('a planted drift is found, and few keys bring it within the tolerance; the track keeps what was changed and why', async () => {
  const drifting = track((f, c) => [0.16 * (f - REFERENCE), c === 3 ? 0.12 * (f - REFERENCE) : 0]);
  expect(worst(drifting)).toBeGreaterThan(1.5);
  expect(
    await seat(
      '--track',
      write('drift.json', drifting),
      '--out',
      at('drift.seated.json'),
      '--tolerance',
      '0.25',
      '--report',
      at('drift.report.json'),
    ),
  ).toMatchObject({ code: 0 });
  const seated = checked('track', read<unknown>('drift.seated.json'), 'seated');
  const report = read<Report>('drift.report.json');
  expect(worst(seated)).toBeLessThan(0.35);
  expect(seated.frames.map((f) => f.homography)).toEqual(drifting.frames.map((f) => f.homography));
  expect(seated.seat!.corrections).toEqual(report.corrections);
  expect(new Set(report.corrections.map((c) => c.frame)).size).toBeLessThanOrEqual(3);
  expect(seated.seat!.why!.join(' ')).toMatch(/keys bring the borders within 0.25 px/);
  expect(report.frames).toHaveLength(COUNT);
  for (const { frame, drift, bound, after } of report.frames) {
    const planted = Math.max(
      ...corners(frame).map(([x, y], i) =>
        Math.hypot(drifting.frames[frame]!.corners![i]![0] - x, drifting.frames[frame]!.corners![i]![1] - y),
      ),
    );
    expect(Math.abs(drift - planted)).toBeLessThan(0.2);
    expect(bound).toHaveLength(4);
    expect(after).toBeLessThan(0.3);
  }
});

test('a jump of one frame is named, and only that one', async () => {
  expect(
    (
      await seat(
        '--track',
        write(
          'pop.json',
          track((f) => (f === 12 ? [0.8, 0.6] : [0, 0])),
        ),
        '--out',
        at('pop.seated.json'),
        '--tolerance',
        '0.25',
        '--report',
        at('pop.report.json'),
      )
    ).code,
  ).toBe(0);
  const { advice, corrections } = read<Report>('pop.report.json');
  expect(advice.filter((a) => a.kind === 'pop').map((a) => a.frames)).toEqual([[12, 12]]);
  expect([...new Set(corrections.map((c) => c.frame))]).toEqual([12]);
  expect(worst(read<TrackFile>('pop.seated.json'))).toBeLessThan(0.25);
});

test('rough corners are snapped by all frames, and locked; centres at integers are kept', async () => {
  const rough = roughly(corners(REFERENCE), 9);
  const good = track();
  const less = (q: Quad) => q.map(([x, y]) => [x - 0.5, y - 0.5]);
  // The reference's corners are off: those of all frames are, by the same.
  const file = {
    ...good,
    pixelCentre: 'integer' as const,
    frames: good.frames.map((f) => ({
      ...f,
      homography: undefined,
      corners: less(
        applyToPoints(homographyBetweenQuads(corners(REFERENCE), corners(f.frame))!, rough) as unknown as Quad,
      ),
    })),
  };
  expect(
    await seat(
      '--track',
      write('rough.json', file),
      '--out',
      at('rough.seated.json'),
      '--snap',
      'inner',
      '--lock',
      '--smooth',
      '0.2',
      '--report',
      at('rough.report.json'),
    ),
  ).toMatchObject({ code: 0 });
  const seated = read<TrackFile>('rough.seated.json');
  const report = read<Report>('rough.report.json');
  expect(seated).toMatchObject({ pixelCentre: 'integer', seat: { snapped: 'inner', locked: true, smooth: 0.2 } });
  const ours = {
    ...seated,
    frames: seated.frames.map((f) => ({ ...f, corners: f.corners!.map(([x, y]) => [x + 0.5, y + 0.5]) as never })),
  };
  expect(worst(ours)).toBeLessThan(0.3);
  expect(report.sides.map((s) => [s.side, s.found])).toEqual([
    ['top', true],
    ['right', true],
    ['bottom', true],
    ['left', true],
  ]);
  ours.frames.forEach((f, i) =>
    (f.corners as unknown as Quad).forEach(([x, y], c) =>
      expect(Math.hypot(x - corners(i)[c]![0], y - corners(i)[c]![1])).toBeLessThan(report.frames[i]!.bound[c]! + 0.1),
    ),
  );
});

describe('what cannot be done is said in a sentence, and nothing is written', () => {
  test.each<[string, () => string[], RegExp]>([
    [
      'a track of another plate',
      () => ['--track', write('other.json', track(undefined, { width: 640, height: 360 }))],
      /track is for 640×360, the plate is 1280×720/,
    ],
    [
      'corners that cross',
      () => [
        '--track',
        write('crossed.json', {
          ...track(),
          frames: track().frames.map((f) => ({
            ...f,
            corners: [f.corners![0], f.corners![2], f.corners![1], f.corners![3]],
          })),
        }),
      ],
      /corners cross each other/,
    ],
    [
      'a surface of a few pixels',
      () => [
        '--track',
        write('tiny.json', {
          ...track(),
          frames: track().frames.map((f) => ({
            ...f,
            corners: [
              [100, 100],
              [105, 100],
              [105, 104],
              [100, 104],
            ],
          })),
        }),
      ],
      /span only 4\.0 px/,
    ],
    [
      'no frame held',
      () => ['--track', write('lost.json', { ...track(), frames: [{ frame: 0, lost: 'gone' }] })],
      /no frame of the track is held/,
    ],
    [
      'a frame outside the plate',
      () => [
        '--track',
        write('long.json', { ...track(), frames: [...track().frames, { ...track().frames[0]!, frame: 999 }] }),
      ],
      /frame 999 is outside the plate/,
    ],
    [
      'a border of another name',
      () => ['--track', write('fine.json', track()), '--snap', 'middle'],
      /--snap is "middle", not one of inner, outer, off/,
    ],
    [
      'a tolerance that is no number',
      () => ['--track', write('fine.json', track()), '--tolerance', 'little'],
      /--tolerance is "little"/,
    ],
  ])('%s', async (_, args, says) => {
    const { code, stderr } = await seat(...args(), '--out', at('never.json'));
    expect(code).toBe(1);
    expect(stderr).toMatch(says);
    expect(() => read('never.json')).toThrow();
  });
});
