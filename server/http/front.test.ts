import { unzipSync } from 'fflate';
import { readFile } from 'node:fs/promises';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { greenScreen, SCREEN_QUAD } from '../../core/test/green-screen.ts';
import type {
  FrontReply,
  LookReply,
  Job,
  Media,
  Project,
  Shot,
  ShotDetail,
  ShotDocument,
} from '../../core/base/schemas/types.ts';
import { filmOf } from '../test/media-files.ts';
import type { Api } from '../test/api.ts';
import { temporaryFolder } from '../test/folders.ts';
import { startTestService, type TestService } from '../test/service.ts';

const FRAMES = 6;
const W = 160;
const folder = temporaryFolder();
let service: TestService, api: Api, project: Project, shot: Shot, blue: Media, document: ShotDocument;

async function change(
  edit: (draft: ShotDocument) => void,
): Promise<{ status: number; body: { code?: string; message?: string } }> {
  const detail = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  edit(detail.document);
  return api.request('PUT', `/shots/${shot.id}/document`, { base: detail.shot.revision, document: detail.document });
}
async function rendered(frame: number): Promise<Buffer> {
  const job = await api.call<Job>('POST', `/shots/${shot.id}/render`, { frames: [frame, frame], output: 'png' });
  expect(await api.ended(job.id)).toMatchObject({ state: 'done' });
  return sharp(await api.bytes(`/jobs/${job.id}/frames/${frame}.png`))
    .removeAlpha()
    .raw()
    .toBuffer();
}
const pixel = (frame: Buffer, x: number, y: number) => [...frame.subarray((y * W + x) * 3, (y * W + x) * 3 + 3)];

beforeAll(async () => {
  service = await startTestService();
  api = service.api;
  // The bar moves; the surface does not, and is followed by its dark frame.
  const pictures = Array.from(
    { length: FRAMES },
    (_, k) =>
      greenScreen({
        bar: [
          [66 + 5 * k, 0],
          [78 + 5 * k, 0],
          [78 + 5 * k, 120],
          [66 + 5 * k, 120],
        ],
        noise: 0.01,
      }).picture,
  );
  const film = `${folder.path}/green.mkv`;
  await filmOf(pictures, film);
  project = await api.call<Project>('POST', '/projects', { name: 'Green' });
  shot = await api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'Green screen' });
  const plate = await api.bringIn(project.id, 'green.mkv', await readFile(film));
  ({ media: blue } = await api.bringIn(
    project.id,
    'blue.png',
    await sharp({ create: { width: 80, height: 66, channels: 3, background: '#2030c8' } })
      .png()
      .toBuffer(),
  ));
  await api.call('PUT', `/shots/${shot.id}/plate`, { mediaId: plate.media.id });
  document = (await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).document;
});
afterAll(async () => {
  await service.end();
  folder.remove();
});

describe('what is in front', () => {
  test('needs corners, and says so', async () => {
    for (const what of ['front', 'marks', 'look'])
      expect((await api.request('POST', `/shots/${shot.id}/${what}`)).body).toMatchObject({ code: 'no-corners' });
  });
  test('is proposed from the reference frame before anything is followed', async () => {
    expect(
      (
        await change((d) =>
          Object.assign(d, {
            ...document,
            corners: SCREEN_QUAD.map(([x, y]) => [x, y]),
            regions: [
              {
                points: [
                  [28, 14],
                  [132, 14],
                  [132, 106],
                  [28, 106],
                ],
              },
            ],
            contentId: blue.id,
          }),
        )
      ).status,
    ).toBe(200);
    const found = await api.call<FrontReply>('POST', `/shots/${shot.id}/front`);
    expect(found.keys).toHaveLength(1);
    expect(found.spill!.colour).toEqual(found.keys[0]!.colour);
    expect(found.why).toMatchObject({
      keys: {
        says: expect.stringContaining('The screen shows one colour') as unknown,
        frames: [document.referenceFrame],
      },
      spill: { frames: [document.referenceFrame] },
    });
    // A look measured on that one frame holds the same key, names the corners it was measured along, and changes nothing.
    const { look } = await api.call<LookReply>('POST', `/shots/${shot.id}/look`);
    expect(look.keys).toHaveLength(1);
    expect(look.why!['motionBlur/shutter']).toMatchObject({
      says: expect.stringContaining('One frame tells no shutter') as unknown,
      basis: expect.stringMatching(/^[0-9a-f]+$/) as unknown,
    });
    expect((await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).document.look.why).toBeUndefined();
    expect(
      (await change((d) => Object.assign(d.look, { keys: found.keys, markers: found.markers, spill: found.spill })))
        .status,
    ).toBe(200);
  });
  test('is rendered, and a board in place of the content as well', async () => {
    const follow = await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' });
    expect(await api.ended(follow.id)).toMatchObject({ state: 'done' });
    const plain = await rendered(2);
    expect(pixel(plain, 110, 60)).toEqual([32, 48, 200].map((v): unknown => expect.closeTo(v, -1)));
    const bar = pixel(plain, 82, 60);
    expect(Math.max(...bar) - Math.min(...bar)).toBeLessThan(20);
    expect(
      (
        await change((d) => {
          d.look.board = {
            format: 'yarlop-board/1',
            width: 160,
            height: 132,
            background: '#c82020',
            layers: [
              {
                id: 'page',
                kind: 'picture',
                media: blue.id,
                width: 160,
                position: [
                  { frame: 0, value: [0, 0] },
                  { frame: 4, value: [0, -140] },
                ],
              },
            ],
          };
        })
      ).status,
    ).toBe(200);
    expect(pixel(await rendered(0), 110, 60)[2]).toBeGreaterThan(180);
    expect(pixel(await rendered(5), 60, 60)[0]).toBeGreaterThan(180);
  });
  test('what a board shows counts as used', async () => {
    expect(
      (await api.call<Media[]>('GET', `/projects/${project.id}/media`)).find((m) => m.id === blue.id)!.usedBy,
    ).toEqual([{ shotId: shot.id, shot: 'Green screen', as: 'content' }]);
    await change((d) => (d.contentId = null));
    expect(
      (await api.call<Media[]>('GET', `/projects/${project.id}/media`)).find((m) => m.id === blue.id)!.usedBy,
    ).toHaveLength(1);
  });
});

