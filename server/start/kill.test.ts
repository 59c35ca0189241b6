import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { createServer } from 'node:net';
import { basename, join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { unzipSync } from 'fflate';
import { afterAll, describe, expect, test } from 'vitest';
import { applyToPoint } from '../../core/base/geometry/homography.ts';
import type { Job, Media, RenderLedger, Shot, ShotDetail, TrackRows } from '../../core/base/schemas/types.ts';
import { launch } from '../test/launched.ts';
import { Api } from '../test/api.ts';
import { ROOT, temporaryFolder } from '../test/folders.ts';
import { preparedShot, smallDemo } from '../test/prepared-shot.ts';

const folder = temporaryFolder();
afterAll(() => folder.remove());

/** Processes whose command line mentions a text. */
function processesAbout(text: string): string[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .filter((pid) => {
      try {
        return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(text);
      } catch {
        return false;
      }
    });
}

const FRAMES = 10;

test('kill -9 in the middle of a follow and of a render: both are completed, each frame once, no acknowledged edit is lost', async () => {
  let running = await launch(folder.path);
  let api = new Api(running.address);
  const { shot, document } = await preparedShot(api, FRAMES, { reference: 4 });

  // In the middle of a follow.
  const follow = await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' });
  const before = await api.until<TrackRows>(`/shots/${shot.id}/track?after=0`, (t) => t.rows.length >= 4);
  // A look with a key, a shape and what a board is made of, as large as they come to be.
  const shape = {
    points: [
      [20, 20],
      [60, 24],
      [50, 70],
    ] as [number, number][],
    soft: [1, 2] as [number, number],
    keys: [
      {
        frame: 6,
        points: [
          [22, 20],
          [62, 24],
          [52, 70],
        ] as [number, number][],
      },
    ],
  };
  const front = {
    shapes: [shape],
    spill: {
      colour: [0.1, 0.5, 0.1] as [number, number, number],
      areas: [{ shape, amount: 0.5 }],
      hues: [{ hue: 120, saturation: 0.7 }],
    },
    board: {
      format: 'yarlop-board/1' as const,
      width: 90,
      height: 60,
      background: '#f4f6ee',
      layers: [
        {
          id: 'words',
          kind: 'text' as const,
          text: 'Bed 3',
          size: 20,
          position: [
            { frame: 0, value: [4, 4] as [number, number] },
            { frame: 8, value: [30, 20] as [number, number] },
          ],
        },
      ],
    },
  };
  const edited = {
    ...document,
    look: { ...document.look, ...front, soften: 1.25, levels: { black: 0.07, white: 0.84 } },
  };
  expect(await api.call('PUT', `/shots/${shot.id}/document`, { base: 2, document: edited })).toMatchObject({
    revision: 3,
  });
  await running.kill();
  running = await launch(folder.path);
  api = new Api(running.address);
  expect((await api.call<ShotDetail>('GET', `/shots/${shot.id}`)).document.look).toEqual(edited.look);
  expect(await api.ended(follow.id)).toMatchObject({ state: 'done', done: FRAMES });
  const all = await api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=0`);
  expect(all.rows.map((r) => r.frame).sort((a, b) => a - b)).toEqual(Array.from({ length: FRAMES }, (_, i) => i));
  expect(all.rows.every((r) => r.homography)).toBe(true);
  // Frames that were there were not done again.
  const later = await api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=${before.after}`);
  expect(later.rows.map((r) => r.frame).filter((f) => before.rows.some((r) => r.frame === f))).toEqual([]);

  // What came of it is what an unbroken run comes to.
  await api.call('POST', `/shots/${shot.id}/track/clear`, { frames: [0, FRAMES - 1] });
  expect((await api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=0`)).rows).toEqual([]);
  expect(
    await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id),
  ).toMatchObject({ state: 'done' });
  const unbroken = new Map(
    (await api.call<TrackRows>('GET', `/shots/${shot.id}/track?after=0`)).rows.map((r) => [r.frame, r.homography!]),
  );
  for (const { frame, homography } of all.rows) {
    for (const point of document.regions[0]!.points) {
      const [x, y] = applyToPoint(homography!, point);
      const [u, v] = applyToPoint(unbroken.get(frame)!, point);
      expect(Math.hypot(x - u, y - v), `frame ${frame}`).toBeLessThan(1e-6);
    }
  }

  // In the middle of a render.
  const render = await api.call<Job>('POST', `/shots/${shot.id}/render`, { frames: [0, FRAMES - 1], output: 'png' });
  await api.until<Job>(`/jobs/${render.id}`, (job) => job.done >= 3);
  await running.kill();
  const finished = join(folder.path, 'renders/frames');
  const pictures = () =>
    readdirSync(finished, { recursive: true, encoding: 'utf8' }).filter(
      (f) => f.endsWith('.png') && !basename(f).startsWith('.'),
    );
  const made = new Map(pictures().map((f) => [f, statSync(join(finished, f)).mtimeMs]));
  expect(made.size).toBeGreaterThanOrEqual(3);
  expect(made.size).toBeLessThan(FRAMES);
  running = await launch(folder.path);
  api = new Api(running.address);
  expect(await api.ended(render.id)).toMatchObject({ state: 'done', done: FRAMES, total: FRAMES });
  for (const [file, time] of made) expect(statSync(join(finished, file)).mtimeMs, file).toBe(time);
  expect(pictures()).toHaveLength(FRAMES);
  expect((await api.call<RenderLedger>('GET', `/shots/${shot.id}/ledger`)).frames.map((f) => f.state)).toEqual(
    Array.from({ length: FRAMES }, () => 'done'),
  );
  const zip = unzipSync(new Uint8Array(await api.bytes(`/jobs/${render.id}/result`)));
  expect(Object.keys(zip)).toHaveLength(FRAMES);
  // Neighbouring frames differ: none was written under another's name.
  const sums = Object.values(zip).map((bytes) => createHash('sha256').update(bytes).digest('hex'));
  expect(new Set(sums).size).toBe(FRAMES);

  // Ctrl-C ends everything that was started, the database in order.
  expect(await running.stop()).toBe(0);
  expect(processesAbout(folder.path)).toEqual([]);
  expect(readFileSync(join(folder.path, 'database/mariadb.log'), 'utf8').trimEnd().split('\n').at(-1)).toMatch(
    /Shutdown complete/,
  );
  expect(existsSync(join(folder.path, 'yarlop.lock'))).toBe(false);
}, 400_000);

describe('starting', () => {
  test('a data folder in use and a busy port are sentences; nothing is left running', async () => {
    const first = await launch(folder.path);
    await expect(launch(folder.path)).rejects.toThrow(
      /^The data folder .* is in use by another Yarlop \(process \d+\)\. Stop that one first, or choose another folder with YARLOP_DATA\.$/m,
    );
    await first.stop();
    const squatter = createServer();
    await new Promise<void>((resolve) => squatter.listen(0, '127.0.0.1', resolve));
    const { port } = squatter.address() as { port: number };
    await expect(launch(folder.path, { env: { YARLOP_PORT: String(port) } })).rejects.toThrow(
      `Port ${port} is in use by another program. Stop that program, or choose another port with YARLOP_PORT.`,
    );
    squatter.close();
    expect(processesAbout(folder.path)).toEqual([]);
  });
  test('a wrong setting is named before anything is started', async () => {
    await expect(launch(folder.path, { env: { YARLOP_WORKERS: 'many' } })).rejects.toThrow(
      /The setting YARLOP_WORKERS is "many"/,
    );
  });
});

test('Ctrl-C while the demo is loaded or a clip is coming in: the next start carries on, nothing is called damaged', async () => {
  const place = temporaryFolder();
  const demo = temporaryFolder();
  await smallDemo(demo.path);
  const env = { YARLOP_DEMO_FOLDER: demo.path };
  const starting = spawn(process.execPath, [join(ROOT, 'scripts/launch.mjs'), '--demo'], {
    cwd: ROOT,
    detached: true,
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { ...process.env, ...env, YARLOP_PORT: '0', YARLOP_DATA: place.path },
  });
  const ended = once(starting, 'exit');
  // In the middle of unpacking the clips; the whole process group gets the signal, as from a terminal.
  const frames = () =>
    existsSync(join(place.path, 'frames'))
      ? readdirSync(join(place.path, 'frames'), { recursive: true }).filter((f) => String(f).endsWith('.raw')).length
      : 0;
  for (let i = 0; i < 1200 && frames() < 25; i++) await sleep(50);
  process.kill(-starting.pid!, 'SIGINT');
  await ended;
  expect(starting.exitCode).toBe(0);
  expect(processesAbout(place.path)).toEqual([]);

  const again = await launch(place.path, { demo: true, env });
  const api = new Api(again.address);
  const media = await api.call<Media[]>('GET', '/projects/1/media');
  expect(media.map((m) => [m.name, m.state, m.facts?.frames])).toEqual([
    ['bed-temperatures.png', 'ready', 1],
    ['orders.png', 'ready', 1],
    ['watering-plan.png', 'ready', 1],
    ['potting-round.png', 'ready', 1],
    ['bench-tablet.mp4', 'ready', 96],
    ['orders-laptop.mp4', 'ready', 80],
    ['thrown-phone.mp4', 'ready', 64],
    ['held-phone.mp4', 'ready', 60],
    ['wall-screen.mp4', 'ready', 72],
    ['wide-tablet.mp4', 'ready', 60],
    ['tapped-tablet.mp4', 'ready', 56],
  ]);
  const shots = await api.call<Shot[]>('GET', '/projects/1/shots');
  expect(shots.map((s) => s.name)).toEqual([
    'Bench tablet',
    'Orders laptop',
    'Held phone',
    'Thrown phone, caught',
    'Thrown phone',
    'Wall screen',
    'Wide tablet',
    'Tapped tablet',
  ]);
  // The finished shot is on its way to its composite.
  await api.until<Job[]>(`/shots/${shots[0]!.id}/jobs`, (jobs) => jobs.some((j) => j.kind === 'follow' && j.done > 3));
  expect(await again.stop()).toBe(0);
  for (const made of [place, demo]) made.remove();
}, 240_000);
