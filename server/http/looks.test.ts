import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Project, SavedLook } from '../../core/base/schemas/types.ts';
import type { Api } from '../test/api.ts';
import { startTestService, type TestService } from '../test/service.ts';

let service: TestService, api: Api, project: Project;
beforeAll(async () => {
  service = await startTestService();
  api = service.api;
  project = await api.call<Project>('POST', '/projects', { name: 'Looks' });
});
afterAll(() => service.end());
const keep = (name: string, look: unknown, frame = 0) =>
  api.request('POST', `/projects/${project.id}/looks`, { name, look, frame });
const kept = () => api.call<SavedLook[]>('GET', `/projects/${project.id}/looks`);

test('a look is kept under a name, without what belongs to one shot, and deleted', async () => {
  const look = {
    fit: 'fill',
    levels: { black: 0.05, white: 0.88 },
    soften: [
      { frame: 0, value: 1 },
      { frame: 10, value: 2 },
    ],
    radius: 20,
    why: { soften: { says: 'measured', certainty: 1 } },
  };
  expect((await keep('  Potting shed ', look, 5)).status).toBe(200);
  const [there] = await kept();
  expect(there).toMatchObject({ name: 'Potting shed' });
  expect(there!.look).toEqual({ levels: { black: 0.05, white: 0.88 }, soften: 1.5 });
  expect(await api.call('DELETE', `/looks/${there!.id}`)).toEqual([]);
  expect((await api.request('DELETE', `/looks/${there!.id}`)).status).toBe(404);
});

test('a name is used once in a project; the look that has it stays', async () => {
  await keep('Window', { soften: 1 });
  const again = await keep('Window', { soften: 2 });
  expect(again).toMatchObject({ status: 400, body: { code: 'bad-field' } });
  expect((again.body as { message: string }).message).toMatch(/"Window" is taken/);
  expect((await kept()).find((one) => one.name === 'Window')!.look).toEqual({ soften: 1 });
  const other = await api.call<Project>('POST', '/projects', { name: 'Another' });
  expect(
    (await api.request('POST', `/projects/${other.id}/looks`, { name: 'Window', look: {}, frame: 0 })).status,
  ).toBe(200);
});

test('what is no look is turned away with the field', async () => {
  for (const [look, field] of [
    [{ soften: 400 }, 'soften'],
    [{ levels: { gamma: 0 } }, 'gamma'],
    [{ sofften: 1 }, 'sofften'],
  ] as const) {
    const reply = await keep('Wrong', look);
    expect(reply.status).toBe(400);
    expect(JSON.stringify(reply.body)).toContain(field);
  }
  expect((await keep(' ', { soften: 1 })).status).toBe(400);
  expect((await api.request('GET', '/projects/999/looks')).status).toBe(404);
  expect((await kept()).some((one) => one.name === 'Wrong')).toBe(false);
});
