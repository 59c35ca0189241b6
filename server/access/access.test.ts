import { request } from 'node:http';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { AccessSession, Account, MadeToken, Project, Shot } from '../../core/base/schemas/types.ts';
import { startTestService, type TestService } from '../test/service.ts';
import { hashOfPassword, isPassword } from './secrets.ts';
import { scopeOf } from './scopes.ts';

/** As bound elsewhere than to this machine: whoever asks is asked who they are. */
let service: TestService, owner: string, project: Project;
const PASSWORD = 'panes and putty 7';

/** The session cookie of a reply. */
const cookieOf = (headers: Headers): string => (headers.get('set-cookie') ?? '').split(';')[0]!;
const withCookie = (cookie: string) => service.api.as({ Cookie: cookie });
const withToken = (secret: string) => service.api.as({ Authorization: `Bearer ${secret}` });
/** A request with headers that fetch would not let through. */
function raw(
  headers: Record<string, string>,
  method = 'GET',
  path = '/health',
): Promise<{ status: number; code: string }> {
  return new Promise((resolve, reject) => {
    const asked = request(`${service.address}/api/v1${path}`, { method, headers }, (res) => {
      let text = '';
      res.on('data', (some: Buffer) => (text += some.toString()));
      res.on('end', () =>
        resolve({ status: res.statusCode!, code: (JSON.parse(text) as { code?: string }).code ?? '' }),
      );
    });
    asked.on('error', reject);
    asked.end();
  });
}

beforeAll(async () => {
  service = await startTestService({
    YARLOP_WORKERS: '0',
    YARLOP_SIGN_IN: 'yes',
    YARLOP_NAMES: 'bench.fernhollow.example',
  });
}, 60_000);
afterAll(() => service.end());

describe('the first account', () => {
  test('nothing is to be had before, but that the service runs', async () => {
    const { api } = service;
    expect(await api.call('GET', '/access/session')).toMatchObject({
      needed: true,
      setUp: true,
      name: null,
      scopes: [],
    });
    expect((await api.request('GET', '/health')).status).toBe(200);
    for (const path of [
      '/projects',
      '/PROJECTS',
      '/projects/',
      '/events',
      '/workers',
      '/access/tokens',
      '/media/1',
      '/shots/1/export/corners-csv',
      '/guestbook',
    ]) {
      const response = await fetch(`${service.address}/api/v1${path}`);
      expect(response.status, path).toBe(401);
      expect(await response.json()).toMatchObject({
        code: 'sign-in-needed',
        remedy: 'Sign in, or send a token (Authorization: Bearer …).',
      });
    }
    // Files that are brought in by the tus protocol are no way round it.
    expect(
      (
        await fetch(`${service.address}/api/v1/uploads`, {
          method: 'POST',
          headers: { 'Tus-Resumable': '1.0.0', 'Upload-Length': '10' },
        })
      ).status,
    ).toBe(401);
  });
  test('is made with the code of the start, once', async () => {
    const { api } = service;
    expect(
      await api.request('POST', '/access/set-up', { code: 'guessed', name: 'Ada', password: PASSWORD }),
    ).toMatchObject({ status: 403, body: { code: 'bad-set-up' } });
    expect(
      await api.request('POST', '/access/set-up', { code: service.setUpCode, name: 'Ada', password: 'short' }),
    ).toMatchObject({ status: 400 });
    const made = await api.request('POST', '/access/set-up', {
      code: service.setUpCode,
      name: 'Ada',
      password: PASSWORD,
    });
    expect(made).toMatchObject({ status: 200, body: { name: 'Ada', role: 'owner' } });
    expect(made.headers.get('set-cookie')).toMatch(/HttpOnly; SameSite=Strict$/);
    owner = cookieOf(made.headers);
    expect(
      await api.request('POST', '/access/set-up', { code: service.setUpCode, name: 'Eve', password: PASSWORD }),
    ).toMatchObject({ status: 403 });
    project = await withCookie(owner).call<Project>('POST', '/projects', { name: 'House 4' });
  });
});

