import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type {
  Job,
  RenderLedger,
  Shot,
  ShotDocument,
  Variant,
  VariantTableReply,
} from '../../core/base/schemas/types.ts';
import { ROOT } from '../test/folders.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

const FRAMES = 6;
let service: TestService, shot: Shot, projectId: number, document: ShotDocument;
const contentFile = (name: string) => readFile(join(ROOT, 'demo/content', name));

beforeAll(async () => {
  service = await startTestService();
  const { api } = service;
  const prepared = await preparedShot(api, FRAMES, { reference: 2 });
  ({ shot, document } = prepared);
  projectId = prepared.project.id;
  expect(
    (await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id)).state,
  ).toBe('done');
  await api.bringIn(projectId, 'plan.png', await contentFile('watering-plan.png'));
}, 120_000);
afterAll(() => service.end());

/** Of the part alone: what sharp tells of a picture is of all that was read. */
const partStats = async (picture: Buffer, part: { left: number; top: number; width: number; height: number }) =>
  sharp(await sharp(picture).extract(part).png().toBuffer()).stats();
/** Mean of the shot's screen on a light frame. */
async function screen(jpeg: Buffer): Promise<number[]> {
  const [tl, , br] = document.corners!;
  const { channels } = await partStats(jpeg, {
    left: Math.round(tl[0] + 30),
    top: Math.round(tl[1] + 30),
    width: Math.round(br[0] - tl[0] - 60),
    height: Math.round(br[1] - tl[1] - 60),
  });
  return channels.slice(0, 3).map((c) => c.mean);
}

