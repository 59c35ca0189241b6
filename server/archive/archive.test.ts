import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { execa } from 'execa';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type {
  ArchiveReply,
  Job,
  Media,
  Project,
  RenderLedger,
  ReviewNote,
  ReviewVersion,
  Shot,
  ShotDetail,
  ShotDocument,
  TrackRows,
  Variant,
} from '../../core/base/schemas/types.ts';
import { temporaryFolder } from '../test/folders.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

const FRAMES = 4;
const folder = temporaryFolder();
let home: TestService,
  away: TestService,
  fresh: TestService,
  project: Project,
  shot: Shot,
  document: ShotDocument,
  archive: Buffer;

beforeAll(async () => {
  home = await startTestService();
  ({ project, shot, document } = await preparedShot(home.api, FRAMES));
  await home.api.ended((await home.api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
  const changed = {
    ...document,
    look: { ...document.look, soften: 1.1 },
    handKeys: [{ frame: 2, corners: document.corners! }],
  };
  await home.api.call('PUT', `/shots/${shot.id}/document`, { base: 2, document: changed });
  // A second shot that rides on the first, and one without anything.
  const rider = await home.api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'Rider' });
  await home.api.call('PUT', `/shots/${rider.id}/plate`, {
    mediaId: (await home.api.call<ShotDetail>('GET', `/shots/${shot.id}`)).shot.plate!.id,
  });
  await home.api.call('PUT', `/shots/${rider.id}/document`, {
    base: 1,
    document: { ...changed, handKeys: [], rides: shot.id },
  });
  await home.api.call('POST', `/projects/${project.id}/shots`, { name: 'Empty' });
  await home.api.call('POST', `/projects/${project.id}/looks`, { name: 'Soft', look: { soften: 1.1 } }).catch(() => {});
  await home.api.ended(
    (await home.api.call<Job>('POST', `/shots/${shot.id}/render`, { frames: [0, FRAMES - 1], output: 'frames' })).id,
  );
  await home.api.call('POST', `/shots/${shot.id}/variants`, {
    name: 'Deutsch',
    mediaId: document.contentId,
    framing: { fit: 'fill', time: { start: 2 } },
  });
  archive = await home.api.bytes(`/projects/${project.id}/archive`);
  away = await startTestService();
  fresh = await startTestService({ YARLOP_WORKERS: '0' });
}, 240_000);
afterAll(async () => {
  await home.end();
  await away.end();
  await fresh.end();
  folder.remove();
});

const bring = async (
  service: TestService,
  bytes: Buffer,
): Promise<{ status: number; body: ArchiveReply & { code?: string } }> => {
  const response = await fetch(`${service.address}/api/v1/archives`, { method: 'POST', body: new Uint8Array(bytes) });
  return { status: response.status, body: (await response.json()) as ArchiveReply };
};
const shotsOf = (service: TestService, id: number) => service.api.call<Shot[]>('GET', `/projects/${id}/shots`);
const keys = async (service: TestService, id: number) =>
  (await service.api.call<RenderLedger>('GET', `/shots/${id}/ledger`)).frames.map((f) => f.key);

test('the system’s unzip reads it', async () => {
  writeFileSync(join(folder.path, 'project.zip'), archive);
  const { stdout } = await execa('unzip', ['-Z1', join(folder.path, 'project.zip')]);
  expect(stdout.trim().split('\n')).toEqual([
    'manifest.json',
    'project.json',
    `shots/${shot.id}.json`,
    `shots/${shot.id + 1}.json`,
    `shots/${shot.id + 2}.json`,
    expect.stringMatching(/^media\/[0-9a-f]{64}$/),
    expect.stringMatching(/^media\/[0-9a-f]{64}$/),
  ]);
  expect((await execa('unzip', ['-t', join(folder.path, 'project.zip')])).stdout).toContain('No errors detected');
  // Another reader of the standard.
  expect((await execa('python3', ['-m', 'zipfile', '-t', join(folder.path, 'project.zip')])).stdout).toContain(
    'Done testing',
  );
});

