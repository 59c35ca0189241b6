import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Job, MadeToken, RenderLedger, RenderWorker, Shot } from '../../core/base/schemas/types.ts';
import { NetworkDatabase } from '../test/network-database.ts';
import { ROOT, temporaryFolder } from '../test/folders.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

/** A worker on a machine that sees the house's database and its server, and none of its folders. */
const FRAMES = 40;
const folder = temporaryFolder();
const away = temporaryFolder();
let frameServer: NetworkDatabase;
let service: TestService;
let shot: Shot;
let helper: ChildProcess | null = null;

beforeAll(async () => {
  frameServer = await NetworkDatabase.start();
  service = await startTestService({ YARLOP_DATABASE: frameServer.address, YARLOP_WORKERS: '1' });
  ({ shot } = await preparedShot(service.api, FRAMES, { reference: 3, followed: true }));
}, 120_000);
afterAll(async () => {
  if (helper && helper.exitCode === null) {
    helper.kill('SIGTERM');
    await once(helper, 'exit');
  }
  await service.end();
  await frameServer.stop();
  folder.remove();
  away.remove();
});

async function startHelper(env: Record<string, string>): Promise<ChildProcess> {
  const child = spawn(process.execPath, [join(ROOT, 'scripts/worker.mjs')], {
    cwd: ROOT,
    stdio: ['ignore', 'pipe', 'inherit'],
    env: {
      ...process.env,
      YARLOP_DATABASE: frameServer.address,
      YARLOP_DATA: away.path,
      YARLOP_WORKERS: '1',
      YARLOP_LOG: 'error',
      ...env,
    },
  });
  await new Promise<void>((resolve, reject) => {
    child.stdout.on('data', (said: Buffer) => said.toString().includes('at work') && resolve());
    child.once('exit', (code) => reject(new Error(`the worker ended with code ${code}`)));
  });
  return child;
}

test('frames are fetched over HTTP with a token, made there and handed in: the render is whole, the bytes are those of the house', async () => {
  const { api } = service;
  const { secret } = await api.call<MadeToken>('POST', '/access/tokens', {
    name: 'Other room',
    scopes: ['read', 'render'],
  });
  helper = await startHelper({ YARLOP_MEDIA: service.address, YARLOP_TOKEN: secret });
  const job = await api.call<Job>('POST', `/shots/${shot.id}/render`, { frames: [0, FRAMES - 1], output: 'h264' });
  expect(await api.ended(job.id)).toMatchObject({ state: 'done', done: FRAMES });
  const workers = await api.call<RenderWorker[]>('GET', '/workers');
  const there = workers.find((one) => one.name.includes(`/${helper!.pid}/`));
  expect(there?.frames).toBeGreaterThan(0);
  expect((await api.call<RenderLedger>('GET', `/shots/${shot.id}/ledger`)).frames.map((frame) => frame.state)).toEqual(
    Array.from({ length: FRAMES }, () => 'done'),
  );
  // What it made and what it needed for that is kept there, and no more.
  const raws = readdirSync(join(away.path, 'frames'), { recursive: true, encoding: 'utf8' }).filter((name) =>
    name.endsWith('.raw'),
  ).length;
  const made = readdirSync(join(away.path, 'renders/frames'), { recursive: true, encoding: 'utf8' }).filter((name) =>
    name.endsWith('.png'),
  );
  expect(raws).toBeGreaterThan(there!.frames);
  expect(raws).toBeLessThanOrEqual(FRAMES + 1);
  expect(made.length).toBe(there!.frames);
  for (const name of made) expect(existsSync(join(service.dataFolder, 'renders/frames', name)), name).toBe(true);
}, 120_000);

test('frames are handed in under the name of one only, and only by who may render', async () => {
  const { api } = service;
  const { secret } = await api.call<MadeToken>('POST', '/access/tokens', { name: 'Looks', scopes: ['read'] });
  const put = async (name: string, token?: string) =>
    (
      await fetch(`${service.address}/api/v1/finished/${name}`, {
        method: 'PUT',
        body: 'x',
        headers: token ? { Authorization: `Bearer ${token}` } : {},
      })
    ).status;
  expect(await put(`${'a'.repeat(64)}.png`, secret)).toBe(403);
  for (const name of ['x.png', `${'a'.repeat(64)}.jpg`, `..%2f${'a'.repeat(64)}.png`, `${'A'.repeat(64)}.png`])
    expect(await put(name), name).toBe(400);
  expect((await fetch(`${service.address}/api/v1/stores/..%2f..%2fmedia/0.raw`)).status).toBe(404);
  expect((await fetch(`${service.address}/api/v1/stores/${'0'.repeat(24)}-abc/0.raw`)).status).toBe(410);
});
