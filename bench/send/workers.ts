import { randomFrom } from '../../core/motion/scene/seeded-random.ts';
import { spawn, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { readdirSync, readFileSync, rmSync } from 'node:fs';
import { basename, join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { median } from '../../core/base/image/statistics.ts';
import type { Job, ShotDetail } from '../../core/base/schemas/types.ts';
import { ROOT } from '../../server/test/folders.ts';
import { preparedShot } from '../../server/test/prepared-shot.ts';
import { startTestService } from '../../server/test/service.ts';

/**
 * What a second worker process brings, and what killing them does: the same render by one worker of one thread, by two, and by two of
 * which one is killed KILLS times at random. Pictures are compared byte for byte.
 */
const FRAMES = 80;
const KILLS = 20;
const ROUNDS = 3;

async function startWorker(dataFolder: string): Promise<ChildProcess> {
  const child = spawn(process.execPath, [join(ROOT, 'scripts/worker.mjs')], {
    cwd: ROOT,
    stdio: ['ignore', 'pipe', 'inherit'],
    env: { ...process.env, YARLOP_DATA: dataFolder, YARLOP_WORKERS: '1' },
  });
  await once(child.stdout, 'data');
  return child;
}
async function end(child: ChildProcess): Promise<void> {
  const ended = once(child, 'exit');
  child.kill('SIGKILL');
  await ended;
}

const service = await startTestService({ YARLOP_WORKERS: '0' });
const { api, dataFolder } = service;
try {
  let first = await startWorker(dataFolder);
  const { shot } = await preparedShot(api, FRAMES, { size: 'full' });
  const detail = await api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  await api.call('PUT', `/shots/${shot.id}/document`, {
    base: detail.shot.revision,
    document: {
      ...detail.document,
      look: {
        fit: 'fill',
        levels: { black: 0.06, white: 0.85 },
        soften: 0.9,
        motionBlur: { shutter: 180 },
        feather: [1, 1, 1, 1],
        grain: { levels: [{ level: 0.5, sigma: [0.01, 0.01, 0.01] }] },
      },
    },
  });
  await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
  const finished = join(dataFolder, 'renders/frames');
  const pictures = () =>
    readdirSync(finished, { recursive: true, encoding: 'utf8' })
      .filter((name) => name.endsWith('.png') && !basename(name).startsWith('.'))
      .sort()
      .map(
        (name) =>
          `${name} ${createHash('sha256')
            .update(readFileSync(join(finished, name)))
            .digest('hex')}`,
      );
  const render = async (meanwhile?: (job: Job) => Promise<void>): Promise<number> => {
    rmSync(finished, { recursive: true, force: true });
    const job = await api.call<Job>('POST', `/shots/${shot.id}/render`, { frames: [0, FRAMES - 1], output: 'frames' });
    await api.until<Job>(`/jobs/${job.id}`, (now) => now.done >= 4);
    const began = Date.now();
    const done = (await api.call<Job>('GET', `/jobs/${job.id}`)).done;
    await meanwhile?.(job);
    const ended = await api.ended(job.id, 600);
    if (ended.done !== FRAMES || ended.state !== 'done')
      throw new Error(`the render ended as ${ended.state} with ${ended.done} frames`);
    return (FRAMES - done) / ((Date.now() - began) / 1000);
  };
  await render();
  // In turns, since the machine is not equally quick all the time.
  const ones: number[] = [];
  const twos: number[] = [];
  let alone: string[] = [];
  let same = true;
  let second: ChildProcess | null = null;
  for (let round = 0; round < ROUNDS; round++) {
    if (second) await end(second);
    ones.push(await render());
    alone = pictures();
    second = await startWorker(dataFolder);
    twos.push(await render());
    same &&= JSON.stringify(pictures()) === JSON.stringify(alone);
  }
  const one = median(ones);
  const two = median(twos);
  const list = (values: number[]) => values.map((v) => v.toFixed(2)).join(', ');
  console.log(
    `one worker ${one.toFixed(2)} frames/s (${list(ones)}) · two ${two.toFixed(2)} (${list(twos)}) · ${(two / one).toFixed(2)} times; the same bytes: ${same}`,
  );
  const random = randomFrom(11);
  let killed = 0;
  await render(async (job) => {
    for (; killed < KILLS && (await api.call<Job>('GET', `/jobs/${job.id}`)).state !== 'done'; killed++) {
      await sleep(100 + 500 * random());
      await end(first);
      first = await startWorker(dataFolder);
    }
  });
  console.log(
    `killed ${killed} times: ${pictures().length} pictures of ${FRAMES}, the same bytes: ${JSON.stringify(pictures()) === JSON.stringify(alone)}`,
  );
  await end(second!);
  await end(first);
} finally {
  await service.end();
}
process.exit(0);