test.each<[string, (look: ShotDocument['look']) => void, RegExp]>([
  ['a key on grey', (l) => (l.keys = [{ colour: [0.2, 0.21, 0.2] }]), /too near grey/],
  ['values that are still to be measured', (l) => (l.keys = 'measure'), /asks for measured values/],
  [
    'a shape of two points',
    (l) =>
      (l.shapes = [
        {
          points: [
            [1, 1],
            [9, 9],
          ],
        },
      ]),
    /three or more/,
  ],
  [
    'two layers of one name',
    (l) =>
      (l.board = {
        format: 'yarlop-board/1',
        width: 9,
        height: 9,
        layers: [
          { id: 'a', kind: 'solid' },
          { id: 'a', kind: 'solid' },
        ],
      }),
    /used twice/,
  ],
])('%s are not saved, and the shot stays as it was', async (_, spoil, words) => {
  const before = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  const reply = await change((d) => spoil(d.look));
  expect([reply.status, JSON.stringify(reply.body)]).toEqual([400, expect.stringMatching(words)]);
  expect(await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).toEqual(before);
});

test('a plate is cleaned and sent before there is any content; what shows content asks for it', async () => {
  expect(
    (
      await change((draft) => {
        draft.contentId = null;
        draft.look = {
          clean: {
            fixes: [
              {
                method: 'clone',
                from: [0.4, 0],
                shape: {
                  points: [
                    [60, 48],
                    [84, 48],
                    [84, 72],
                    [60, 72],
                  ],
                  home: 0,
                  rides: 'plate',
                },
                frames: [0, 0],
              },
            ],
            grain: false,
          },
        };
      })
    ).status,
  ).toBe(200);
  expect((await api.request('POST', `/shots/${shot.id}/render`, { frames: [0, 0], output: 'png' })).body).toMatchObject(
    { code: 'no-content' },
  );
  expect(await api.call<{ impossible: string | null }>('GET', `/shots/${shot.id}/ledger?layer=clean`)).toMatchObject({
    impossible: null,
  });
  const sent = async (frame: number) => {
    const job = await api.ended(
      (
        await api.call<Job>('POST', `/shots/${shot.id}/render`, {
          frames: [frame, frame],
          output: 'png',
          layers: ['clean'],
        })
      ).id,
    );
    const zip = unzipSync(new Uint8Array(await api.bytes(`/jobs/${job.id}/files/${job.render!.files[0]!.name}`)));
    return sharp(Buffer.from(Object.values(zip)[0]!))
      .removeAlpha()
      .raw()
      .toBuffer();
  };
  const greenness = ([r, g, b]: number[]) => g! - (r! + b!) / 2;
  // The bar is gone where the fix lies, on its frame alone.
  const first = await sent(0);
  const second = await sent(1);
  expect(greenness(pixel(first, 72, 60))).toBeGreaterThan(60);
  expect(greenness(pixel(first, 72, 90))).toBeLessThan(25);
  expect(greenness(pixel(second, 77, 60))).toBeLessThan(25);
});
