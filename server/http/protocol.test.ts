import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { DocumentReply, Project, Shot } from '../../core/base/schemas/types.ts';
import { startTestService, type TestService } from '../test/service.ts';

let service: TestService, shot: Shot;
beforeAll(async () => {
  service = await startTestService({ YARLOP_WORKERS: '0' });
  const project = await service.api.call<Project>('POST', '/projects', { name: 'Protocol' });
  shot = await service.api.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'One' });
}, 60_000);
afterAll(() => service.end());

const ask = (method: string, path: string, headers: Record<string, string>, body?: unknown) =>
  fetch(`${service.address}/api/v1${path}`, {
    method,
    headers: { 'Content-Type': 'application/json', ...headers },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });

// RFC 9457, section 3.1: the members of a problem details object and its media type.
test('what goes wrong is answered as problem details', async () => {
  const response = await ask('GET', '/shots/999', {});
  const problem = (await response.json()) as Record<string, unknown>;
  expect(response.status).toBe(404);
  expect(response.headers.get('content-type')).toMatch(/^application\/problem\+json/);
  expect(problem).toMatchObject({
    type: 'urn:yarlop:problem:not-found',
    title: 'not found',
    status: 404,
    detail: 'There is no shot 999. It may have been deleted. Go back to the list.',
    code: 'not-found',
  });
  expect(problem.instance).toMatch(/^urn:uuid:[0-9a-f-]{36}$/);
});

// RFC 9110, sections 8.8.3 (ETag) and 13.1.1, 13.1.2 (If-Match, If-None-Match).
describe('entity tags of a document', () => {
  test('name its revision; unchanged it is not sent again; a change for another revision is refused and nothing saved', async () => {
    const first = await ask('GET', `/shots/${shot.id}/document`, {});
    const { revision, document } = (await first.json()) as DocumentReply;
    expect(first.headers.get('etag')).toBe(`"${revision}"`);
    expect(
      (
        await ask('GET', `/shots/${shot.id}/document`, {
          'If-None-Match': `"${revision}"`,
          'Cache-Control': 'max-age=0',
        })
      ).status,
    ).toBe(304);
    const refused = await ask(
      'PUT',
      `/shots/${shot.id}/document`,
      { 'If-Match': '"77"' },
      { base: revision, document: { ...document, referenceFrame: 3 } },
    );
    expect(refused.status).toBe(412);
    expect(await refused.json()).toMatchObject({ code: 'changed-meanwhile' });
    expect(((await (await ask('GET', `/shots/${shot.id}/document`, {})).json()) as DocumentReply).revision).toBe(
      revision,
    );
    const saved = await ask(
      'PUT',
      `/shots/${shot.id}/document`,
      { 'If-Match': `"76", "${revision}"` },
      { base: revision, document: { ...document, referenceFrame: 3 } },
    );
    expect(saved.status).toBe(200);
    expect(saved.headers.get('etag')).toBe(`"${revision + 1}"`);
    expect(
      (await ask('PUT', `/shots/${shot.id}/document`, { 'If-Match': '*' }, { base: revision + 1, document })).status,
    ).toBe(200);
  });
});

describe('Idempotency-Key', () => {
  const make = (key: string, name: string) => ask('POST', '/projects', { 'Idempotency-Key': key }, { name });
  const count = async (name: string) =>
    (await service.api.call<Project[]>('GET', '/projects')).filter((p) => p.name === name).length;
  test('asked twice, or ten times at once, a project is made once and the answer is the same', async () => {
    const one = (await (await make('k-1', 'Once')).json()) as Project;
    const again = await make('k-1', 'Once');
    expect(again.headers.get('idempotent-replay')).toBe('true');
    expect(await again.json()).toEqual(one);
    const many = await Promise.all(Array.from({ length: 10 }, () => make('k-2', 'Many')));
    expect(many.every((r) => r.status === 200 || r.status === 409)).toBe(true);
    expect([await count('Once'), await count('Many')]).toEqual([1, 1]);
  });
  test('another request under the same key is refused; what failed may be tried again; a bad key is named', async () => {
    expect(await (await make('k-1', 'Other')).json()).toMatchObject({ code: 'key-used' });
    expect((await make('k-3', '')).status).toBe(400);
    expect((await make('k-3', '')).status).toBe(400);
    expect(await (await make('a b', 'X')).json()).toMatchObject({ code: 'bad-field' });
    expect(await count('X')).toBe(0);
  });
});

// RFC 8288, section 3: a Link header with the relation "next".
test('long lists come in parts; a Link leads to the next', async () => {
  const { api } = service;
  const { id } = await api.call<Project>('POST', '/projects', { name: 'Long' });
  for (const name of ['A', 'B', 'C', 'D', 'E']) await api.call('POST', `/projects/${id}/shots`, { name });
  const seen: string[] = [];
  let next: string | null = `/api/v1/projects/${id}/shots?limit=2`;
  let asked = 0;
  while (next && asked++ < 9) {
    const response: Response = await fetch(service.address + next);
    const link: string | null = response.headers.get('link');
    seen.push(...((await response.json()) as Shot[]).map((one) => one.name));
    next = /^<([^>]+)>; rel="next"$/.exec(link ?? '')?.[1] ?? null;
  }
  expect(asked).toBe(3);
  expect(seen).toEqual(['A', 'B', 'C', 'D', 'E']);
  expect(await api.request('GET', `/projects/${id}/shots?limit=0`)).toMatchObject({
    status: 400,
    body: { code: 'bad-field' },
  });
  expect(await api.request('GET', `/projects/${id}/shots?limit=2&after=999999`)).toMatchObject({ status: 404 });
  expect((await api.request('GET', `/projects/${id}/shots`)).headers.get('link')).toBe(null);
});
