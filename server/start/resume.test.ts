import { createHash, randomBytes } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, expect, test } from 'vitest';
import type { HeldReply, Job, Limits, Media, PlateCheck, Project, UploadReply } from '../../core/base/schemas/types.ts';
import { findJob } from '../database/jobs.ts';
import { launch } from '../test/launched.ts';
import { Api } from '../test/api.ts';
import { temporaryFolder } from '../test/folders.ts';
import { shortClip } from '../test/prepared-shot.ts';
import { startTestService } from '../test/service.ts';

/** Frames of a clip that only has to be a clip, and of one that takes a while to come in. */
const FRAMES = 12;
const MANY = 20;
const folder = temporaryFolder();
afterAll(() => folder.remove());

/** The tus protocol by hand (tus.io, Resumable Upload Protocol 1.0.x), as any client speaks it. */
class Tus {
  constructor(private readonly address: string) {}
  private async ask(method: string, path: string, headers: Record<string, string>, body?: Uint8Array) {
    return fetch(this.address + path, {
      method,
      headers: { 'Tus-Resumable': '1.0.0', ...headers },
      ...(body ? { body: body as BodyInit } : {}),
    });
  }
  async create(length: number, name: string): Promise<{ status: number; url: string; body: string }> {
    const reply = await this.ask('POST', '/api/v1/uploads', {
      'Upload-Length': String(length),
      'Upload-Metadata': `name ${Buffer.from(name).toString('base64')}`,
    });
    return { status: reply.status, url: reply.headers.get('location') ?? '', body: await reply.text() };
  }
  async send(url: string, offset: number, bytes: Uint8Array): Promise<number> {
    const reply = await this.ask(
      'PATCH',
      url,
      { 'Upload-Offset': String(offset), 'Content-Type': 'application/offset+octet-stream' },
      bytes,
    );
    return Number(reply.headers.get('upload-offset'));
  }
  async offset(url: string): Promise<number> {
    return Number((await this.ask('HEAD', url, {})).headers.get('upload-offset'));
  }
  async drop(url: string): Promise<number> {
    return (await this.ask('DELETE', url, {})).status;
  }
}

const idOf = (url: string): string => url.slice(url.lastIndexOf('/') + 1);

test(
  'an upload that was killed at half goes on after the server has been started again',
  { timeout: 180_000 },
  async () => {
    const { bytes } = await shortClip(FRAMES);
    const half = bytes.length >> 1;
    const first = await launch(folder.path);
    const project = await new Api(first.address).call<Project>('POST', '/projects', { name: 'Half' });
    const { url, status } = await new Tus(first.address).create(bytes.length, '../../etc/orders.mp4');
    expect(status).toBe(201);
    expect(await new Tus(first.address).send(url, 0, bytes.subarray(0, half))).toBe(half);
    // And a piece that never arrives whole.
    void fetch(first.address + url, {
      method: 'PATCH',
      duplex: 'half',
      headers: {
        'Tus-Resumable': '1.0.0',
        'Upload-Offset': String(half),
        'Content-Type': 'application/offset+octet-stream',
      },
      body: new ReadableStream({ start: (stream) => stream.enqueue(bytes.subarray(half, half + 1000)) }),
    } as RequestInit).catch(() => {});
    await sleep(300);
    await first.kill();

    const second = await launch(folder.path);
    try {
      const tus = new Tus(second.address);
      const api = new Api(second.address);
      const there = await tus.offset(url);
      expect(there).toBeGreaterThanOrEqual(half);
      expect(there).toBeLessThan(bytes.length);
      // Not before it is whole.
      expect(
        (
          await api.request('POST', `/projects/${project.id}/media/uploaded`, {
            uploadId: idOf(url),
            name: 'orders.mp4',
          })
        ).body,
      ).toMatchObject({ code: 'upload-not-whole' });
      expect(await tus.send(url, there, bytes.subarray(there))).toBe(bytes.length);
      const claim = () =>
        api.call<UploadReply>('POST', `/projects/${project.id}/media/uploaded`, {
          uploadId: idOf(url),
          name: '../../etc/orders.mp4',
        });
      const [claimed, twin] = await Promise.all([claim(), claim()]);
      expect(twin.media.id).toBe(claimed.media.id);
      expect(claimed.media).toMatchObject({ name: 'orders.mp4', bytes: bytes.length });
      expect((await api.ended(claimed.job.id)).state).toBe('done');
      // Asking again, as a page does whose answer was lost, gives the same medium.
      expect((await claim()).media.id).toBe(claimed.media.id);
      expect(await api.call<Media>('GET', `/media/${claimed.media.id}`)).toMatchObject({
        state: 'ready',
        facts: { frames: FRAMES },
      });
    } finally {
      await second.stop();
    }
  },
);

