import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { MAKING } from '../../core/handoff/send/frame-parts.ts';
import type {
  Job,
  RenderLayer,
  RenderLedger,
  RenderPlan,
  RenderRequest,
  Shot,
  ShotDetail,
  ShotDocument,
} from '../../core/base/schemas/types.ts';
import { noteFinished } from '../database/finished-frames.ts';
import { insertJob } from '../database/jobs.ts';
import { insertTasks, readPlan } from '../database/render-tasks.ts';
import { temporaryFolder } from '../test/folders.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';
import { fileOfKey } from './finished-paths.ts';
import { FrameKeys } from './frame-keys.ts';

const FRAMES = 6;
const folder = temporaryFolder();
let service: TestService, shot: Shot, document: ShotDocument;

beforeAll(async () => {
  service = await startTestService();
  ({ shot, document } = await preparedShot(service.api, FRAMES));
  await service.api.ended((await service.api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
}, 120_000);
afterAll(async () => {
  await service.end();
  folder.remove();
});

const save = async (changed: Partial<ShotDocument>) => {
  const {
    shot: { revision },
  } = await service.api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  await service.api.call('PUT', `/shots/${shot.id}/document`, {
    base: revision,
    document: { ...document, ...changed },
  });
};
const ledger = async (layer: RenderLayer = 'full') =>
  (await service.api.call<RenderLedger>('GET', `/shots/${shot.id}/ledger?layer=${layer}`)).frames;
const states = async (layer?: RenderLayer) => (await ledger(layer)).map((f) => f.state);
const render = async (request: Partial<RenderRequest> = {}): Promise<Job> => {
  const job = await service.api.call<Job>('POST', `/shots/${shot.id}/render`, {
    frames: [0, FRAMES - 1],
    output: 'frames',
    ...request,
  });
  const ended = await service.api.ended(job.id);
  if (ended.state !== 'done') throw new Error(ended.problem ?? ended.state);
  return ended;
};
const pictures = () => {
  const at = join(service.dataFolder, 'renders/frames');
  return existsSync(at)
    ? readdirSync(at, { recursive: true, encoding: 'utf8' }).filter((name) => /\.(png|exr)$/.test(name))
    : [];
};
const all = (state: string) => Array.from({ length: FRAMES }, () => state);

describe('what there is of a shot’s frames', () => {
  test('missing, done; of a span, a list, every second; what is up to date is not made again', async () => {
    expect(await states()).toEqual(all('missing'));
    expect(await render({ frames: [1, 2] })).toMatchObject({ done: 2, total: 2, result: null });
    await render({ list: [4] });
    expect(await states()).toEqual(['missing', 'done', 'done', 'missing', 'done', 'missing']);
    await render({ every: 5 });
    expect(await states()).toEqual(['done', 'done', 'done', 'missing', 'done', 'done']);
    const made = new Map(
      pictures().map((name) => [name, statSync(join(service.dataFolder, 'renders/frames', name)).mtimeMs]),
    );
    expect(await render({ which: 'missing' })).toMatchObject({ total: 1 });
    expect(await render()).toMatchObject({ done: FRAMES, total: FRAMES });
    for (const [name, time] of made)
      expect(statSync(join(service.dataFolder, 'renders/frames', name)).mtimeMs).toBe(time);
    expect(
      (
        await service.api.request('POST', `/shots/${shot.id}/render`, {
          frames: [0, FRAMES - 1],
          output: 'frames',
          which: 'missing',
        })
      ).body,
    ).toMatchObject({ code: 'nothing-to-render' });
  });

  test('an edit puts frames out of date, in words; undone, the finished ones are back', async () => {
    await save({ look: { ...document.look, soften: 2, levels: { black: 0.1 } } });
    const after = await ledger();
    expect(after.map((f) => f.state)).toEqual(all('stale'));
    expect(after[0]!.why).toBe('levels, softness');
    await save({});
    expect(await states()).toEqual(all('done'));
    // A key moves only frames that it can matter to; a wider region moves none.
    await save({
      look: {
        ...document.look,
        opacity: [
          { frame: 0, value: 1 },
          { frame: 1, value: 1 },
          { frame: 2, value: 1 },
          { frame: 5, value: 1 },
        ],
      },
    });
    await render();
    await save({
      keepOut: [
        {
          points: [
            [5, 5],
            [50, 5],
            [50, 50],
          ],
        },
      ],
      look: {
        ...document.look,
        opacity: [
          { frame: 0, value: 1 },
          { frame: 1, value: 1 },
          { frame: 2, value: 1 },
          { frame: 5, value: 0.5 },
        ],
      },
    });
    const keyed = await ledger();
    expect(keyed.map((f) => f.state)).toEqual(['done', 'stale', 'stale', 'stale', 'stale', 'stale']);
    expect(keyed[5]!.why).toBe('opacity');
    expect(await render({ which: 'stale' })).toMatchObject({ total: FRAMES - 1 });
    // The corners are moved: every frame, and why.
    await save({ corrections: [{ frame: 0, corner: 0, dx: 3, dy: 0 }] });
    expect(new Set((await ledger()).map((f) => f.why))).toEqual(new Set(['the corners, opacity']));
    await save({});
    expect(await states()).toEqual(all('done'));
  });

  test('a matte does not depend on the content’s light; a picture that is gone is missing', async () => {
    await render({ layers: ['matte'] });
    await save({ look: { ...document.look, levels: { black: 0.2 } } });
    expect(await states('matte')).toEqual(all('done'));
    await save({ look: { ...document.look, feather: [3, 3, 3, 3] } });
    expect(await states('matte')).toEqual(all('stale'));
    await save({});
    const [first] = await ledger('matte');
    rmSync(join(service.dataFolder, 'renders/frames', first!.key!.slice(0, 2), `${first!.key!}.png`));
    expect(await states('matte')).toEqual(['missing', ...all('done').slice(1)]);
  });
});

test('finished frames that no shot knows are swept after a day, and what was left half written; the others stay', async () => {
  await render();
  const at = join(service.dataFolder, 'renders/frames/ab');
  const strange = join(at, `${'ab'.repeat(32)}.png`);
  const half = join(at, `.${'ab'.repeat(32)}.png.1.part`);
  const young = join(at, `${'ab'.repeat(31)}cd.png`);
  const long = new Date(Date.now() - 3 * 24 * 3600 * 1000);
  mkdirSync(at, { recursive: true });
  for (const file of [strange, half, young]) writeFileSync(file, 'x');
  for (const file of [strange, half]) utimesSync(file, long, long);
  await service.api.call('POST', '/storage/sweep');
  expect([strange, half, young].map((file) => existsSync(file))).toEqual([false, false, true]);
  expect(await states()).toEqual(all('done'));
  rmSync(young);
});

test('frames that another making named are out of date; the version shows what it was; a render it left behind is reported', async () => {
  const done = await render({ output: 'png', frames: [0, 1] });
  const plan = await readPlan(service.db, done.id);
  const before: RenderPlan = { ...plan, making: 1 };
  const old = new FrameKeys(before).of(0, 'full');
  const now = (await ledger())[0]!.key!;
  expect(plan.making).toBe(MAKING);
  expect(old.key).not.toBe(now);
  // As it would be after an update: the frame and the plan of then are there, and nothing of now.
  const renders = join(service.dataFolder, 'renders');
  const path = fileOfKey(renders, now)!;
  const oldPath = path.replaceAll(now, old.key).replace(`/${now.slice(0, 2)}/`, `/${old.key.slice(0, 2)}/`);
  mkdirSync(dirname(oldPath), { recursive: true });
  renameSync(path, oldPath);
  await service.db.query('DELETE FROM finished_frames WHERE shot_id = ? AND frame = 0', [shot.id]);
  await noteFinished(service.db, shot.id, 0, { layer: 'full', frame: 0, ...old });
  const keep = (of: RenderPlan) =>
    service.db.query('UPDATE render_plans SET plan = ? WHERE job_id = ?', [JSON.stringify(of), done.id]);
  await keep(before);
  expect((await ledger())[0]).toMatchObject({
    state: 'stale',
    why: expect.stringContaining('how frames are made') as unknown,
  });
  expect((await service.api.bytes(`/jobs/${done.id}/frames/0.png`)).equals(readFileSync(oldPath))).toBe(true);
  // Asked for then and not yet made: no frame of now is given a name of then.
  const left = await insertJob(service.db, {
    kind: 'render',
    projectId: shot.projectId,
    shotId: shot.id,
    params: { frames: [1, 1], output: 'frames', layers: ['full'], settings: {}, version: 1 },
    total: 1,
  });
  await insertTasks(service.db, left, before, [1], new Set());
  expect(await service.api.ended(left)).toMatchObject({
    state: 'failed',
    problem: expect.stringContaining('This render was asked for by another version of Yarlop') as unknown,
  });
  expect(existsSync(fileOfKey(renders, new FrameKeys(before).of(1, 'full').key) ?? '')).toBe(false);
  await keep(plan);
  await render();
});