describe('roles', () => {
  test('an artist works but gives no rights; a reviewer looks and notes', async () => {
    const ada = withCookie(owner);
    for (const [name, role] of [
      ['Bea', 'artist'],
      ['Cem', 'reviewer'],
    ])
      await ada.call('POST', '/access/accounts', { name, role, password: PASSWORD });
    expect(
      await ada.request('POST', '/access/accounts', { name: 'bea', role: 'owner', password: PASSWORD }),
    ).toMatchObject({ status: 409, body: { code: 'name-taken' } });
    const session = async (name: string) =>
      withCookie(
        cookieOf((await service.api.request('POST', '/access/sign-in', { name, password: PASSWORD })).headers),
      );
    const bea = await session('Bea');
    const cem = await session('Cem');
    expect(await bea.call<AccessSession>('GET', '/access/session')).toEqual({
      needed: true,
      setUp: false,
      name: 'Bea',
      role: 'artist',
      scopes: ['read', 'note', 'render', 'edit'],
    });
    const shot = await bea.call<Shot>('POST', `/projects/${project.id}/shots`, { name: 'One' });
    expect(await bea.request('GET', '/access/accounts')).toMatchObject({
      status: 403,
      body: { code: 'not-allowed', message: 'You may not do this: it needs the right to manage.' },
    });
    expect(await bea.request('DELETE', `/projects/${project.id}`)).toMatchObject({ status: 403 });
    expect((await cem.request('GET', `/shots/${shot.id}`)).status).toBe(200);
    expect(await cem.request('PATCH', `/shots/${shot.id}`, { name: 'Two' })).toMatchObject({ status: 403 });
    expect(await cem.request('POST', `/shots/${shot.id}/render`, { frames: [0, 0], output: 'frames' })).toMatchObject({
      status: 403,
    });
    expect(await cem.request('POST', '/notes/1/answers', { author: 'Cem', words: 'Yes' })).toMatchObject({
      status: 404,
    });
    expect(((await ada.call<Shot>('GET', `/shots/${shot.id}`)) as unknown as { shot: Shot }).shot.name).toBe('One');
    // Their own password: with the old one; wherever else they are signed in, they are not any more.
    const elsewhere = await session('Cem');
    expect(
      await cem.request('PUT', '/access/password', { current: 'not this one', next: 'glass and putty 8' }),
    ).toMatchObject({ status: 401, body: { code: 'bad-password' } });
    expect(await cem.call('PUT', '/access/password', { current: PASSWORD, next: 'glass and putty 8' })).toMatchObject({
      name: 'Cem',
    });
    expect((await elsewhere.request('GET', '/projects')).status).toBe(401);
    expect((await cem.request('GET', '/projects')).status).toBe(200);
    expect(
      (await service.api.request('POST', '/access/sign-in', { name: 'Cem', password: 'glass and putty 8' })).status,
    ).toBe(200);
    // Taken away, an account is signed out everywhere; the last owner stays.
    const [first, second] = await ada.call<Account[]>('GET', '/access/accounts');
    await ada.call('DELETE', `/access/accounts/${second!.id}`);
    expect((await bea.request('GET', '/projects')).status).toBe(401);
    expect(await ada.request('DELETE', `/access/accounts/${first!.id}`)).toMatchObject({
      status: 409,
      body: { code: 'last-owner' },
    });
    await cem.call('POST', '/access/sign-out');
    expect((await cem.request('GET', '/projects')).status).toBe(401);
  });
  test('what a request asks for is determined by method and path', () => {
    expect(
      [
        ['GET', '/access/tokens'],
        ['GET', '/shots/1'],
        ['POST', '/notes/3/answers'],
        ['POST', '/shots/1/notes'],
        ['POST', '/shots/1/render'],
        ['POST', '/shots/1/variants/render'],
        ['POST', '/shots/1/renders'],
        ['PUT', '/shots/1/document'],
        ['POST', '/storage/sweep'],
        ['DELETE', '/projects/4'],
        ['DELETE', '/projects/4/x'],
      ].map(([method, path]) => scopeOf(method!, path!)),
    ).toEqual(['manage', 'read', 'note', 'note', 'render', 'render', 'edit', 'edit', 'manage', 'manage', 'edit']);
  });
});

test('a token may what its scopes say, until it runs out or is withdrawn', async () => {
  const ada = withCookie(owner);
  const make = (scopes: string[], days?: number) =>
    ada.call<MadeToken>('POST', '/access/tokens', { name: 'Farm', scopes, ...(days === undefined ? {} : { days }) });
  const reading = await make(['read']);
  const short = await make(['read'], 1e-9);
  const editing = await make(['read', 'edit']);
  expect((await withToken(reading.secret).request('GET', '/projects')).status).toBe(200);
  expect(await withToken(reading.secret).request('POST', '/projects', { name: 'No' })).toMatchObject({
    status: 403,
    body: { code: 'not-allowed' },
  });
  expect((await withToken(editing.secret).request('POST', '/projects', { name: 'Yes' })).status).toBe(200);
  expect(
    await withToken(editing.secret).request('POST', '/access/tokens', { name: 'More', scopes: ['manage'] }),
  ).toMatchObject({ status: 403 });
  expect(await withToken(short.secret).request('GET', '/projects')).toMatchObject({
    status: 401,
    body: { code: 'bad-token' },
  });
  expect(await withToken(`${reading.secret.slice(0, -1)}x`).request('GET', '/projects')).toMatchObject({ status: 401 });
  await ada.call('DELETE', `/access/tokens/${reading.token.id}`);
  expect(await withToken(reading.secret).request('GET', '/projects')).toMatchObject({ status: 401 });
  // The database knows no secret.
  const [rows] = await service.db.query('SELECT * FROM access_tokens');
  expect(JSON.stringify(rows)).not.toContain(editing.secret);
});