describe('one track, many contents', () => {
  test('a table fills from CSV, faults by line; rendered in one go, each under its own name; a sheet shows all', async () => {
    const { api } = service;
    const table = (text: string) => api.call<VariantTableReply>('POST', `/shots/${shot.id}/variants/table`, { text });
    const taken = await table(
      'name;file;fit;start\nEnglish;orders.png;;\nDeutsch;plan.png;fill;0\n;orders.png;;\nÍslenska;missing.png;;\nFrançais;plan.png;wide;\nPolski;plan.png;fit;two\nDeutsch;plan.png;;',
    );
    expect(taken).toMatchObject({ made: 3, changed: 0 });
    expect(taken.problems).toEqual([
      'Line 4: it has no name.',
      'Line 6: fit is "wide"; it must be one of stretch, fit, fill.',
      'Line 7: start is "two", not a whole number of a frame.',
      'Line 8: the name Deutsch is on line 3 already.',
      'Line 5: there is no missing.png in this project; bring it in, and take the table again.',
    ]);
    expect(await table('name,file\nEnglish,orders.png')).toMatchObject({ made: 0, changed: 1, problems: [] });
    expect(await api.request('POST', `/shots/${shot.id}/variants/table`, { text: '1,2\n3,4' })).toMatchObject({
      status: 400,
      body: { code: 'bad-table' },
    });

    const before = await api.call<RenderLedger>('GET', `/shots/${shot.id}/ledger`);
    const jobs = await api.call<Job[]>('POST', `/shots/${shot.id}/variants/render`, {
      request: { frames: [0, FRAMES - 1], output: 'h264' },
    });
    expect(jobs.map((job) => job.render!.variant!.name)).toEqual(['English', 'Deutsch']);
    for (const job of jobs) expect(await api.ended(job.id)).toMatchObject({ state: 'done', done: FRAMES });
    const rows = await api.call<Variant[]>('GET', `/shots/${shot.id}/variants`);
    expect(rows.map((row) => row.render?.files[0]?.name)).toEqual([
      'orders-laptop-english-full-v001.mp4',
      'orders-laptop-deutsch-full-v002.mp4',
      undefined,
    ]);
    // What was made of variants says nothing of the shot's own frames, but where they are the same picture.
    const after = await api.call<RenderLedger>('GET', `/shots/${shot.id}/ledger`);
    expect(before.frames.map((f) => f.state)).toEqual(Array.from({ length: FRAMES }, () => 'missing'));
    expect(after.frames.map((f) => f.state)).toEqual(before.frames.map((f) => f.state));
    const [english, deutsch] = await Promise.all(
      jobs.map(async (job) => screen(await api.bytes(`/jobs/${job.id}/frames/2.jpg`))),
    );
    expect(Math.max(...english!.map((v, c) => Math.abs(v - deutsch![c]!)))).toBeGreaterThan(8);
    // The row with the shot's own content and framing is the shot's own picture, to the byte.
    const own = await api.ended(
      (await api.call<Job>('POST', `/shots/${shot.id}/render`, { frames: [2, 2], output: 'frames' })).id,
    );
    expect(
      Buffer.compare(
        await api.bytes(`/jobs/${own.id}/frames/2.png`),
        await api.bytes(`/jobs/${jobs[0]!.id}/frames/2.png`),
      ),
    ).toBe(0);

    const sheet = await api.bytes(`/shots/${shot.id}/variants/sheet.jpg?frame=2`);
    const { width, height } = await sharp(sheet).metadata();
    expect([width, height]).toEqual([16 + 3 * 436, 34 + 16 + 1 * (236 + 34 + 16)]);
    const cell = async (i: number) =>
      (await partStats(sheet, { left: 16 + 436 * i, top: 50, width: 420, height: 236 })).channels.map((c) => c.stdev);
    expect(Math.min(...(await cell(0)), ...(await cell(1)))).toBeGreaterThan(15);
    expect(Math.max(...(await cell(2)))).toBeLessThan(3);
    expect(await api.request('GET', `/shots/${shot.id}/variants/sheet.jpg?frame=99`)).toMatchObject({
      status: 400,
      body: { code: 'frame-outside' },
    });
  }, 180_000);
  test('a row is changed and taken out; its content is used meanwhile; content of another project is refused', async () => {
    const { api } = service;
    const rows = await api.call<Variant[]>('GET', `/shots/${shot.id}/variants`);
    const deutsch = rows[1]!;
    expect(
      await api.call('PATCH', `/variants/${deutsch.id}`, { framing: { fit: 'fit', place: { scale: [0.5, 0.5] } } }),
    ).toMatchObject({
      name: 'Deutsch',
      mediaId: deutsch.mediaId,
      framing: { fit: 'fit', place: { scale: [0.5, 0.5] } },
    });
    expect(await api.request('DELETE', `/media/${deutsch.mediaId}`)).toMatchObject({
      status: 409,
      body: { code: 'medium-used' },
    });
    const other = await api.call<{ id: number }>('POST', '/projects', { name: 'Other' });
    const foreign = await api.bringIn(other.id, 'x.png', await contentFile('orders.png'));
    // Two changes at the same time, of different things: both stand, whichever comes first.
    for (let i = 1; i <= 12; i++) {
      await Promise.all([
        api.call('PATCH', `/variants/${deutsch.id}`, { framing: { time: { start: i } } }),
        api.call('PATCH', `/variants/${deutsch.id}`, { name: `Deutsch ${i}` }),
      ]);
      expect(
        (await api.call<Variant[]>('GET', `/shots/${shot.id}/variants`)).find(({ id }) => id === deutsch.id),
      ).toMatchObject({ name: `Deutsch ${i}`, mediaId: deutsch.mediaId, framing: { time: { start: i } } });
    }
    expect(await api.request('PATCH', `/variants/${deutsch.id}`, { mediaId: foreign.media.id })).toMatchObject({
      status: 404,
    });
    expect(await api.call<Variant[]>('DELETE', `/variants/${rows[2]!.id}`)).toHaveLength(2);
    expect(
      await api.request('POST', `/shots/${shot.id}/variants/render`, {
        variants: [rows[2]!.id],
        request: { frames: [0, 0], output: 'frames' },
      }),
    ).toMatchObject({ status: 404 });
  });
});