test(
  'what is here already is taken at once; what is too large, empty or cancelled is not kept',
  { timeout: 120_000 },
  async () => {
    const plates = temporaryFolder();
    mkdirSync(plates.path, { recursive: true });
    writeFileSync(join(plates.path, 'bench-tablet.mp4'), (await shortClip(4, { clip: 'bench-tablet' })).bytes);
    const service = await startTestService({ YARLOP_UPLOAD_LIMIT_GB: '1', YARLOP_PLATES: plates.path });
    try {
      const { api } = service;
      const tus = new Tus(service.address);
      expect(await api.call<Limits>('GET', '/limits')).toEqual({ uploadBytes: 1e9, serverFolder: true });
      const project = await api.call<Project>('POST', '/projects', { name: 'Held' });
      const tooLarge = await tus.create(1e9 + 1, 'long.mov');
      expect([tooLarge.status, JSON.parse(tooLarge.body)]).toMatchObject([
        413,
        { code: 'upload-too-large', message: 'The file has more than 1.0 GB.' },
      ]);
      expect(JSON.parse((await tus.create(0, 'nothing.mov')).body)).toMatchObject({
        message: 'nothing.mov is empty (0 bytes).',
      });
      const { url } = await tus.create(5000, 'given-up.mov');
      await tus.send(url, 0, randomBytes(2000));
      expect(await tus.drop(url)).toBe(204);
      expect(
        (
          await api.request('POST', `/projects/${project.id}/media/uploaded`, {
            uploadId: idOf(url),
            name: 'given-up.mov',
          })
        ).status,
      ).toBe(404);

      const { bytes } = await shortClip(FRAMES);
      const held = (body: object) =>
        api.call<HeldReply>('POST', `/projects/${project.id}/media/held`, {
          name: 'again.mp4',
          bytes: bytes.length,
          ...body,
        });
      expect(await held({})).toEqual({ maybe: false, taken: null });
      await api.bringIn(project.id, 'orders.mp4', bytes);
      expect(await held({})).toEqual({ maybe: true, taken: null });
      const hash = createHash('sha256').update(bytes).digest('hex');
      const { taken } = await held({ hash });
      expect((await api.ended(taken!.job.id)).state).toBe('done');
      expect(await api.call<Media>('GET', `/media/${taken!.media.id}`)).toMatchObject({
        name: 'again.mp4',
        state: 'ready',
        facts: { frames: FRAMES },
      });
      expect((await held({ hash: '0'.repeat(64) })).taken).toBeNull();

      // From a folder of this machine, and from nowhere else.
      const fromServer = (path: string) => api.request('POST', `/projects/${project.id}/media/from-server`, { path });
      expect((await fromServer('..')).body).toMatchObject({ code: 'outside-folder' });
      expect((await fromServer('/etc/passwd')).status).toBe(404);
      const local = (await fromServer('bench-tablet.mp4')).body as UploadReply;
      expect((await api.ended(local.job.id)).state).toBe('done');
      expect(
        (await api.call<{ entries: { name: string }[] }>('GET', '/server-files?path=')).entries.map((e) => e.name),
      ).toEqual(['bench-tablet.mp4']);
    } finally {
      await service.end();
      plates.remove();
    }
  },
);

test(
  'connections that are cut, and a database that is killed, while a plate comes in: the job goes on when it is back',
  { timeout: 180_000 },
  async () => {
    const service = await startTestService({}, { ownMariaDB: true });
    try {
      const { api } = service;
      const project = await api.call<Project>('POST', '/projects', { name: 'Cut off' });
      const [[row]] = await service.db.query<import('mysql2').RowDataPacket[]>('SELECT @@pid_file AS file');
      const { job, media } = (
        await api.upload(
          project.id,
          'tablet.mp4',
          (await shortClip(MANY, { clip: 'bench-tablet', size: 'full' })).bytes,
        )
      ).body as UploadReply;
      await api.until<Job>(`/jobs/${job.id}`, (j) => j.done > 4);
      // All connections but the one that asks, those of the job among them.
      const connection = await service.db.getConnection();
      let cut = 0;
      for (let i = 0; i < 20; i++) {
        const [others] = await connection.query<import('mysql2').RowDataPacket[]>(
          "SELECT ID AS id FROM information_schema.PROCESSLIST WHERE ID <> CONNECTION_ID() AND DB = 'yarlop'",
        );
        for (const { id } of others)
          await connection.query(`KILL CONNECTION ${Number(id)}`).then(
            () => cut++,
            () => {},
          );
        await sleep(15);
      }
      connection.release();
      expect(cut).toBeGreaterThan(0);
      expect((await findJob(service.db, job.id))!.state).toMatch(/queued|running|done/);
      process.kill(Number(readFileSync(String(row!.file), 'utf8')), 'SIGKILL');
      // Requests meanwhile are answered with a sentence, not left hanging; then all is as before.
      const back = Date.now() + 60_000;
      while ((await fetch(`${service.address}/api/v1/health`)).status !== 200 && Date.now() < back) await sleep(100);
      expect((await api.ended(job.id)).state).toBe('done');
      expect(await api.call<Media>('GET', `/media/${media.id}`)).toMatchObject({
        state: 'ready',
        facts: { frames: MANY },
      });
      expect((await api.until<PlateCheck>(`/media/${media.id}/check`, (c) => c.done)).rows).toHaveLength(MANY);
    } finally {
      await service.end();
    }
  },
);
