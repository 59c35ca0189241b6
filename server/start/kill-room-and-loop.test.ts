import { existsSync, readdirSync, statSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, expect, test } from 'vitest';
import type {
  Job,
  LoopReport,
  QuadCorners,
  SceneReply,
  Shot,
  ShotDetail,
  ShotDocument,
} from '../../core/base/schemas/types.ts';
import { launch } from '../test/launched.ts';
import { driftingTake } from '../test/media-files.ts';
import { Api } from '../test/api.ts';
import { temporaryFolder } from '../test/folders.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { freshDatabase } from '../test/shared-database.ts';

const folder = temporaryFolder();
const files = temporaryFolder();
afterAll(() => {
  folder.remove();
  files.remove();
});

const EVERY = 4;
const HALL = 18;
const REFERENCE = 9;
const TAKE = 20;
const FADE = 6;
const CORNERS: QuadCorners = [
  [92, 40],
  [228, 40],
  [228, 128],
  [92, 128],
];

test('kill -9 in the middle of a room and of a loop: both are completed, and come to what unbroken ones come to', async () => {
  // What becomes of the database is the subject of kill.test.ts.
  const database = (await freshDatabase())!;
  const env = { YARLOP_DATABASE: database.address, YARLOP_WORKERS: '1' };
  let running = await launch(folder.path, { env });
  let api = new Api(running.address);
  const again = async () => {
    await running.kill();
    running = await launch(folder.path, { env });
    api = new Api(running.address);
  };
  const { shot, document, truth, project } = await preparedShot(api, HALL, {
    reference: REFERENCE,
    filter: `select=not(mod(n\\,${EVERY})),setpts=N/25/TB`,
    clip: 'wall-screen',
  });
  const corners = truth.frames[EVERY * REFERENCE]!.corners as unknown as QuadCorners;
  const open = (id: number) => api.call<ShotDetail>('GET', `/shots/${id}`);
  const save = async (id: number, next: Partial<ShotDocument>) => {
    const {
      shot: { revision },
      document: now,
    } = await open(id);
    await api.call('PUT', `/shots/${id}/document`, { base: revision, document: { ...now, ...next } });
  };
  await save(shot.id, { ...document, corners, regions: [], proportions: [16, 9] });
  const room = await api.call<Job>('POST', `/shots/${shot.id}/scene`);
  await api.until<Job>(`/jobs/${room.id}`, (job) => job.done >= 6);
  await again();
  expect(await api.ended(room.id)).toMatchObject({ kind: 'scene', state: 'done', problem: null });
  const other = await api.call<Shot>('POST', `/shots/${shot.id}/duplicate`, { name: 'The same, unbroken' });
  expect(await api.ended((await api.call<Job>('POST', `/shots/${other.id}/scene`)).id)).toMatchObject({
    state: 'done',
  });
  const [broken, unbroken] = [
    await api.call<SceneReply>('GET', `/shots/${shot.id}/scene`),
    await api.call<SceneReply>('GET', `/shots/${other.id}/scene`),
  ];
  expect(broken).toMatchObject({ current: true, scene: { motion: 'walks' } });
  expect(broken.scene).toEqual(unbroken.scene);
  expect(broken.plane).toEqual(unbroken.plane);

  await driftingTake(join(files.path, 'take.mkv'), TAKE);
  const round = await api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'Going round' });
  const take = await api.bringIn(project.id, 'take.mkv', await readFile(join(files.path, 'take.mkv')));
  await api.call('PUT', `/shots/${round.id}/plate`, { mediaId: take.media.id });
  await save(round.id, { corners: CORNERS, regions: [{ points: CORNERS }], loop: { of: 'plate', fade: FADE } });
  const loop = await api.call<Job>('POST', `/shots/${round.id}/loop`, { output: 'png' });
  const pictures = (id: number) =>
    readdirSync(join(folder.path, 'renders', String(id))).filter((name) => /^\d+\.png$/.test(name));
  const at = (id: number, name: string) => join(folder.path, 'renders', String(id), name);
  await api.until<Job>(`/jobs/${loop.id}`, (job) => job.done >= FADE + 4);
  await running.kill();
  // Halves of files have other names.
  const made = new Map(pictures(loop.id).map((name) => [name, statSync(at(loop.id, name)).mtimeMs]));
  expect(made.size).toBeGreaterThanOrEqual(4);
  expect(existsSync(at(loop.id, 'pictures.zip'))).toBe(false);
  running = await launch(folder.path, { env });
  api = new Api(running.address);
  expect(await api.ended(loop.id)).toMatchObject({ kind: 'loop', state: 'done', result: 'pictures.zip' });
  for (const [name, time] of made) expect(statSync(at(loop.id, name)).mtimeMs, name).toBe(time);
  const next = await api.call<Job>('POST', `/shots/${round.id}/loop`, { output: 'png' });
  expect(await api.ended(next.id)).toMatchObject({ state: 'done' });
  expect(pictures(loop.id)).toHaveLength(TAKE - FADE);
  for (const name of pictures(loop.id))
    expect((await readFile(at(loop.id, name))).equals(await readFile(at(next.id, name))), name).toBe(true);
  expect(await api.call<LoopReport>('GET', `/jobs/${loop.id}/loop`)).toEqual(
    await api.call<LoopReport>('GET', `/jobs/${next.id}/loop`),
  );
  expect(await running.stop()).toBe(0);
  await database.remove();
}, 400_000);
