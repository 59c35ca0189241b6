import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { MadeToken, ShotDocument } from '../../core/base/schemas/types.ts';
import { probeFilm } from '../../server/test/film-facts.ts';
import { ROOT, temporaryFolder } from '../../server/test/folders.ts';
import { shortClip } from '../../server/test/prepared-shot.ts';
import { startTestService, type TestService } from '../../server/test/service.ts';
import { inProcess, type Said } from '../test/in-process.ts';
import { COMMAND_NAMES, HELP, helpOf } from '../help.ts';

/** The command line as a person or a program elsewhere uses it on a server that asks who they are. */
let service: TestService, token: string, weak: string;
const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
const FRAMES = 6;
const REFERENCE = 2;

async function yarlop(...args: string[]): Promise<Said & { told: Record<string, never> }> {
  const said = await inProcess(folder.path, [...args, '--json']);
  return { ...said, told: (said.stdout.startsWith('{') ? JSON.parse(said.stdout) : {}) as Record<string, never> };
}
const by = (name: string, ...args: string[]) => yarlop(name, '--server', service.address, '--token', token, ...args);

beforeAll(async () => {
  service = await startTestService({ YARLOP_SIGN_IN: 'yes' });
  const made = await service.api.request('POST', '/access/set-up', {
    code: service.setUpCode,
    name: 'Ada',
    password: 'panes and putty 7',
  });
  const owner = service.api.as({ Cookie: made.headers.get('set-cookie')!.split(';')[0]! });
  const make = async (scopes: string[]) =>
    (await owner.call<MadeToken>('POST', '/access/tokens', { name: 'Line', scopes })).secret;
  token = await make(['read', 'edit', 'render']);
  weak = await make(['read']);
  writeFileSync(at('plate.mp4'), (await shortClip(FRAMES)).bytes);
}, 120_000);
afterAll(async () => {
  await service.end();
  folder.remove();
});

test('the whole job by a server, on the command line alone', async () => {
  const { truth } = await shortClip(1);
  const brought = await by(
    'bring-in',
    '--project',
    'House 4',
    '--plate',
    at('plate.mp4'),
    '--content',
    join(ROOT, 'demo/content/orders.png'),
    '--shot',
    'Orders',
  );
  expect(brought.stderr).not.toContain('yarlop: ');
  expect(brought).toMatchObject({ code: 0, told: { ok: true, command: 'bring-in' } });
  const shot = String(brought.told.shot);
  const project = String(brought.told.project);
  expect((await by('projects')).told).toMatchObject({
    projects: [{ name: 'House 4', shots: [{ id: Number(shot), name: 'Orders' }] }],
  });
  // Draw what is drawn in the interface otherwise.
  expect((await by('document', '--shot', shot, '--out', at('shot.json'))).code).toBe(0);
  const document = JSON.parse(readFileSync(at('shot.json'), 'utf8')) as ShotDocument;
  const corners = truth.frames[REFERENCE]!.corners as unknown as NonNullable<ShotDocument['corners']>;
  writeFileSync(
    at('shot.json'),
    JSON.stringify({ ...document, referenceFrame: REFERENCE, corners, regions: [{ points: corners }] }),
  );
  expect((await by('document', '--shot', shot, '--in', at('shot.json'))).told).toMatchObject({ ok: true, revision: 3 });
  expect((await by('track', '--shot', shot)).told).toMatchObject({ ok: true, frames: FRAMES });
  expect((await by('seat', '--shot', shot)).told).toMatchObject({ ok: true });
  expect((await by('look', '--shot', shot, '--out', at('look.json'))).code).toBe(0);
  const rendered = await by(
    'render',
    '--shot',
    shot,
    '--format',
    'h264',
    '--layers',
    'full,matte',
    '--out',
    at('result'),
  );
  expect(rendered.told).toMatchObject({
    ok: true,
    files: [expect.stringMatching(/orders-full-v001\.mp4$/), expect.stringMatching(/orders-matte-v001\.mp4$/)],
  });
  expect(await probeFilm(readFileSync(at('result/orders-full-v001.mp4')))).toMatchObject({
    codec: 'h264',
    frames: FRAMES,
  });
  expect(
    (await by('export', '--shot', shot, '--format', 'corners-csv', '--out', at('corners.csv'))).told,
  ).toMatchObject({ ok: true, file: at('corners.csv') });
  const imported = await by('import', '--shot', shot, '--in', at('corners.csv'), '--copy');
  expect(imported.told).toMatchObject({ ok: true, frames: FRAMES, faults: [] });
  expect(imported.told.shotId).not.toBe(Number(shot));
  writeFileSync(at('table.csv'), 'name,file\nEnglish,orders.png\nPolski,none.png\n');
  const filled = await by('variants', '--shot', shot, '--table', at('table.csv'));
  expect(filled.told).toMatchObject({ made: 2, problems: [expect.stringContaining('Line 3')] });
  expect(filled.stderr).toContain('there is no none.png');
  expect((await by('render', '--shot', shot, '--variants', '--frames', '1-2', '--out', at('all'))).code).toBe(0);
  expect(readdirSync(at('all'))).toEqual(['orders-english-full-v002.mp4']);
  expect((await by('archive', '--project', project, '--out', at('house.zip'))).code).toBe(0);
  expect(statSync(at('house.zip')).size).toBeGreaterThan(10_000);
  expect((await by('archive', '--in', at('house.zip'))).told).toMatchObject({ ok: true, damaged: [] });
  expect((await by('call', '--path', `/shots/${shot}/ledger`)).told).toMatchObject({ reply: { layer: 'full' } });
}, 240_000);

