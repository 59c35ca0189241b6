import { readFile } from 'node:fs/promises';
import { get } from 'node:http';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type {
  GuestPreview,
  GuestSlot,
  Job,
  MadeSlot,
  Shot,
  ShotDocument,
  Slot,
  Variant,
} from '../../core/base/schemas/types.ts';
import { probeFilm } from '../test/film-facts.ts';
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

describe('a slot', () => {
  const offer = (limits?: object, days = 7) =>
    service.api.call<MadeSlot>('POST', `/shots/${shot.id}/slots`, {
      name: 'For the shop',
      days,
      ...(limits ? { limits } : {}),
    });
  const put = async (secret: string, name: string, bytes: Uint8Array) => {
    const response = await fetch(
      `${service.address}/api/v1/guest/slots/${secret}/content?name=${encodeURIComponent(name)}`,
      { method: 'POST', body: bytes as BodyInit },
    );
    return { status: response.status, body: (await response.json()) as GuestSlot & { code?: string } };
  };
  async function preview(secret: string, frame: number): Promise<Buffer> {
    for (let i = 0; i < 200; i++) {
      const { ready, problem } = await service.api.call<GuestPreview>('POST', `/guest/slots/${secret}/preview`, {
        frame,
      });
      expect(problem).toBe(null);
      if (ready) return service.api.bytes(`/guest/slots/${secret}/frames/${frame}.jpg`);
      await sleep(100);
    }
    throw new Error('no preview came');
  }

  test('is filled by whoever has its link: content in, framed, looked at, rendered, fetched; all else of the look is kept', async () => {
    const { api } = service;
    const { secret } = await offer();
    const path = `/guest/slots/${secret}`;
    expect(secret).toMatch(/^[\w-]{43}$/);
    const empty = await api.call<GuestSlot>('GET', path);
    expect(empty).toMatchObject({
      name: 'For the shop',
      frames: FRAMES,
      content: null,
      render: null,
      framing: { fit: 'fill', offset: [0, 0], scale: 1, start: 0 },
    });
    // Nothing of the project is in it.
    expect(JSON.stringify(empty)).not.toMatch(/Trial|orders|projectId|shotId|document/);
    expect(await api.request('POST', `${path}/preview`, { frame: 0 })).toMatchObject({
      status: 409,
      body: { code: 'slot-empty' },
    });
    expect(await api.request('POST', `${path}/render`)).toMatchObject({ status: 409, body: { code: 'slot-empty' } });
    const red = await sharp({ create: { width: 640, height: 360, channels: 3, background: '#c02020' } })
      .png()
      .toBuffer();
    expect(await put(secret, '../../../red.png', red)).toMatchObject({
      status: 200,
      body: { content: { name: 'red.png', state: 'waiting' } },
    });
    expect(await api.until<GuestSlot>(path, (slot) => slot.content?.state === 'ready')).toMatchObject({
      impossible: null,
      used: { files: 1, renders: 0 },
    });
    const [r, g, b] = await screen(await preview(secret, 2));
    expect(r!).toBeGreaterThan(2 * g!);
    expect(r!).toBeGreaterThan(2 * b!);
    // Moved off to the side, half the screen is without it.
    await api.call('PUT', `${path}/framing`, { fit: 'fit', offset: [0.5, 0], scale: 1, start: 0 });
    expect((await screen(await preview(secret, 2)))[0]!).toBeLessThan(0.8 * r!);
    expect(
      await api.request('PUT', `${path}/framing`, { fit: 'fit', offset: [9, 0], scale: 1, start: 0 }),
    ).toMatchObject({ status: 400, body: { code: 'bad-field' } });
    await api.call('POST', `${path}/render`);
    const done = await api.until<GuestSlot>(path, (slot) => slot.render?.state === 'done');
    const film = await api.bytes(`${path}/files/${done.render!.files[0]!.name}`);
    expect(done.render!.files[0]!.name).toMatch(/^for-the-shop-v\d{3}\.mp4$/);
    expect(await probeFilm(film)).toMatchObject({ codec: 'h264', frames: FRAMES, width: 640, height: 360 });
    // In the shot it is a row like the others; the shot's own content is as it was.
    expect((await api.call<Variant[]>('GET', `/shots/${shot.id}/variants`)).at(-1)).toMatchObject({
      name: 'For the shop',
      slot: 'For the shop',
      render: { state: 'done' },
    });
    expect((await api.call<{ document: ShotDocument }>('GET', `/shots/${shot.id}`)).document.contentId).toBe(
      document.contentId,
    );
  }, 120_000);

  test('is good for so many files and renders, of such a size', async () => {
    const { secret, slot } = await offer({ bytes: 5000, files: 1, renders: 1 });
    const { api } = service;
    expect(await put(secret, 'large.png', Buffer.alloc(9000, 1))).toMatchObject({
      status: 413,
      body: { code: 'upload-too-large' },
    });
    expect(await put(secret, 'empty.png', new Uint8Array())).toMatchObject({ status: 415 });
    const small = await sharp({ create: { width: 64, height: 64, channels: 3, background: '#208040' } })
      .png()
      .toBuffer();
    // Two at once: one of them is one too many.
    const both = await Promise.all([put(secret, 'a.png', small), put(secret, 'b.png', small)]);
    expect(both.map((one) => one.status).sort((a, b) => a - b)).toEqual([200, 409]);
    await api.until<GuestSlot>(`/guest/slots/${secret}`, (one) => one.content?.state === 'ready');
    await api.call('POST', `/guest/slots/${secret}/render`);
    await api.until<GuestSlot>(`/guest/slots/${secret}`, (one) => one.render?.state === 'done');
    expect(await api.request('POST', `/guest/slots/${secret}/render`)).toMatchObject({
      status: 409,
      body: { code: 'slot-full', message: 'This link is good for 1 renders, and they are used up.' },
    });
    expect((await api.call<Slot[]>('GET', `/shots/${shot.id}/slots`)).find((one) => one.id === slot.id)).toMatchObject({
      used: { files: 1, renders: 1 },
      state: 'open',
    });
  }, 60_000);

  test('another’s link is refused: guessed, run out, withdrawn, of another kind, by tricks of paths', async () => {
    const { api } = service;
    const mine = await offer();
    const late = await offer(undefined, 1e-9);
    const gone = await offer();
    await api.call('DELETE', `/slots/${gone.slot.id}`);
    const review = 'A'.repeat(43);
    const ask = async (path: string) => (await fetch(`${service.address}/api/v1/guest/slots/${path}`)).status;
    expect(await ask(mine.secret)).toBe(200);
    expect(await ask(`${mine.secret.slice(0, -1)}${mine.secret.endsWith('A') ? 'B' : 'A'}`)).toBe(404);
    expect(await ask(late.secret)).toBe(404);
    expect(await ask(gone.secret)).toBe(404);
    expect(await ask(review)).toBe(404);
    for (const trick of [
      '%25',
      '..%2f..%2fprojects',
      `${mine.secret}%00`,
      "' OR 1=1 --",
      `${mine.secret}/files/..%2f..%2f1%2forders.mp4`,
      `${mine.secret}/files/orders-laptop-english-full-v001.mp4`,
      `${mine.secret}/frames/..%2f0.jpg`,
    ])
      expect([400, 404], trick).toContain(await ask(trick));
    // As it is, not made plain by the client first.
    expect(
      await new Promise((resolve) =>
        get(`${service.address}/`, { path: `/api/v1/guest/slots/${mine.secret}/../../../projects` }, (res) =>
          resolve(res.resume().statusCode),
        ),
      ),
    ).toBe(404);
    // What a link may is written into its path: as a token it opens nothing, and a number in place of a secret neither.
    expect(
      (await fetch(`${service.address}/api/v1/projects`, { headers: { Authorization: `Bearer ${mine.secret}` } }))
        .status,
    ).toBe(401);
    expect(await ask(String(mine.slot.id))).toBe(404);
    expect((await fetch(`${service.address}/api/v1/guest/reviews/${mine.secret}`)).status).toBe(404);
  });
});
