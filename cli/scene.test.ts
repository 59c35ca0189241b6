import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { distance } from '../core/base/geometry/quad.ts';
import { checked } from '../core/base/schemas/check.ts';
import type { Truth } from '../demo/truth.ts';
import { temporaryFolder } from '../server/test/folders.ts';
import { shortClip } from '../server/test/prepared-shot.ts';
import { inProcess } from './test/in-process.ts';

/** Every fourth frame of the hall: the whole walk in a quarter of the time. */
const EVERY = 4;
const FOURTH = `select=not(mod(n\\,${EVERY})),setpts=N/25/TB`;
const FRAMES = 18;
const REFERENCE = 9;
const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
const scene = (...args: string[]) => inProcess(folder.path, ['scene', '--plate', 'hall.mp4', ...args]);
let truth: Truth;
const corners = (frame: number) => truth.frames[EVERY * frame]!.corners;
function write(name: string, value: unknown): string {
  writeFileSync(at(name), JSON.stringify(value));
  return name;
}
const read = (name: string): unknown => JSON.parse(readFileSync(at(name), 'utf8'));

beforeAll(async () => {
  const clip = await shortClip(FRAMES, { filter: FOURTH, clip: 'wall-screen', size: 'full' });
  ({ truth } = clip);
  writeFileSync(at('hall.mp4'), clip.bytes);
}, 60_000);
afterAll(() => folder.remove());

test('a wall screen that is off is carried by the room, in either pixel convention, within the bounds that are stated', async () => {
  // The convention of the file counts from pixel centres: half a pixel less.
  const quad = corners(REFERENCE).map(([x, y]) => [x - 0.5, y - 0.5]);
  expect(
    await scene(
      '--job',
      write('job.json', { pixelCentre: 'integer', frame: REFERENCE, corners: quad, proportions: 16 / 9 }),
      '--out',
      'scene.json',
      '--track',
      'track.json',
    ),
  ).toMatchObject({ code: 0 });
  const solved = checked('sceneFile', read('scene.json'), 'the scene');
  const track = checked('track', read('track.json'), 'the track');
  expect(solved).toMatchObject({ motion: 'walks', zooms: false, plane: { frame: REFERENCE } });
  // The generator's camera: 1120 px.
  expect(Math.abs(solved.frames[0]!.focal / 1120 - 1)).toBeLessThan(0.01);
  expect(solved.rms).toBeLessThan(0.35);
  const offs: number[] = [];
  let within = 0;
  for (const { frame, corners: found, bound } of track.frames) {
    const away = found!.map(([x, y], i) => distance([x + 0.5, y + 0.5], corners(frame)[i]!));
    offs.push(Math.max(...away));
    if (bound && away.every((d, i) => d <= bound[i]!)) within++;
  }
  expect(offs).toHaveLength(FRAMES);
  expect(offs.reduce((a, b) => a + b, 0) / FRAMES).toBeLessThan(0.5);
  expect(Math.max(...offs)).toBeLessThan(1);
  expect(within / (FRAMES - 1)).toBeGreaterThan(0.7);
  expect(
    await inProcess(folder.path, [
      'export',
      '--track',
      'track.json',
      '--format',
      'gltf',
      '--scene',
      'scene.json',
      '--out',
      'room.gltf',
    ]),
  ).toMatchObject({ code: 0 });
  expect((read('room.gltf') as { nodes: { name: string }[] }).nodes.map((node) => node.name)).toEqual(
    expect.arrayContaining(['camera', 'surface', 'points']),
  );
}, 120_000);

test('what the room carries is refined by the screen’s edges, and spliced, as any other track', async () => {
  const cli = (...args: string[]) => inProcess(folder.path, args);
  const meanOff = (name: string) => {
    const away = checked('track', read(name), name).frames.flatMap(({ frame, corners: found }) =>
      found!.map(([x, y], i) => distance([x + 0.5, y + 0.5], corners(frame)[i]!)),
    );
    return away.reduce((a, b) => a + b, 0) / away.length;
  };
  expect(
    await cli(
      'seat',
      '--plate',
      'hall.mp4',
      '--track',
      'track.json',
      '--lock',
      '--out',
      'seated.json',
      '--report',
      'seat-report.json',
    ),
  ).toMatchObject({ code: 0 });
  const seated = checked('track', read('seated.json'), 'the seated track');
  expect(seated.frames.filter((f) => f.corners)).toHaveLength(FRAMES);
  expect(meanOff('seated.json')).toBeLessThan(Math.min(0.3, meanOff('track.json') + 0.02));
  expect(
    await cli(
      'splice',
      '--job',
      write('both.json', {
        pixelCentre: 'integer',
        width: 1280,
        height: 720,
        rate: [25, 1],
        referenceFrame: REFERENCE,
        spans: [
          { from: 0, to: 8, track: 'track.json' },
          { from: 9, to: FRAMES - 1, track: 'seated.json' },
        ],
      }),
      '--out',
      'both.track.json',
    ),
  ).toMatchObject({ code: 0, stderr: expect.stringContaining('join at frame') as unknown });
  expect(meanOff('both.track.json')).toBeLessThan(0.3);
}, 120_000);

