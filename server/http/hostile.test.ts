import { existsSync, readdirSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Job, Media, Project } from '../../core/base/schemas/types.ts';
import { hostileFiles, type HostileFile } from '../test/hostile-files.ts';
import { temporaryFolder } from '../test/folders.ts';
import { startTestService, type TestService } from '../test/service.ts';

/** Damaged and hostile files, brought in one after the other by the service as it is. */
let service: TestService;
let listener: Server;
let visits = 0;
let files: HostileFile[];
const folder = temporaryFolder();

beforeAll(async () => {
  service = await startTestService();
  listener = createServer((_req, res) => {
    visits++;
    res.end();
  });
  await new Promise<void>((ready) => listener.listen(0, '127.0.0.1', ready));
  files = await hostileFiles(folder.path, `http://127.0.0.1:${(listener.address() as AddressInfo).port}`);
}, 120_000);
afterAll(async () => {
  await service.end();
  listener.close();
  folder.remove();
});

test(
  'each gets a useful sentence within half a minute, and the server answers meanwhile',
  { timeout: 600_000 },
  async () => {
    expect(files.length).toBeGreaterThanOrEqual(40);
    const { api } = service;
    const project = await api.call<Project>('POST', '/projects', { name: 'What people bring' });
    let slowest = 0;
    const pulse = setInterval(() => {
      const asked = Date.now();
      void fetch(`${service.address}/api/v1/health`).then(() => (slowest = Math.max(slowest, Date.now() - asked)));
    }, 100);
    const faults: string[] = [];
    for (const { name, bytes, ends, words } of files) {
      const begun = Date.now();
      const { status, body } = await api.upload(project.id, name, bytes);
      expect(status, name).toBe(200);
      const { job, media } = body as { job: Job; media: Media };
      const ended = await api.ended(job.id, 40);
      const known = await api.call<Media>('GET', `/media/${media.id}`);
      const seconds = (Date.now() - begun) / 1000;
      const sentence = ended.problem ?? '';
      if (seconds > 30) faults.push(`${name} took ${seconds} s`);
      if (ended.state !== 'done' && ended.state !== 'failed') faults.push(`${name} ended ${ended.state}`);
      if (ends !== 'either' && known.state !== ends) faults.push(`${name} is ${known.state}: ${sentence}`);
      if (words && !words.test(sentence)) faults.push(`${name} says: ${sentence}`);
      // A sentence tells what and what to do, names the file as the person does, and gives away nothing of the machine.
      if (
        known.state === 'failed' &&
        (!/\w.*[^.]\. [A-Z].+\.$/s.test(sentence) ||
          /Something went wrong inside|\/tmp\/|[0-9a-f]{24}|unpacked-|Error marking|\(:/.test(sentence))
      )
        faults.push(`${name} says: ${sentence}`);
    }
    clearInterval(pulse);
    expect(faults).toEqual([]);
    expect(visits).toBe(0);
    expect(slowest).toBeLessThan(5000);
    // Nothing was written outside, and nothing half unpacked was left.
    expect(existsSync('/etc/shot.0001.png')).toBe(false);
    expect(readdirSync(join(service.dataFolder, 'frames')).filter((name) => name.startsWith('unpacked'))).toEqual([]);
  },
);