test('an idempotency key is its owner’s: another’s request under it is not answered with theirs', async () => {
  const ada = withCookie(owner);
  const other = await ada.call<MadeToken>('POST', '/access/tokens', { name: 'Other', scopes: ['read', 'edit'] });
  const ask = (headers: Record<string, string>) =>
    fetch(`${service.address}/api/v1/projects`, {
      method: 'POST',
      headers: { ...headers, 'Idempotency-Key': 'same', 'Content-Type': 'application/json' },
      body: '{"name":"Twice"}',
    }).then((res) => res.json() as Promise<Project>);
  const mine = await ask({ Cookie: owner });
  const again = await ask({ Cookie: owner });
  const theirs = await ask({ Authorization: `Bearer ${other.secret}` });
  expect(again.id).toBe(mine.id);
  expect(theirs.id).not.toBe(mine.id);
});

describe('pages of elsewhere', () => {
  test('a name that is not known is refused: it may have been pointed here (DNS rebinding)', async () => {
    const { port } = new URL(service.address);
    expect(await raw({ Host: `evil.example:${port}` })).toEqual({ status: 421, code: 'unknown-host' });
    for (const host of [
      `127.0.0.1:${port}`,
      `localhost:${port}`,
      `[::1]:${port}`,
      '192.168.7.9',
      'bench.fernhollow.example',
      'BENCH.fernhollow.example:80',
    ])
      expect((await raw({ Host: host })).status, host).toBe(200);
    for (const host of ['bench.fernhollow.example.evil.example', '127.0.0.1.evil.example', 'a b'])
      expect((await raw({ Host: host })).status, host).not.toBe(200);
  });
  test('a request that says it comes from elsewhere is refused, though it brings the cookie', async () => {
    const { host } = new URL(service.address);
    for (const origin of [
      'https://evil.example',
      `https://evil.example:${new URL(service.address).port}`,
      'null',
      `http://${host}.evil.example`,
    ])
      expect(await raw({ Host: host, Origin: origin, Cookie: owner }, 'POST', '/projects'), origin).toEqual({
        status: 403,
        code: 'other-origin',
      });
    expect(await raw({ Host: host, 'Sec-Fetch-Site': 'cross-site', Cookie: owner }, 'POST', '/projects')).toEqual({
      status: 403,
      code: 'other-origin',
    });
    expect((await raw({ Host: host, Origin: `http://${host}`, Cookie: owner }, 'GET', '/projects')).status).toBe(200);
  });
});

test('a password is kept as scrypt has it (RFC 7914), and tried only so often', async () => {
  const kept = await hashOfPassword('Käsebeet 12');
  expect(kept).toMatch(/^scrypt\$131072\$8\$1\$/);
  expect(await isPassword('Ka\u0308sebeet 12', kept)).toBe(true);
  expect(await isPassword('Kasebeet 12', kept)).toBe(false);
  const answers: number[] = [];
  for (let i = 0; i < 12; i++)
    answers.push(
      (
        await service.api.request('POST', '/access/sign-in', {
          name: i % 2 ? 'Ada' : 'Nobody',
          password: 'wrong wrong',
        })
      ).status,
    );
  expect(new Set(answers.slice(0, 5))).toEqual(new Set([401]));
  expect(answers.at(-1)).toBe(429);
}, 60_000);

test('RFC 7914, section 12: scrypt of a known password and salt', async () => {
  // N = 16384, r = 8, p = 1: "pleaseletmein", "SodiumChloride", 64 octets; a key of 32 is its beginning.
  const key = Buffer.from('7023bdcb3afd7348461c06cd81fd38ebfda8fbba904f8e3ea9b543f6545da1f2', 'hex');
  expect(
    await isPassword(
      'pleaseletmein',
      ['scrypt', 16384, 8, 1, Buffer.from('SodiumChloride').toString('base64url'), key.toString('base64url')].join('$'),
    ),
  ).toBe(true);
});