test('a lens that is known is taken as it is given, in whatever unit of r', async () => {
  // The hall was filmed without one: k1 in a unit ten times as long is a hundredth of itself in the camera's.
  const lens = { k1: 0.004, k2: 0, k3: 0, centre: [640, 360], focal: 11200 };
  expect(
    await scene(
      '--job',
      write('lens.json', { pixelCentre: 'half', focal: 1120, lens, frames: [0, 8] }),
      '--out',
      'with-lens.json',
    ),
  ).toMatchObject({ code: 0 });
  const solved = checked('sceneFile', read('with-lens.json'), 'the scene');
  expect(solved.k1).toBeCloseTo(0.00004, 10);
  expect(solved).toMatchObject({ focalKnown: true, centre: [640, 360] });
  expect(solved.frames).toHaveLength(9);
  expect(solved.frames[3]!.focal).toBe(1120);
  expect(
    (await scene('--job', write('lens.json', { pixelCentre: 'half', lens: { ...lens, k3: 1 } }), '--out', 'never.json'))
      .stderr,
  ).toMatch(/lens\.k3 must be 0/);
}, 60_000);

describe('what cannot be done is reported, and nothing is written', () => {
  test.each<[string, object | null, string[], RegExp]>([
    [
      'a track of no corners',
      { pixelCentre: 'half' },
      ['--track', 'no.json'],
      /needs the four corners of a plane on one frame/,
    ],
    [
      'corners on a frame that is not there',
      {
        pixelCentre: 'half',
        frames: [0, 5],
        frame: 99,
        corners: [
          [1, 1],
          [9, 1],
          [9, 9],
          [1, 9],
        ],
      },
      ['--track', 'no.json'],
      /frame 99 is outside the plate/,
    ],
    [
      'corners without a frame',
      {
        pixelCentre: 'half',
        corners: [
          [1, 1],
          [9, 1],
          [9, 9],
          [1, 9],
        ],
      },
      [],
      /frame/,
    ],
    [
      'everything kept out',
      {
        pixelCentre: 'half',
        frames: [0, 5],
        frame: 0,
        keepOut: [
          {
            points: [
              [-9, -9],
              [1300, -9],
              [1300, 740],
              [-9, 740],
            ],
          },
        ],
      },
      [],
      /at least eight are needed/,
    ],
    ['a job that is none', null, [], /wrong\.json/],
  ])(
    '%s',
    async (name, job, more, said) => {
      const file = job ? write('wrong.json', job) : (writeFileSync(at('wrong.json'), '{'), 'wrong.json');
      const { code, stderr } = await scene('--job', file, '--out', 'never.json', ...more);
      expect(code, name).toBe(1);
      expect(stderr).toMatch(said);
      expect(() => read('never.json')).toThrow();
    },
    60_000,
  );
});

test('rows read one after the other: a time that is given is used, and kept in the file; one that the shot does not show is left out, and that is said', async () => {
  const given = { pixelCentre: 'half', focal: 1120, frames: [0, 8] };
  expect(await scene('--job', write('rows.json', { ...given, rows: 0.05 }), '--out', 'with-rows.json')).toMatchObject({
    code: 0,
    stderr: expect.stringContaining('the last 5.0 % of a frame') as unknown,
  });
  expect(checked('sceneFile', read('with-rows.json'), 'the scene').rows).toBe(0.05);
  expect(
    await scene('--job', write('told.json', { ...given, rows: 'estimate' }), '--out', 'told-rows.json'),
  ).toMatchObject({ code: 0, stderr: expect.stringContaining('is not seen in this shot, and is left out') as unknown });
  expect(checked('sceneFile', read('told-rows.json'), 'the scene')).not.toHaveProperty('rows');
  expect(await scene('--job', write('wide.json', { ...given, rows: 3 }), '--out', 'never.json')).toMatchObject({
    code: 1,
  });
}, 180_000);
