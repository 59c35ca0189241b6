import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Job, RenderLedger } from '../../core/base/schemas/types.ts';
import { NetworkDatabase } from '../test/network-database.ts';
import { temporaryFolder } from '../test/folders.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

/** How long the database is away; a minute was tried by hand (docs/farm.md). */
const AWAY_MS = Number(process.env.TEST_OUTAGE_MS ?? 4000);
const FRAMES = 12;
const folder = temporaryFolder();
let frameServer: NetworkDatabase, service: TestService;

beforeAll(async () => {
  frameServer = await NetworkDatabase.start();
  service = await startTestService({ YARLOP_DATABASE: frameServer.address });
}, 120_000);
afterAll(async () => {
  await service.end();
  await frameServer.stop();
  folder.remove();
});

test('the database is away in the middle of a render: a sentence meanwhile, then all goes on, each frame once', async () => {
  const { api } = service;
  const { shot } = await preparedShot(api, FRAMES, { reference: 4 });
  await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
  const job = await api.call<Job>('POST', `/shots/${shot.id}/render`, { frames: [0, FRAMES - 1], output: 'h264' });
  await api.until<Job>(`/jobs/${job.id}`, (one) => one.done >= 2);
  await frameServer.cut();
  const told: string[] = [];
  for (const end = Date.now() + AWAY_MS; Date.now() < end; await sleep(500)) {
    const { status, body } = await api.request('GET', `/shots/${shot.id}`);
    told.push(`${status} ${(body as { message: string }).message}`);
  }
  expect(new Set(told)).toEqual(new Set(['503 The database does not answer at the moment.']));
  await frameServer.join();
  const done = await api.until<Job>(`/jobs/${job.id}`, (one) => one.state !== 'queued' && one.state !== 'running', 90);
  expect(done).toMatchObject({ state: 'done', done: FRAMES, total: FRAMES, problem: null });
  expect((await api.call<RenderLedger>('GET', `/shots/${shot.id}/ledger`)).frames.map((frame) => frame.state)).toEqual(
    Array.from({ length: FRAMES }, () => 'done'),
  );
}, 240_000);
