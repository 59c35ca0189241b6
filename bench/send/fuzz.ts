/** Ten thousand made-up requests to a service that works: `npm run bench:fuzz -- [count] [seed]`. */
import type { Job } from '../../core/base/schemas/types.ts';
import { fuzz } from '../../server/test/fuzz.ts';
import { preparedShot } from '../../server/test/prepared-shot.ts';
import { startTestService } from '../../server/test/service.ts';

const [count = 10_000, seed = 1] = process.argv.slice(2).map(Number);
const service = await startTestService();
try {
  const { api } = service;
  const { shot } = await preparedShot(api, 3, { reference: 1 });
  await api.ended((await api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
  const began = Date.now();
  const report = await fuzz(service.address, count, seed);
  console.log(
    `${report.asked} requests, seed ${seed}, ${((Date.now() - began) / 1000).toFixed(0)} s; answered ${[
      ...report.statuses,
    ]
      .sort(([a], [b]) => a - b)
      .map(([status, n]) => `${status}: ${n}`)
      .join(', ')}`,
  );
  for (const fault of report.faults) console.log(fault);
  let documents = 0;
  for (const { id } of await api.call<{ id: number }[]>('GET', '/projects'))
    for (const { id: one } of await api.call<{ id: number }[]>('GET', `/projects/${id}/shots`)) {
      await api.call('GET', `/shots/${one}`);
      documents++;
    }
  console.log(`${report.faults.length} faults; ${documents} documents, all whole`);
  process.exitCode = report.faults.length > 0 ? 1 : 0;
} finally {
  await service.end();
}
