import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type {
  Job,
  LoopReport,
  Media,
  Project,
  QuadCorners,
  Shot,
  ShotDetail,
  ShotDocument,
  ShotLoop,
} from '../../core/base/schemas/types.ts';
import { LOOP_REPORT } from '../jobs/loop-job.ts';
import { probeFilm } from '../test/film-facts.ts';
import { driftingTake, ffmpeg } from '../test/media-files.ts';
import type { Api } from '../test/api.ts';
import { ROOT, temporaryFolder } from '../test/folders.ts';
import { startTestService, type TestService } from '../test/service.ts';

/** A drifting look at a tablet. */
const FRAMES = 24;
const FADE = 6;
const CORNERS: QuadCorners = [
  [92, 40],
  [228, 40],
  [228, 128],
  [92, 128],
];
const folder = temporaryFolder();
let service: TestService, api: Api, shot: number, project: number;

async function loopOf(
  loop: ShotLoop,
  change: (draft: ShotDocument) => void = () => {},
): Promise<{ status: number; body: { code?: string; message?: string } }> {
  const detail = await api.call<ShotDetail>('GET', `/shots/${shot}`);
  const document = { ...detail.document, loop };
  change(document);
  return api.request('PUT', `/shots/${shot}/document`, { base: detail.shot.revision, document });
}
async function joined(output: 'mp4' | 'png' = 'mp4'): Promise<Job> {
  return api.ended((await api.call<Job>('POST', `/shots/${shot}/loop`, { output })).id, 240);
}
const refused = () => api.request('POST', `/shots/${shot}/loop`, { output: 'mp4' });

beforeAll(async () => {
  service = await startTestService();
  api = service.api;
  await driftingTake(join(folder.path, 'take.mkv'), FRAMES);
  project = (await api.call<Project>('POST', '/projects', { name: 'Going round' })).id;
  shot = (await api.call<Shot>('POST', `/projects/${project}/shots`, { name: 'Bench tablet' })).id;
  const take = await api.bringIn(project, 'take.mkv', await readFile(join(folder.path, 'take.mkv')));
  const content = await api.bringIn(project, 'orders.png', await readFile(join(ROOT, 'demo/content/orders.png')));
  await api.call('PUT', `/shots/${shot}/plate`, { mediaId: take.media.id });
  expect(
    (
      await loopOf({}, (draft) =>
        Object.assign(draft, { corners: CORNERS, regions: [{ points: CORNERS }], contentId: content.media.id }),
      )
    ).status,
  ).toBe(200);
}, 120_000);
afterAll(async () => {
  await service.end();
  folder.remove();
});

test('finished pictures ask for what they are made from; a plate does not', async () => {
  expect((await loopOf({ fade: FADE })).status).toBe(200);
  expect((await refused()).body).toMatchObject({ code: 'no-track' });
});

test('the plate goes round: as much shorter as it goes over, the jump told, the first picture after the last as one after the other', async () => {
  expect((await loopOf({ of: 'plate', fade: FADE })).status).toBe(200);
  const job = await joined();
  expect(job).toMatchObject({ state: 'done', result: 'film.mp4' });
  const report = await api.call<LoopReport>('GET', `/jobs/${job.id}/loop`);
  expect(report).toMatchObject({ frames: [0, FRAMES - 1], fade: FADE, length: FRAMES - FADE });
  expect(report.joins).toHaveLength(FADE);
  expect(report.jump!.px).toBeLessThan(0.3);
  expect(report.jump!.levels).toBeLessThan(1);
  expect(await probeFilm(await api.bytes(`/jobs/${job.id}/result`))).toMatchObject({
    codec: 'h264',
    frames: FRAMES - FADE,
  });
}, 240_000);

test('finished pictures are joined once the shot is followed; a line divides the way over; pictures come as a zip', async () => {
  expect(
    (await api.ended((await api.call<Job>('POST', `/shots/${shot}/follow`, { direction: 'both' })).id)).state,
  ).toBe('done');
  expect(
    (
      await loopOf({
        fade: FADE,
        split: {
          line: {
            points: [
              [160, 0],
              [160, 180],
            ],
          },
          soft: 20,
        },
      })
    ).status,
  ).toBe(200);
  const job = await joined('png');
  expect(job).toMatchObject({ state: 'done', result: 'pictures.zip' });
  const data = join(service.dataFolder, 'renders', String(job.id));
  expect(JSON.parse(await readFile(join(data, LOOP_REPORT), 'utf8'))).toMatchObject({ length: FRAMES - FADE });
  // Made once more it is the same, byte for byte: a job that is taken up again goes on where it was.
  const next = await api.call<Job>('POST', `/shots/${shot}/loop`, { output: 'png' });
  expect((await api.ended(next.id, 240)).state).toBe('done');
  const frame = (id: number) => readFile(join(service.dataFolder, 'renders', String(id), '000003.png'));
  expect(await frame(next.id)).toEqual(await frame(job.id));
}, 240_000);

test('two takes are divided by a shape that rides on the surface', async () => {
  await driftingTake(join(folder.path, 'second.mkv'), FRAMES, [52, 50], 'eq=brightness=0.04');
  const { media } = await api.bringIn(project, 'second.mkv', await readFile(join(folder.path, 'second.mkv')));
  expect((await loopOf({ of: 'plate', align: 'none', second: { mediaId: media.id, offset: 1 } })).body).toMatchObject({
    code: 'bad-field',
    message: expect.stringContaining('split') as unknown,
  });
  expect(
    (
      await loopOf({
        of: 'plate',
        align: 'none',
        second: { mediaId: media.id, offset: 1 },
        split: { shape: { points: CORNERS, home: 0 } },
      })
    ).status,
  ).toBe(200);
  const job = await joined();
  expect(job).toMatchObject({ state: 'done' });
  expect((await api.call<LoopReport>('GET', `/jobs/${job.id}/loop`)).joins).toHaveLength(FRAMES - 1);
  // It is used: the medium says by which shot.
  const uses = (await api.call<Media[]>('GET', `/projects/${project}/media`)).find((one) => one.id === media.id)!;
  expect(JSON.stringify(uses)).toContain('"Bench tablet"');
}, 240_000);

test('what cannot be joined is reported at once, with what to do', async () => {
  await loopOf({ of: 'plate', fade: 13 });
  expect((await refused()).body).toMatchObject({ code: 'loop-too-short' });
  await loopOf({
    of: 'plate',
    second: { mediaId: 99_999 },
    split: {
      line: {
        points: [
          [0, 0],
          [0, 10],
        ],
      },
    },
  });
  expect((await refused()).body).toMatchObject({ code: 'not-found' });
  const small = join(folder.path, 'small.mp4');
  await ffmpeg(
    '-i',
    join(folder.path, 'take.mkv'),
    '-vf',
    'scale=160:90',
    '-frames:v',
    '3',
    '-pix_fmt',
    'yuv420p',
    small,
  );
  const { media } = await api.bringIn(project, 'small.mp4', await readFile(small));
  await loopOf({
    of: 'plate',
    second: { mediaId: media.id },
    split: {
      line: {
        points: [
          [0, 0],
          [0, 10],
        ],
      },
    },
  });
  expect((await refused()).body).toMatchObject({
    message: expect.stringMatching(/second take is 160×90.*one size/) as unknown,
  });
  expect((await loopOf({ of: 'plate', split: { line: { points: [[0, 0]] } } })).body).toMatchObject({
    code: 'bad-field',
    message: expect.stringContaining('two points') as unknown,
  });
  expect((await api.request('GET', '/jobs/99999/loop')).status).toBe(404);
});
