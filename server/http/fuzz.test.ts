import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Job, Project, Shot, ShotDetail } from '../../core/base/schemas/types.ts';
import { fuzz } from '../test/fuzz.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

/** So many in the tests; `npm run bench:fuzz` sends ten thousand. */
const REQUESTS = 700;
let service: TestService;
beforeAll(async () => {
  service = await startTestService();
  const { api } = service;
  const { shot } = await preparedShot(api, 3, { reference: 1 });
  await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
  await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/render`, { frames: [0, 2], output: 'frames' })).id);
}, 120_000);
afterAll(() => service.end());

test('made-up requests to every route: none is a fault of the service, no document is damaged', async () => {
  const report = await fuzz(service.address, REQUESTS, 20261127);
  expect(report.faults).toEqual([]);
  // Right ones are among them, and wrong ones of several kinds.
  expect([...report.statuses.keys()]).toEqual(expect.arrayContaining([200, 400, 404]));
  expect(report.statuses.get(200)!).toBeGreaterThan(REQUESTS / 20);
  await documentsAreWhole();
}, 240_000);

/** Every document that is left can be read, and saved as it is. */
async function documentsAreWhole(): Promise<void> {
  const { api } = service;
  for (const project of await api.call<Project[]>('GET', '/projects'))
    for (const { id } of await api.call<Shot[]>('GET', `/projects/${project.id}/shots`)) {
      const { shot, document } = await api.call<ShotDetail>('GET', `/shots/${id}`);
      const saved = await api.request('PUT', `/shots/${id}/document`, { base: shot.revision, document });
      expect(saved.status, `shot ${id}`).toBe(200);
    }
}