test('into an empty server: documents, revisions, tracks and media are there, and frames come to the same pictures', async () => {
  const { status, body } = await bring(away, archive);
  expect(body).toMatchObject({ shots: 3, media: 2, damaged: [], missing: [] });
  expect(status).toBe(200);
  const shots = await shotsOf(away, body.projectId);
  const mine = shots.find((one) => one.name === 'Orders laptop')!;
  const rider = shots.find((one) => one.name === 'Rider')!;
  await away.api.until<Media[]>(`/projects/${body.projectId}/media`, (media) =>
    media.every((one) => one.state === 'ready'),
  );
  const [there, here] = [
    await away.api.call<ShotDetail>('GET', `/shots/${mine.id}`),
    await home.api.call<ShotDetail>('GET', `/shots/${shot.id}`),
  ];
  expect(there.document).toEqual({ ...here.document, contentId: expect.any(Number) as unknown });
  expect(there.shot.revision).toBe(3);
  expect(await away.api.call<Variant[]>('GET', `/shots/${mine.id}/variants`)).toMatchObject([
    { name: 'Deutsch', mediaId: there.document.contentId, framing: { fit: 'fill', time: { start: 2 } } },
  ]);
  expect((await away.api.call<ShotDetail>('GET', `/shots/${rider.id}`)).document.rides).toBe(mine.id);
  const rows = async (service: TestService, id: number) =>
    (await service.api.call<TrackRows>('GET', `/shots/${id}/track?after=0`)).rows
      .map(({ runKey: _key, ...row }) => row)
      .sort((a, b) => a.frame - b.frame);
  expect(await rows(away, mine.id)).toEqual(await rows(home, shot.id));
  // The same keys stand for the same pictures: rendered here they are those of there, byte for byte.
  await away.api.ended(
    (await away.api.call<Job>('POST', `/shots/${mine.id}/render`, { frames: [0, FRAMES - 1], output: 'frames' })).id,
  );
  expect(await keys(away, mine.id)).toEqual(await keys(home, shot.id));
  for (const key of await keys(home, shot.id))
    expect((await away.api.bytes(`/finished/${key!}.png`)).equals(await home.api.bytes(`/finished/${key!}.png`))).toBe(
      true,
    );
}, 120_000);

test('without plates a server that holds them finds them; one that does not says which are missing', async () => {
  const light = await home.api.bytes(`/projects/${project.id}/archive?plates=no`);
  expect(light.length).toBeLessThan(archive.length);
  expect((await bring(home, light)).body).toMatchObject({ shots: 3, media: 2, missing: [] });
  const { body } = await bring(fresh, light);
  expect(body).toMatchObject({ shots: 3, media: 1, missing: ['orders.mp4'] });
  expect((await shotsOf(fresh, body.projectId)).map((one) => one.name)).toEqual(['Orders laptop', 'Rider', 'Empty']);
}, 60_000);

test('damaged or cut off: what is whole comes in, what is not is named', async () => {
  // Made first: the connection would lapse meanwhile.
  const { zipSync, strToU8 } = await import('fflate');
  const bomb = Buffer.from(zipSync({ [`media/${'a'.repeat(64)}`]: new Uint8Array(48 << 20) }, { level: 6 }));
  const cut = await bring(fresh, archive.subarray(0, archive.length - 200_000));
  expect(cut.body).toMatchObject({ shots: 3 });
  expect(cut.body.damaged.length).toBeGreaterThan(0);
  expect([...cut.body.damaged].every((name) => ['orders.mp4', 'orders.png'].includes(name))).toBe(true);
  // A byte in the middle of the first shot's part.
  const spoilt = Buffer.from(archive);
  const at = spoilt.indexOf(Buffer.from(`shots/${shot.id}.json`));
  spoilt[at + 400]! ^= 0x55;
  const told = await bring(fresh, spoilt);
  expect(told.body).toMatchObject({ shots: 2, media: 2, damaged: ['Orders laptop'], missing: [] });
  for (const bytes of [Buffer.from('nothing of the kind'), archive.subarray(0, 100), Buffer.alloc(0)]) {
    const refused = await bring(fresh, bytes);
    expect(refused.status).toBe(415);
    expect(['archive-unreadable', 'empty-file']).toContain(refused.body.code);
  }
  // A trap that unpacks to far more than it holds fills no disk.
  expect(bomb.length).toBeLessThan(1 << 20);
  expect((await bring(fresh, bomb)).body).toMatchObject({
    code: 'archive-unreadable',
    message: expect.stringContaining('far more than it holds') as unknown,
  });
  // Parts with other names never become files.
  expect(
    (await bring(fresh, Buffer.from(zipSync({ '../../escape.txt': strToU8('x'), 'manifest.json': strToU8('{}') }))))
      .body.code,
  ).toBe('archive-unreadable');
}, 60_000);

test('with finished frames, they are finished there too; a damaged one is named and made again', async () => {
  const whole = await home.api.bytes(`/projects/${project.id}/archive?renders=yes`);
  const at = whole.indexOf('finished/');
  const { body } = await bring(away, whole);
  const mine = (await shotsOf(away, body.projectId)).find((one) => one.name === 'Orders laptop')!;
  expect(at).toBeGreaterThan(0);
  expect(body).toMatchObject({ damaged: [], missing: [] });
  await away.api.until<Media[]>(`/projects/${body.projectId}/media`, (media) =>
    media.every((one) => one.state === 'ready'),
  );
  const ledger = await away.api.call<RenderLedger>('GET', `/shots/${mine.id}/ledger`);
  const frames = (await home.api.call<RenderLedger>('GET', `/shots/${shot.id}/ledger`)).frames;
  expect(ledger.frames).toEqual(frames);
  expect(ledger.frames.map((frame) => frame.state)).toEqual(Array.from({ length: FRAMES }, () => 'done'));
  expect(
    Buffer.compare(
      await away.api.bytes(`/finished/${frames[1]!.key}.png`),
      await home.api.bytes(`/finished/${frames[1]!.key}.png`),
    ),
  ).toBe(0);
  // The last thousand bytes before the directory belong to a finished frame.
  const directory = whole.readUInt32LE(whole.length - 6);
  const broken = Buffer.from(whole);
  broken.fill(7, directory - 1000, directory - 990);
  const again = await bring(fresh, broken);
  expect(again.body.damaged).toEqual([expect.stringMatching(/^frame \d of Orders laptop$/)]);
}, 120_000);

