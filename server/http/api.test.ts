import { unzipSync } from 'fflate';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type {
  RenderLedger,
  Job,
  Media,
  Project,
  Shot,
  ShotDetail,
  TrackRow,
  TrackRows,
} from '../../core/base/schemas/types.ts';
import { applyToPoint } from '../../core/base/geometry/homography.ts';
import { readStill } from '../media/content.ts';
import { probe } from '../media/probe.ts';
import { resolveSource } from '../media/source.ts';
import { badFiles, numberedPictures } from '../test/media-files.ts';
import type { Api } from '../test/api.ts';
import { temporaryFolder } from '../test/folders.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';
import { listen } from '../test/listen.ts';

let service: TestService;
let api: Api;
const folder = temporaryFolder();
beforeAll(async () => {
  service = await startTestService();
  api = service.api;
});
afterAll(async () => {
  await service.end();
  folder.remove();
});

const project = () => api.call<Project>('POST', '/projects', { name: 'Potting shed' });

describe('projects and shots', () => {
  test('are created, listed, renamed, deleted and brought back', async () => {
    const { id } = await project();
    const shot = await api.call<Shot>('POST', `/projects/${id}/shots`, { name: ' Phone ' });
    expect(shot).toMatchObject({ name: 'Phone', revision: 1, plate: null });
    await api.call('PATCH', `/shots/${shot.id}`, { name: 'Glove and phone' });
    expect(await api.call('GET', `/projects/${id}/shots`)).toMatchObject([{ name: 'Glove and phone' }]);
    expect(await api.call('DELETE', `/shots/${shot.id}`)).toEqual([]);
    expect((await api.request('GET', `/shots/${shot.id}`)).status).toBe(404);
    expect(await api.call('POST', `/shots/${shot.id}/restore`)).toMatchObject({ name: 'Glove and phone' });
    expect(await api.call('PATCH', `/projects/${id}`, { name: 'Shed' })).toMatchObject({ name: 'Shed', shots: 1 });
  });
});

