import { execFileSync } from 'node:child_process';
import { mkdirSync, readdirSync } from 'node:fs';
import { basename, join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Job } from '../../core/base/schemas/types.ts';
import { temporaryFolder } from '../test/folders.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

const FRAMES = 8;

/** A disk of so many megabytes on a folder, made larger by calling it again; false where this machine lets nobody mount one. */
function smallDisk(folder: string, megabytes: number, again = false): boolean {
  mkdirSync(folder, { recursive: true });
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', `${again ? 'remount,' : ''}size=${megabytes}m`, 'tmpfs', folder], {
      stdio: 'ignore',
    });
    return true;
  } catch {
    return false;
  }
}
const trial = temporaryFolder();
const mounts = smallDisk(trial.path, 1);
if (mounts) execFileSync('umount', [trial.path]);
trial.remove();

let service: TestService;
beforeAll(async () => {
  service = await startTestService();
}, 60_000);
afterAll(async () => {
  // Busy until the service has let go of it: taken off lazily, so that the folder can be removed.
  if (mounts) execFileSync('umount', ['-l', join(service.dataFolder, 'renders')]);
  await service.end();
});

// A container that may not mount has no small disk to try it on.
test.skipIf(!mounts)(
  'the disk is full in the middle of a render: a sentence meanwhile, no half of a file; with room again it goes on by itself',
  async () => {
    const { api } = service;
    const renders = join(service.dataFolder, 'renders');
    const { shot } = await preparedShot(api, FRAMES, { reference: 3 });
    await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
    // A finished frame is about a megabyte.
    expect(smallDisk(renders, 3)).toBe(true);
    const job = await api.call<Job>('POST', `/shots/${shot.id}/render`, { frames: [0, FRAMES - 1], output: 'h264' });
    const stuck = await api.until<Job>(`/jobs/${job.id}`, (one) => one.problem !== null || one.state === 'failed', 60);
    expect(stuck).toMatchObject({ problem: 'There is no space left on the disk. The render goes on when there is.' });
    expect(['queued', 'running']).toContain(stuck.state);
    expect(stuck.done).toBeLessThan(FRAMES);
    // What is being done elsewhere is answered meanwhile.
    expect((await api.request('GET', `/shots/${shot.id}`)).status).toBe(200);
    const halves = () =>
      readdirSync(renders, { recursive: true, encoding: 'utf8' }).filter(
        (name) => basename(name).startsWith('.') || name.endsWith('.part'),
      );
    expect(smallDisk(renders, 64, true)).toBe(true);
    expect(await api.ended(job.id)).toMatchObject({ state: 'done', done: FRAMES, problem: null });
    expect(halves()).toEqual([]);
  },
  180_000,
);
