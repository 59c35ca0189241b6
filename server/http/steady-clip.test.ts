import { unzipSync } from 'fflate';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { homographyFromFile } from '../../core/base/geometry/pixel-centre.ts';
import { applyToPoints, invert } from '../../core/base/geometry/homography.ts';
import { checked } from '../../core/base/schemas/check.ts';
import type { Job, Shot, ShotDetail, SteadyFile } from '../../core/base/schemas/types.ts';
import { runTool } from '../media/run-tool.ts';
import type { Truth } from '../../demo/truth.ts';
import type { Api } from '../test/api.ts';
import { temporaryFolder } from '../test/folders.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

const FRAMES = 6;
const REFERENCE = 1;
const folder = temporaryFolder();
let service: TestService, api: Api, shot: Shot, truth: Truth;

beforeAll(async () => {
  service = await startTestService();
  ({ api } = service);
  ({ shot, truth } = await preparedShot(api, FRAMES, { reference: REFERENCE }));
}, 120_000);
afterAll(async () => {
  await service.end();
  folder.remove();
});

/** What a steadied clip came to: the files of its zip. */
async function written(asked: object): Promise<Record<string, Uint8Array>> {
  const job = await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/steady`, asked)).id);
  expect(job).toMatchObject({ kind: 'steady', state: 'done', done: FRAMES });
  return unzipSync(new Uint8Array(await api.bytes(`/jobs/${job.id}/result`)));
}
/** Grey codes of a square in the middle of the screen, as it lies on the reference frame. */
async function middle(picture: Uint8Array): Promise<Buffer> {
  const [x, y] = [0, 1].map((k) => truth.frames[REFERENCE]!.corners.reduce((s, c) => s + c[k]!, 0) / 4) as [
    number,
    number,
  ];
  return sharp(picture)
    .removeAlpha()
    .extract({ left: Math.round(x) - 70, top: Math.round(y) - 50, width: 140, height: 100 })
    .greyscale()
    .raw()
    .toBuffer();
}
const apart = (a: Buffer, b: Buffer) => a.reduce((s, v, i) => s + Math.abs(v - b[i]!), 0) / a.length;

test('before anything is followed there is nothing to steady by', async () => {
  expect(
    (await api.request('POST', `/shots/${shot.id}/steady`, { output: 'mp4', outside: 'fill' })).body,
  ).toMatchObject({ code: 'no-track', remedy: expect.stringMatching(/\w/) as unknown });
});

test('the steadied film stands still, and what lies beside it leads back to the plate', async () => {
  await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
  const files = await written({ output: 'mp4', outside: 'fill' });
  expect(Object.keys(files).sort()).toEqual(['steadied.mp4', 'steady.json']);
  const film = join(folder.path, 'steadied.mp4');
  mkdirSync(join(folder.path, 'out'));
  writeFileSync(film, files['steadied.mp4']!);
  expect((await runTool('ffmpeg', ['-v', 'error', '-i', film, join(folder.path, 'out/%d.png')], 60_000)).exitCode).toBe(
    0,
  );
  const seen = await Promise.all(
    Array.from({ length: FRAMES }, (_, i) =>
      sharp(join(folder.path, `out/${i + 1}.png`))
        .png()
        .toBuffer()
        .then(middle),
    ),
  );
  const plate = await Promise.all(
    [REFERENCE, FRAMES - 1].map(async (frame) =>
      middle(
        await api.bytes(
          `/media/${shot.plate?.id ?? (await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).shot.plate!.id}/frames/${frame}.png`,
        ),
      ),
    ),
  );
  for (const picture of seen) expect(apart(picture, seen[REFERENCE]!)).toBeLessThan(3);
  // The reference stays as it is; the plate itself has moved more.
  expect(apart(seen[REFERENCE]!, plate[0]!)).toBeLessThan(3);
  expect(apart(plate[0]!, plate[1]!)).toBeGreaterThan(2 * apart(seen[REFERENCE]!, seen[FRAMES - 1]!));
  const steady: SteadyFile = checked(
    'steady',
    JSON.parse(Buffer.from(files['steady.json']!).toString()),
    'steady.json',
  );
  const corners = truth.frames[REFERENCE]!.corners;
  const handedOn = (await api.bytes(`/shots/${shot.id}/export/corners-csv`))
    .toString()
    .split('\n')
    .filter((l) => /^\d/.test(l))
    .map((l) => l.split(',').map(Number));
  for (const [frame, ...c] of handedOn) {
    const back = applyToPoints(
      invert(homographyFromFile(steady.frames.find((f) => f.frame === frame)!.map, steady.pixelCentre))!,
      corners,
    ).flat();
    back.forEach((v, k) => expect(v).toBeCloseTo(c[k]!, 3));
  }
});

test('as pictures they carry the plate’s numbers, and nothing where the plate does not reach; cropped, every frame is filled', async () => {
  const {
    shot: { revision },
    document,
  } = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  await api.call('PUT', `/shots/${shot.id}/document`, {
    base: revision,
    document: { ...document, steady: { remove: ['position', 'rotation'] }, firstFrameNumber: 101 },
  });
  const files = await written({ output: 'png', outside: 'transparent' });
  expect(Object.keys(files).sort()).toEqual([
    ...Array.from({ length: FRAMES }, (_, i) => `frame.0${101 + i}.png`),
    'steady.json',
  ]);
  const alphaOf = async (name: string) => sharp(files[name]).extractChannel(3).raw().toBuffer();
  expect((await alphaOf(`frame.0${101 + REFERENCE}.png`)).every((v) => v === 255)).toBe(true);
  expect((await alphaOf(`frame.0${101 + FRAMES - 1}.png`)).some((v) => v === 0)).toBe(true);
  const cropped: SteadyFile = checked(
    'steady',
    JSON.parse(Buffer.from((await written({ output: 'png', outside: 'crop' }))['steady.json']!).toString()),
    'steady.json',
  );
  for (const { map } of cropped.frames) {
    const inside = applyToPoints(invert(homographyFromFile(map, cropped.pixelCentre))!, [
      [0, 0],
      [640, 0],
      [640, 360],
      [0, 360],
    ]);
    for (const [x, y] of inside)
      expect(x >= -1e-3 && y >= -1e-3 && x <= 640.001 && y <= 360.001, `${x} ${y}`).toBe(true);
  }
});

test('a film cannot be transparent: a sentence', async () => {
  expect(
    (await api.request('POST', `/shots/${shot.id}/steady`, { output: 'mp4', outside: 'transparent' })).body,
  ).toMatchObject({ code: 'bad-field', message: expect.stringContaining('only in pictures') as unknown });
});