describe('requests that are wrong', () => {
  test.each<[string, string, unknown, number, RegExp]>([
    ['POST', '/projects', {}, 400, /the request: name is missing/],
    ['POST', '/projects', { name: '   ' }, 400, /name/],
    ['POST', '/projects', { name: 'a', colour: 1 }, 400, /colour is not known here/],
    ['GET', '/projects/99999', undefined, 404, /There is no project 99999/],
    ['GET', '/projects/abc', undefined, 400, /id is "abc", not a number/],
    ['GET', '/nowhere', undefined, 404, /nothing at \/nowhere/],
    ['POST', '/jobs/424242/stop', undefined, 404, /no job 424242/],
  ])('%s %s %j', async (method, path, body, status, words) => {
    const reply = await api.request(method, path, body);
    expect(reply.status).toBe(status);
    expect(reply.body).toMatchObject({
      message: expect.stringMatching(words) as unknown,
      remedy: expect.any(String) as unknown,
      request: expect.stringMatching(/^[0-9a-f-]{36}$/) as unknown,
    });
  });
  test('a body that is not JSON', async () => {
    const response = await fetch(`${service.address}/api/v1/projects`, {
      method: 'POST',
      body: '{"name":',
      headers: { 'Content-Type': 'application/json' },
    });
    expect(response.status).toBe(400);
    expect(await response.json()).toMatchObject({ code: 'unreadable-json' });
  });
  test('documents that no camera could have seen', async () => {
    const { id } = await project();
    const shot = await api.call<Shot>('POST', `/projects/${id}/shots`, { name: 'S' });
    const { document } = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
    const save = (change: object) =>
      api.request('PUT', `/shots/${shot.id}/document`, { base: 1, document: { ...document, ...change } });
    expect(
      (
        await save({
          corners: [
            [0, 0],
            [100, 0],
            [0, 100],
            [100, 100],
          ],
        })
      ).body,
    ).toMatchObject({ message: expect.stringMatching(/corners cross each other/) as unknown });
    expect(
      (
        await save({
          regions: [
            {
              points: [
                [0, 0],
                [5, 5],
              ],
            },
          ],
        })
      ).body,
    ).toMatchObject({
      code: 'bad-region',
      message: expect.stringMatching(/regions\[0\]\.points has 2 points/) as unknown,
    });
    expect(
      (
        await save({
          corners: [
            [0, 0],
            [1e9, 0],
            [1, 1],
            [0, 1],
          ],
        })
      ).status,
    ).toBe(400);
    // None of them was kept.
    expect((await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).shot.revision).toBe(1);
  });
  test('work that cannot begin says what is missing', async () => {
    const { id } = await project();
    const shot = await api.call<Shot>('POST', `/projects/${id}/shots`, { name: 'S' });
    expect((await api.request('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).body).toMatchObject({
      code: 'no-plate',
    });
    expect(
      (await api.request('POST', `/shots/${shot.id}/render`, { frames: [0, 1], output: 'h264' })).body,
    ).toMatchObject({ code: 'no-plate' });
    expect((await fetch(`${service.address}/api/v1/shots/${shot.id}/export/corners-csv`)).status).toBe(409);
  });
});

describe('bringing in', () => {
  test('files that are no pictures fail with a sentence, and nothing else breaks', async () => {
    mkdirSync(folder.path, { recursive: true });
    const files = await badFiles(folder.path);
    const { id } = await project();
    const expected: [string, RegExp][] = [
      [files.text, /notes\.mp4 is not a picture or film/],
      [files.truncated, /truncated\.mp4 is (damaged|not a picture or film)/],
      [files.sound, /sound\.mp4 has sound but no picture/],
      [files.tiny, /tiny\.mkv is 1×1/],
    ];
    for (const [file, words] of expected) {
      const { media, job } = await api.bringIn(id, file.split('/').at(-1)!, readFileSync(file));
      expect(job).toMatchObject({ state: 'failed', problem: expect.stringMatching(words) as unknown });
      expect(media).toMatchObject({ state: 'failed', problem: job.problem });
      expect(job.problem).not.toMatch(/\/tmp|\.part|[0-9a-f]{40}/);
    }
    expect((await api.upload(id, 'empty.mp4', '')).body).toMatchObject({
      code: 'empty-file',
      message: 'empty.mp4 is empty (0 bytes).',
    });
    expect(await api.call<Media[]>('GET', `/projects/${id}/media`)).toEqual([]);
  });

  test('a zip of numbered pictures becomes a sequence with its own numbers', async () => {
    const { zipSync } = await import('fflate');
    const codes = await numberedPictures(join(folder.path, 'seq'), [1001, 1002, 1003]);
    const zip = zipSync(
      Object.fromEntries(
        [1001, 1002, 1003].map((n) => [
          `shot.${n}.png`,
          new Uint8Array(readFileSync(join(folder.path, `seq/shot.${n}.png`))),
        ]),
      ),
    );
    const { media } = await api.bringIn((await project()).id, 'shot.zip', zip);
    expect(media).toMatchObject({
      state: 'ready',
      kind: 'sequence',
      facts: { frames: 3, firstFrameNumber: 1001, width: 48, height: 32 },
    });
    writeFileSync(join(folder.path, 'f.png'), await api.bytes(`/media/${media.id}/frames/2.png`));
    const back = await readStill(join(folder.path, 'f.png'));
    expect(
      Buffer.compare(
        Uint8Array.from(back.data as Uint8Array).filter((_, i) => i % 4 !== 3),
        codes[2]!,
      ),
    ).toBe(0);
  });
});

describe('one shot from footage to composite and data', () => {
  test('follow, render, export; each checked against the truth', async () => {
    const { project: own, shot, document, truth } = await preparedShot(api, 8);
    const events = await listen(`${service.address}/api/v1/events`);
    const follow = await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' });
    expect(
      (await api.request('POST', `/shots/${shot.id}/render`, { frames: [0, 7], output: 'h264' })).body,
    ).toMatchObject({ code: 'job-running' });
    expect((await api.ended(follow.id)).state).toBe('done');

    const { rows } = await api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=0`);
    expect(rows.map((r: TrackRow) => r.frame).sort((a: number, b: number) => a - b)).toEqual([0, 1, 2, 3, 4, 5, 6, 7]);
    for (const row of rows) {
      document.corners!.forEach((c, i) => {
        const [x, y] = applyToPoint(row.homography!, c);
        const [u, v] = truth.frames[row.frame]!.corners[i]!;
        expect(Math.hypot(x - u, y - v), `frame ${row.frame}`).toBeLessThan(0.5);
      });
    }

    const film = await api.call<Job>('POST', `/shots/${shot.id}/render`, { frames: [0, 7], output: 'h264' });
    expect((await api.ended(film.id)).state).toBe('done');
    writeFileSync(join(folder.path, 'film.mp4'), await api.bytes(`/jobs/${film.id}/result`));
    expect(await probe(resolveSource(join(folder.path, 'film.mp4')))).toMatchObject({
      width: 640,
      height: 360,
      rate: [25, 1],
      frames: 8,
      codec: 'h264',
      colour: { transfer: 'srgb', primaries: 'bt709' },
    });

    const png = await api.call<Job>('POST', `/shots/${shot.id}/render`, { frames: [2, 4], output: 'png' });
    await api.ended(png.id);
    const zip = unzipSync(new Uint8Array(await api.bytes(`/jobs/${png.id}/result`)));
    expect(Object.keys(zip)).toEqual([
      'orders-laptop-full-v002.0002.png',
      'orders-laptop-full-v002.0003.png',
      'orders-laptop-full-v002.0004.png',
    ]);
    expect((await api.call<RenderLedger>('GET', `/shots/${shot.id}/ledger`)).frames.map((f) => f.state)).toEqual(
      Array.from({ length: 8 }, () => 'done'),
    );

    const csv = (await api.bytes(`/shots/${shot.id}/export/corners-csv`)).toString();
    expect(csv.split('\n').filter((l) => /^\d/.test(l))).toHaveLength(8);
    for (const format of ['corners-json', 'homography-json']) {
      const file = JSON.parse((await api.bytes(`/shots/${shot.id}/export/${format}`)).toString()) as {
        frames: unknown[];
      };
      expect(file.frames).toHaveLength(8);
    }
    await events.until((job) => job.id === film.id && job.state === 'done');
    const told = events.heard.filter((j) => j.id === film.id).map((j) => j.done);
    expect(told).toEqual([...told].sort((a, b) => a - b));
    events.close();
    expect((await api.call<Media[]>('GET', `/projects/${own.id}/media`)).map((m) => m.kind)).toEqual(['clip', 'still']);
  });

  test('a running follow can be stopped; what is done stays, and it is carried on with', async () => {
    const { shot } = await preparedShot(api, 24, { reference: 2 });
    const job = await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' });
    await api.until<TrackRows>(`/shots/${shot.id}/track?after=0`, (t) => t.rows.length >= 4);
    await api.call('POST', `/jobs/${job.id}/stop`);
    expect((await api.ended(job.id)).state).toBe('stopped');
    const before = await api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=0`);
    expect(before.rows.length).toBeLessThan(24);
    const again = await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' });
    await api.ended(again.id);
    const after = await api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=${before.after}`);
    expect(after.rows.length).toBe(24 - before.rows.length);
    expect((await api.request('POST', `/jobs/${job.id}/stop`)).body).toMatchObject({ code: 'job-ended' });
  });

  test('saves: a stale one is refused with the newest revision, any revision can be restored', async () => {
    const { shot, document } = await preparedShot(api, 2, { reference: 0 });
    const put = (base: number, change: object) =>
      api.request('PUT', `/shots/${shot.id}/document`, { base, document: { ...document, ...change } });
    expect((await put(2, { motion: 'affine' })).body).toMatchObject({ revision: 3 });
    const stale = await put(2, { motion: 'similarity' });
    expect([stale.status, stale.body]).toMatchObject([409, { code: 'stale-save', current: 3 }]);
    const restored = await api.call<ShotDetail>('POST', `/shots/${shot.id}/revisions/2/restore`);
    expect(restored).toMatchObject({ shot: { revision: 4 }, document: { motion: 'perspective' } });
    expect(await api.call<unknown[]>('GET', `/shots/${shot.id}/revisions`)).toHaveLength(4);
  });
});

test('the page is cross-origin isolated and runs no code from strings', async () => {
  const { headers } = await api.request('GET', '/health');
  expect(headers.get('cross-origin-opener-policy')).toBe('same-origin');
  expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp');
  expect(headers.get('content-security-policy')).toMatch(/script-src 'self' 'wasm-unsafe-eval'/);
});
