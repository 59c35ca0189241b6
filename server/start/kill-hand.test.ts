import { unzipSync } from 'fflate';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, expect, test } from 'vitest';
import { CORNER_NAMES } from '../../core/base/geometry/quad.ts';
import type { Job, PointRows, PulledRows, ShotDetail, ShotDocument } from '../../core/base/schemas/types.ts';
import { launch } from '../test/launched.ts';
import { Api } from '../test/api.ts';
import { temporaryFolder } from '../test/folders.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { freshDatabase } from '../test/shared-database.ts';

const folder = temporaryFolder();
afterAll(() => folder.remove());

const FRAMES = 12;
const REFERENCE = 4;
const KEYED = [4, 8, 11];

test('kill -9 while points are followed, in-betweens pulled, a steadied clip written: each is completed, nothing that was there is done again', async () => {
  // What becomes of the database is the subject of kill.test.ts.
  const database = (await freshDatabase())!;
  const env = { YARLOP_DATABASE: database.address, YARLOP_WORKERS: '1' };
  let running = await launch(folder.path, { env });
  let api = new Api(running.address);
  const { shot, document, truth } = await preparedShot(api, FRAMES, { reference: REFERENCE });
  const corners = (frame: number) => truth.frames[frame]!.corners;
  const byHand: ShotDocument = {
    ...document,
    cornerPoints: CORNER_NAMES.map((name, i) => ({ name, at: corners(REFERENCE)[i]! })),
    handKeys: KEYED.map((frame) => ({
      frame,
      corners: corners(frame) as unknown as NonNullable<ShotDocument['corners']>,
    })),
  };
  const {
    shot: { revision },
  } = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  await api.call('PUT', `/shots/${shot.id}/document`, { base: revision, document: byHand });
  const again = async () => {
    await running.kill();
    running = await launch(folder.path, { env });
    api = new Api(running.address);
  };

  const points = await api.call<Job>('POST', `/shots/${shot.id}/points`, { direction: 'both' });
  const seen = await api.until<PointRows>(`/shots/${shot.id}/points`, (p) => p.rows.length >= 8);
  expect(seen.rows.length).toBeLessThan(4 * (FRAMES - 1));
  await again();
  expect(await api.ended(points.id)).toMatchObject({ state: 'done' });
  const { rows } = await api.call<PointRows>('GET', `/shots/${shot.id}/points`);
  expect(rows).toHaveLength(4 * (FRAMES - 1));
  for (const { name, frame, at } of rows) {
    const [x, y] = corners(frame)[CORNER_NAMES.indexOf(name as never)]!;
    expect(Math.hypot(at![0] - x, at![1] - y), `${name} on ${frame}`).toBeLessThan(1);
  }
  for (const row of seen.rows) expect(rows).toContainEqual(row);
  expect((await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).document).toMatchObject({
    cornerPoints: byHand.cornerPoints,
    handKeys: byHand.handKeys,
  });

  const pull = await api.call<Job>('POST', `/shots/${shot.id}/pull`);
  const between = KEYED.at(-1)! - KEYED[0]! + 1 - KEYED.length;
  const begun = await api.until<PulledRows>(`/shots/${shot.id}/pull`, (p) => p.rows.length >= 3);
  expect(begun.rows.length).toBeLessThan(between);
  await again();
  expect(await api.ended(pull.id)).toMatchObject({ state: 'done' });
  const pulled = await api.call<PulledRows>('GET', `/shots/${shot.id}/pull`);
  expect(new Set(pulled.rows.map((r) => r.frame)).size).toBe(pulled.rows.length);
  expect(pulled.rows.length).toBeGreaterThanOrEqual(between);
  for (const row of begun.rows) expect(pulled.rows).toContainEqual(row);

  // The clip is steadied by what the points say.
  const {
    shot: { revision: base },
    document: found,
  } = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  await api.call('PUT', `/shots/${shot.id}/document`, {
    base,
    document: { ...found, spans: [{ from: 0, to: FRAMES - 1, source: 'points' }] },
  });
  const clip = await api.call<Job>('POST', `/shots/${shot.id}/steady`, { output: 'png', outside: 'fill' });
  const pictures = join(folder.path, 'renders', String(clip.id));
  const whole = () => (existsSync(pictures) ? readdirSync(pictures).filter((f) => /^\d+\.png$/.test(f)) : []);
  for (let i = 0; i < 1200 && whole().length < 5; i++) await sleep(50);
  await running.kill();
  const made = whole().map((f) => ({ f, time: statSync(join(pictures, f)).mtimeMs }));
  expect(made.length).toBeGreaterThanOrEqual(5);
  expect(made.length).toBeLessThan(FRAMES);
  running = await launch(folder.path, { env });
  api = new Api(running.address);
  expect(await api.ended(clip.id)).toMatchObject({ state: 'done', done: FRAMES });
  for (const { f, time } of made) expect(statSync(join(pictures, f)).mtimeMs, f).toBe(time);
  expect(Object.keys(unzipSync(new Uint8Array(await api.bytes(`/jobs/${clip.id}/result`))))).toHaveLength(FRAMES + 1);
  expect(await running.stop()).toBe(0);
  await database.remove();
}, 300_000);
