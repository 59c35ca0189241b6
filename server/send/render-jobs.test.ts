import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { codeToLight } from '../../core/base/image/transfer.ts';
import type {
  Job,
  RenderLayer,
  RenderLedger,
  RenderRequest,
  RenderWorker,
  Shot,
  ShotDetail,
  ShotDocument,
} from '../../core/base/schemas/types.ts';
import { runTool } from '../media/run-tool.ts';
import { readExrFile } from '../media/exr-file.ts';
import { temporaryFolder } from '../test/folders.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';

const FRAMES = 6;
const folder = temporaryFolder();
let service: TestService, shot: Shot, document: ShotDocument;

beforeAll(async () => {
  service = await startTestService({ YARLOP_WORKERS: '2' });
  ({ shot, document } = await preparedShot(service.api, FRAMES));
  await service.api.ended((await service.api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
}, 120_000);
afterAll(async () => {
  await service.end();
  folder.remove();
});

const save = async (changed: Partial<ShotDocument>) => {
  const {
    shot: { revision },
  } = await service.api.call<ShotDetail>('GET', `/shots/${shot.id}`);
  await service.api.call('PUT', `/shots/${shot.id}/document`, {
    base: revision,
    document: { ...document, ...changed },
  });
};
const ledger = async (layer: RenderLayer = 'full') =>
  (await service.api.call<RenderLedger>('GET', `/shots/${shot.id}/ledger?layer=${layer}`)).frames;
const states = async (layer?: RenderLayer) => (await ledger(layer)).map((f) => f.state);
const render = async (request: Partial<RenderRequest> = {}): Promise<Job> => {
  const job = await service.api.call<Job>('POST', `/shots/${shot.id}/render`, {
    frames: [0, FRAMES - 1],
    output: 'frames',
    ...request,
  });
  const ended = await service.api.ended(job.id);
  if (ended.state !== 'done') throw new Error(ended.problem ?? ended.state);
  return ended;
};
const all = (state: string) => Array.from({ length: FRAMES }, () => state);

describe('jobs', () => {
  test('held on to, sent first, gone on with; only what is not done is done', async () => {
    await save({ look: { ...document.look, soften: 1.5 } });
    const job = await service.api.call<Job>('POST', `/shots/${shot.id}/render`, {
      frames: [0, FRAMES - 1],
      output: 'png',
      priority: -1,
    });
    expect(job.render).toMatchObject({ priority: -1, output: 'png', layers: ['full'] });
    expect(await service.api.call<Job>('POST', `/jobs/${job.id}/pause`)).toMatchObject({ state: 'paused' });
    expect((await service.api.request('POST', `/jobs/${job.id}/pause`)).body).toMatchObject({ code: 'job-not-paused' });
    expect(await service.api.call<Job>('PUT', `/jobs/${job.id}/priority`, { priority: 1 })).toMatchObject({
      state: 'paused',
      render: { priority: 1 },
    });
    // Another one passes it meanwhile.
    await render({ frames: [5, 5] });
    expect(await service.api.call<Job>('GET', `/jobs/${job.id}`)).toMatchObject({ state: 'paused' });
    await service.api.call('POST', `/jobs/${job.id}/resume`);
    expect(await service.api.ended(job.id)).toMatchObject({ state: 'done', done: FRAMES, total: FRAMES });
    expect((await service.api.request('POST', `/jobs/${job.id}/resume`)).body).toMatchObject({
      code: 'job-not-paused',
    });
    expect((await service.api.request('PUT', `/jobs/${job.id}/priority`, { priority: 7 })).status).toBe(400);
    await save({});
  });

  test('a frame that cannot be made is reported; the others are made; mended, it is gone on with', async () => {
    await save({ look: { ...document.look, soften: 1.7 } });
    const stored = readdirSync(join(service.dataFolder, 'frames'))
      .map((store) => join(service.dataFolder, 'frames', store, 'raw/000003.raw'))
      .find((file) => existsSync(file))!;
    const bytes = readFileSync(stored);
    rmSync(stored);
    const job = await service.api.call<Job>('POST', `/shots/${shot.id}/render`, {
      frames: [0, FRAMES - 1],
      output: 'png',
    });
    const failed = await service.api.ended(job.id);
    expect(failed).toMatchObject({ state: 'failed', done: FRAMES - 1, render: { failed: 1, files: [] } });
    expect(failed.problem).toMatch(
      /^1 of the frames could not be made; frame 3: The decoded frame 3 is not on the disk\. /,
    );
    expect((await ledger())[3]).toMatchObject({ state: 'failed' });
    writeFileSync(stored, bytes);
    await service.api.call('POST', `/jobs/${job.id}/resume`);
    expect(await service.api.ended(job.id)).toMatchObject({ state: 'done', done: FRAMES, render: { failed: 0 } });
    expect(await states()).toEqual(all('done'));
    await save({});
  });

  test('workers are named; what is asked wrongly is a sentence', async () => {
    const workers = await service.api.call<RenderWorker[]>('GET', '/workers');
    expect(workers).toHaveLength(2);
    expect(workers.every((w) => w.alive)).toBe(true);
    expect(workers.reduce((sum, w) => sum + w.frames, 0)).toBeGreaterThan(2 * FRAMES);
    const ask = async (request: object) =>
      (await service.api.request('POST', `/shots/${shot.id}/render`, { frames: [0, 1], output: 'h264', ...request }))
        .body as { code: string };
    expect(await ask({ frames: [2, 1] })).toMatchObject({ code: 'bad-range' });
    expect(await ask({ frames: [0, 99] })).toMatchObject({ code: 'frame-outside' });
    expect(await ask({ frames: [0, 4], every: 2 })).toMatchObject({ code: 'film-with-gaps' });
    expect(await ask({ settings: { pattern: '{shot}-{colour}' } })).toMatchObject({
      code: 'bad-field',
      message: expect.stringContaining('{colour}') as unknown,
    });
    expect(await ask({ layers: ['everything'] })).toMatchObject({ code: 'bad-field' });
    expect((await service.api.request('GET', `/shots/${shot.id}/ledger?layer=x`)).body).toMatchObject({
      code: 'bad-field',
    });
    for (const key of ['0'.repeat(64), '../../etc', 'x'])
      expect((await fetch(`${service.address}/api/v1/finished/${encodeURIComponent(key)}.png`)).status).toBe(404);
  });
});

describe('layers', () => {
  test('the insert over the plate is the finished picture; the matte is its alpha; the change is their difference', async () => {
    const job = await render({
      frames: [2, 2],
      output: 'exr',
      layers: ['full', 'insert', 'matte', 'difference', 'clean', 'flat', 'card'],
    });
    expect(job.render!.files.map((f) => f.layer).sort()).toEqual([
      'card',
      'clean',
      'difference',
      'flat',
      'full',
      'insert',
      'matte',
    ]);
    const read = async (layer: RenderLayer) => {
      const file = join(folder.path, `${layer}.exr`);
      const zip = unzipSync(
        new Uint8Array(
          await service.api.bytes(`/jobs/${job.id}/files/${job.render!.files.find((f) => f.layer === layer)!.name}`),
        ),
      );
      expect(Object.keys(zip)).toHaveLength(1);
      writeFileSync(file, Object.values(zip)[0]!);
      return readExrFile(file);
    };
    // All at once: what is reckoned between would let the connection lapse.
    const [full, insert, matte, change, flat] = [
      await read('full'),
      await read('insert'),
      await read('matte'),
      await read('difference'),
      await read('flat'),
    ];
    const media = await service.api
      .call<{ plate: { id: number } }>('GET', `/shots/${shot.id}`)
      .then((d) => (d as unknown as ShotDetail).shot.plate!.id);
    const plate = await sharp(Buffer.from(await service.api.bytes(`/media/${media}/frames/2.png`)))
      .removeAlpha()
      .raw()
      .toBuffer();
    const shown = matte.channels.get('Y')!;
    let covered = 0;
    let worst = 0;
    let alphaOff = 0;
    for (let i = 0; i < shown.length; i++) {
      const alpha = insert.channels.get('A')![i]!;
      alphaOff = Math.max(alphaOff, Math.abs(alpha - shown[i]!));
      if (alpha === 0) continue;
      covered++;
      ['R', 'G', 'B'].forEach(
        (name, c) =>
          (worst = Math.max(
            worst,
            Math.abs(
              insert.channels.get(name)![i]! +
                (1 - alpha) * codeToLight(plate[3 * i + c]! / 255) -
                full.channels.get(name)![i]!,
            ),
          )),
      );
    }
    expect(covered).toBeGreaterThan(20_000);
    expect(alphaOff).toBeLessThan(1e-3);
    // Halves have eleven digits.
    expect(worst).toBeLessThan(1e-3);
    const outside = shown.findIndex((v) => v === 0);
    expect(change.channels.get('G')![outside]).toBe(0);
    expect(flat.width / flat.height).toBeGreaterThan(1.2);
    // A reader of another house agrees on what the file holds (ffmpeg's own OpenEXR decoder).
    const other = await runTool(
      'ffprobe',
      [
        '-v',
        'error',
        '-show_entries',
        'stream=width,height,pix_fmt',
        '-of',
        'csv=p=0',
        join(folder.path, 'insert.exr'),
      ],
      20_000,
    );
    expect(other.stdout.trim()).toBe('exr,640,360,gbrapf32le'.replace('exr,', ''));
  });
});