describe('what goes wrong is reported on both ways', () => {
  test('no token, one that may not, an address that is none, a server that is not there, options that are not known', async () => {
    const without = await yarlop('projects', '--server', service.address);
    expect(without).toMatchObject({
      code: 1,
      told: { ok: false, command: 'projects', code: 'server-refused', message: 'This service asks who you are.' },
    });
    expect(without.stderr).toBe(
      'yarlop: This service asks who you are. Sign in, or send a token (Authorization: Bearer …).\n',
    );
    expect(
      await yarlop(
        'bring-in',
        '--server',
        service.address,
        '--token',
        weak,
        '--project',
        'Mine',
        '--plate',
        at('plate.mp4'),
      ),
    ).toMatchObject({ code: 1, told: { message: 'You may not do this: it needs the right to edit.' } });
    expect(await yarlop('projects', '--server', 'ftp://x')).toMatchObject({ code: 1, told: { code: 'bad-field' } });
    expect(await yarlop('projects', '--server', 'http://127.0.0.1:9')).toMatchObject({
      code: 1,
      told: { code: 'server-unreachable' },
    });
    expect(await by('track', '--shot', '1', '--plate', 'x')).toMatchObject({
      code: 1,
      told: { code: 'unknown-option' },
    });
    expect(await by('splice', '--shot', '1')).toMatchObject({
      code: 1,
      told: { message: '"splice" works on files, not by a server.' },
    });
    expect(await by('render', '--shot', '9999', '--out', at('none'))).toMatchObject({
      code: 1,
      told: { message: 'There is no shot 9999.' },
    });
    expect(await by('archive', '--in', at('gone.zip'))).toMatchObject({ code: 1, told: { code: 'file-missing' } });
  }, 60_000);
  test('alone too: what was written, and what was wrong, as JSON', async () => {
    expect((await yarlop('probe', '--plate', at('plate.mp4'), '--out', at('facts.json'))).told).toEqual({
      ok: true,
      command: 'probe',
      wrote: [at('facts.json')],
    });
    expect((await yarlop('probe', '--plate', at('nothing.mp4'), '--out', at('facts2.json'))).told).toMatchObject({
      ok: false,
      code: 'file-missing',
      remedy: 'Check the path.',
    });
  }, 60_000);
});

test('every command teaches by how it is written', () => {
  for (const name of COMMAND_NAMES) {
    expect(HELP).toContain(`\n  yarlop ${name} `);
    expect(helpOf(name), name).toMatch(new RegExp(`^yarlop ${name}: .+\\n\\n  yarlop ${name} `));
  }
  expect(COMMAND_NAMES.filter((name) => !helpOf(name)!.includes('For example'))).toEqual(['pull']);
});