test('notes go along with the versions they are on; with renders versions can be looked at there as they were', async () => {
  const softer = async (soften: number) => {
    const { shot: now, document: latest } = await home.api.call<ShotDetail>('GET', `/shots/${shot.id}`);
    await home.api.call('PUT', `/shots/${shot.id}/document`, {
      base: now.revision,
      document: { ...latest, look: { ...latest.look, soften } },
    });
  };
  await softer(2);
  const render = (more: object = {}) =>
    home.api.call<Job>('POST', `/shots/${shot.id}/render`, { frames: [0, 1], output: 'png', ...more });
  const first = await home.api.ended((await render()).id);
  const [german] = await home.api.call<Variant[]>('GET', `/shots/${shot.id}/variants`);
  const [other] = await home.api.call<Job[]>('POST', `/shots/${shot.id}/variants/render`, {
    variants: [german!.id],
    request: { frames: [0, 0], output: 'png' },
  });
  await home.api.ended(other!.id);
  await home.api.call('POST', `/shots/${shot.id}/notes`, {
    jobId: first.id,
    frame: 1,
    at: [0.25, 0.5],
    author: 'Ida',
    words: 'The upper edge swims.',
  });
  const [note] = await home.api.call<ReviewNote[]>('GET', `/shots/${shot.id}/notes`);
  await home.api.call('POST', `/notes/${note!.id}/answers`, { author: 'Noor', words: 'Held.' });
  await home.api.call('PUT', `/notes/${note!.id}/settled`, { settled: true });
  // What the version shows is not what the shot shows now.
  await softer(3);
  const picture = (service: TestService, version: number, frame: number) =>
    service.api.bytes(`/jobs/${version}/frames/${frame}.jpg`);
  const notesOf = (service: TestService, id: number) => service.api.call<ReviewNote[]>('GET', `/shots/${id}/notes`);
  const versionsOf = (service: TestService, id: number) =>
    service.api.call<ReviewVersion[]>('GET', `/shots/${id}/versions`);
  const plain = ({ id: _id, jobId: _job, ...kept }: ReviewNote) => kept;
  const here = await notesOf(home, shot.id);
  const bare = (versions: ReviewVersion[]) => versions.map(({ jobId: _job, ...kept }) => kept);
  for (const renders of ['no', 'yes'] as const) {
    const { body } = await bring(away, await home.api.bytes(`/projects/${project.id}/archive?renders=${renders}`));
    const mine = (await shotsOf(away, body.projectId)).find((one) => one.name === 'Orders laptop')!;
    const there = await versionsOf(away, mine.id);
    const notes = await notesOf(away, mine.id);
    expect(notes.map(plain)).toEqual(here.map(plain));
    expect(notes[0]).toMatchObject({
      words: 'The upper edge swims.',
      settled: true,
      at: [0.25, 0.5],
      answers: [{ author: 'Noor', words: 'Held.' }],
    });
    // Without renders the version that has a note, with them all.
    const all = await versionsOf(home, shot.id);
    expect(bare(there)).toEqual(bare(renders === 'yes' ? all : all.filter((one) => one.jobId === first.id)));
    expect(notes[0]!.jobId).toBe(there.find((one) => one.name === '')!.jobId);
    if (renders === 'no') {
      const lost = await fetch(`${away.address}/api/v1/jobs/${there[0]!.jobId}/frames/1.jpg`);
      expect([lost.status, await lost.json()]).toMatchObject([410, { message: 'Frame 1 of version 1 is not here.' }]);
      continue;
    }
    for (const one of there)
      expect(
        (await picture(away, one.jobId, 0)).equals(
          await picture(home, all.find((other) => other.version === one.version)!.jobId, 0),
        ),
      ).toBe(true);
    // The next version there goes on counting.
    await away.api.until<Media[]>(`/projects/${body.projectId}/media`, (media) =>
      media.every((medium) => medium.state === 'ready'),
    );
    const next = await away.api.ended(
      (await away.api.call<Job>('POST', `/shots/${mine.id}/render`, { frames: [0, 0], output: 'png' })).id,
    );
    expect(next.render!.version).toBe(Math.max(...all.map((one) => one.version)) + 1);
  }
}, 120_000);
