import { execa } from 'execa';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, test } from 'vitest';
import { inProcess } from './test/in-process.ts';
import { CORNER_NAMES, type Quad } from '../core/base/geometry/quad.ts';
import { checked } from '../core/base/schemas/check.ts';
import type { TrackFile } from '../core/base/schemas/types.ts';
import type { Truth } from '../demo/truth.ts';
import { runTool } from '../server/media/run-tool.ts';
import { clipPath, ROOT, temporaryFolder } from '../server/test/folders.ts';
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

/** The command as a person starts it. */
async function asProcess(...args: string[]): Promise<{ code: number; stderr: string }> {
  const result = await execa(join(ROOT, 'bin/yarlop'), args, { reject: false, cwd: folder.path });
  return { code: result.exitCode ?? -1, stderr: result.stderr };
}
/** The same without a process of its own. */
const yarlop = (...args: string[]) => inProcess(folder.path, args);
function write(name: string, value: unknown): string {
  writeFileSync(at(name), JSON.stringify(value));
  return at(name);
}
const read = (name: string): TrackFile => checked('track', JSON.parse(readFileSync(at(name), 'utf8')), name);
const points = (change: object = {}) => ({
  pixelCentre: 'half',
  referenceFrame: REFERENCE,
  points: CORNER_NAMES.map((name, i) => ({ name, at: corners(REFERENCE)[i], pattern: [31, 31], search: [81, 81] })),
  ...change,
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

describe('yarlop points', () => {
  test('four corner points become a track, the corners those points, in either pixel convention', async () => {
    expect(
      (
        await asProcess(
          'points',
          '--plate',
          plate,
          '--job',
          write('points.json', points()),
          '--out',
          at('points.track.json'),
        )
      ).code,
    ).toBe(0);
    const track = read('points.track.json');
    expect(track.frames).toHaveLength(COUNT);
    expect(Math.max(...off(track))).toBeLessThan(0.6);
    expect(off(track).reduce((a, b) => a + b, 0) / COUNT).toBeLessThan(0.25);
    expect(track.frames[9]).toMatchObject({
      source: 'points',
      bound: [expect.any(Number), expect.any(Number), expect.any(Number), expect.any(Number)],
    });
    const shifted = points({ pixelCentre: 'integer' });
    for (const p of shifted.points) p.at = p.at!.map((v) => v - 0.5) as never;
    expect(
      (
        await yarlop(
          'points',
          '--plate',
          plate,
          '--job',
          write('shifted.json', { ...shifted, frames: [5, 7] }),
          '--out',
          at('shifted.track.json'),
        )
      ).code,
    ).toBe(0);
    expect(read('shifted.track.json').frames.map((f) => f.frame)).toEqual([5, 6, 7]);
    read('shifted.track.json')
      .frames[2]!.corners!.flat()
      .forEach((v, k) => expect(v).toBeCloseTo(track.frames[7]!.corners!.flat()[k]! - 0.5, 1));
  });
  test.each([
    ['no points', () => points({ points: [] }), 'there are no points'],
    [
      'not the four corners',
      () => points({ points: points().points.slice(0, 3) }),
      'the four corners are not among the points',
    ],
    [
      'a point outside',
      () => points({ points: points().points.map((p, i) => (i === 0 ? { ...p, at: [4, 4] } : p)) }),
      'the pattern of top-left reaches outside the picture on frame 5',
    ],
    [
      'two on one spot',
      () => points({ points: points().points.map((p, i) => (i === 1 ? { ...p, at: points().points[0]!.at } : p)) }),
      'top-right and top-left lie on one spot',
    ],
    ['a reference that is not there', () => points({ referenceFrame: 99 }), 'frame 99 is outside the plate'],
    ['an unknown field', () => points({ speed: 3 }), 'speed is not known here'],
  ])('%s: a sentence, and nothing written', async (_, job, sentence) => {
    const { code, stderr } = await yarlop(
      'points',
      '--plate',
      plate,
      '--job',
      write('wrong.json', job()),
      '--out',
      at('wrong.track.json'),
    );
    expect([code, stderr]).toEqual([1, expect.stringContaining(sentence)]);
    expect(() => read('wrong.track.json')).toThrow();
  });
});

test('across a cut neither points are followed nor keys pulled: a sentence, and nothing written', async () => {
  const made = await runTool(
    'ffmpeg',
    [
      '-v',
      'error',
      '-i',
      plate,
      '-i',
      clipPath('orders-laptop.mp4'),
      '-filter_complex',
      '[0]trim=end_frame=8,setpts=N/25/TB,format=yuv420p[a];[1]trim=end_frame=6,setpts=N/25/TB,scale=iw/2:ih/2[b];[a][b]concat[v]',
      '-map',
      '[v]',
      '-r',
      '25',
      '-c:v',
      'ffv1',
      at('cut.mkv'),
    ],
    60_000,
  );
  expect(made.exitCode).toBe(0);
  const job = write('cut.json', points({ frames: [5, 9] }));
  const keys = write(
    'cut-keys.json',
    splice([{ from: 5, to: 10, keys: [5, 10].map((frame) => ({ frame, corners: corners(frame) })), pull: true }]),
  );
  for (const args of [
    ['points', '--job', job],
    ['splice', '--job', keys],
  ]) {
    const { code, stderr } = await yarlop(...args, '--plate', at('cut.mkv'), '--out', at('cut.track.json'));
    expect([code, stderr]).toEqual([1, expect.stringContaining('there is a cut at frame 8')]);
  }
  expect(() => read('cut.track.json')).toThrow();
  expect(
    (
      await yarlop(
        'points',
        '--job',
        write('before.json', points({ frames: [5, 7] })),
        '--plate',
        at('cut.mkv'),
        '--out',
        at('before.track.json'),
      )
    ).code,
  ).toBe(0);
});
