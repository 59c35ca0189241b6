import { zipSync } from 'fflate';
import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { FrameValues, Media, Project, UploadReply } from '../../core/base/schemas/types.ts';
import { ffmpeg, numberedPictures } from '../test/media-files.ts';
import type { Api } from '../test/api.ts';
import { temporaryFolder } from '../test/folders.ts';
import { startTestService, type TestService } from '../test/service.ts';

let service: TestService;
let api: Api;
const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
beforeAll(async () => {
  mkdirSync(folder.path, { recursive: true });
  service = await startTestService();
  api = service.api;
});
afterAll(async () => {
  await service.end();
  folder.remove();
});

const newProject = () => api.call<Project>('POST', '/projects', { name: 'Plates' });
async function correct(id: number, corrections: object): Promise<Media> {
  const { job } = await api.call<UploadReply>('PUT', `/media/${id}/corrections`, { corrections });
  await api.ended(job.id);
  return api.call('GET', `/media/${id}`);
}
const values = (id: number, frame: number, box = 'x=0&y=0&width=400&height=400') =>
  api.call<FrameValues>('GET', `/media/${id}/frames/${frame}/values?${box}`);

/** How unlike neighbouring rows are: combs of interlaced film. */
async function combing(id: number): Promise<number> {
  const { data, info } = await sharp(await api.bytes(`/media/${id}/frames/4.png`))
    .greyscale()
    .raw()
    .toBuffer({ resolveWithObject: true });
  let sum = 0;
  for (let y = 1; y < info.height - 1; y++)
    for (let x = 0; x < info.width; x++)
      sum += Math.abs(
        2 * data[y * info.width + x]! - data[(y - 1) * info.width + x]! - data[(y + 1) * info.width + x]!,
      );
  return sum;
}

describe('a sequence with a gap', () => {
  test('is asked about, then held or stopped, and can be decided anew', async () => {
    const codes = await numberedPictures(at('gap'), [1015, 1016, 1020]);
    const zip = zipSync(
      Object.fromEntries(
        [1015, 1016, 1020].map((n) => [`beds.${n}.png`, new Uint8Array(readFileSync(at(`gap/shot.${n}.png`)))]),
      ),
    );
    const project = await newProject();
    const { media } = await api.bringIn(project.id, 'beds.zip', zip);
    expect(media).toMatchObject({
      state: 'failed',
      problemCode: 'sequence-gap',
      problem: expect.stringMatching(/missing 1017–1019/) as unknown,
    });
    // It stays in the list: a person still has a say.
    expect((await api.call<Media[]>('GET', `/projects/${project.id}/media`)).map((m) => m.id)).toContain(media.id);
    const held = await correct(media.id, { gaps: 'hold' });
    expect(held).toMatchObject({
      state: 'ready',
      kind: 'sequence',
      facts: {
        frames: 6,
        firstFrameNumber: 1015,
        missing: [[1017, 1019]],
        gaps: 'hold',
        notes: ['missing 1017–1019: the last picture before is held'],
      },
    });
    for (const frame of [1, 2, 4])
      expect((await values(media.id, frame, 'x=3&y=2&width=1&height=1')).mean).toEqual(
        [0, 1, 2].map((c) => codes[1]![(2 * 48 + 3) * 3 + c]! / 255),
      );
    expect((await values(media.id, 5, 'x=3&y=2&width=1&height=1')).mean[0]).toBe(codes[2]![(2 * 48 + 3) * 3]! / 255);
    expect(await correct(media.id, { gaps: 'stop' })).toMatchObject({ facts: { frames: 2, gaps: 'stop' } });
    // The frames made the first time are still there: deciding back costs nothing.
    expect(await correct(media.id, { gaps: 'hold', rate: [24, 1] })).toMatchObject({
      facts: { frames: 6, rate: [24, 1] },
    });
  });
});

describe('corrections', () => {
  test('what the file says wrongly is put right; taking a correction back asks the file again', async () => {
    await ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=64x48:r=25:d=0.4',
      '-pix_fmt',
      'yuv420p',
      '-c:v',
      'ffv1',
      at('bare.mkv'),
    );
    const { media } = await api.bringIn((await newProject()).id, 'bare.mkv', readFileSync(at('bare.mkv')));
    expect(media.facts).toMatchObject({ matrix: 'bt601', range: 'limited', transfer: 'srgb', rate: [25, 1] });
    const before = await values(media.id, 0);
    const changed = await correct(media.id, {
      matrix: 'bt709',
      range: 'full',
      rate: [24000, 1001],
      firstFrameNumber: 1001,
      rotation: 90,
      transfer: 'pq',
      primaries: 'bt2020',
    });
    expect(changed.facts).toMatchObject({
      width: 48,
      height: 64,
      matrix: 'bt709',
      range: 'full',
      rate: [24000, 1001],
      firstFrameNumber: 1001,
      rotation: 90,
      transfer: 'pq',
      primaries: 'bt2020',
      assumed: [],
    });
    expect(changed.view).not.toBe(media.view);
    expect(Math.abs((await values(media.id, 0)).mean[0] - before.mean[0])).toBeGreaterThan(0.005);
    expect((await correct(media.id, {})).facts).toEqual(media.facts);
    expect(
      (await api.request('PUT', `/media/${media.id}/corrections`, { corrections: { rate: [0, 1] } })).body,
    ).toMatchObject({ code: 'bad-field' });
  });
  test('interlaced film is said to be, and made progressive on request', async () => {
    await ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=96x64:r=50:d=0.4',
      '-vf',
      'tinterlace=interleave_top,setfield=tff',
      '-flags',
      '+ilme+ildct',
      '-c:v',
      'mpeg2video',
      '-q:v',
      '1',
      '-pix_fmt',
      'yuv420p',
      at('fields.mkv'),
    );
    const { media } = await api.bringIn((await newProject()).id, 'fields.mkv', readFileSync(at('fields.mkv')));
    expect(media.facts).toMatchObject({
      fieldOrder: 'top-first',
      deinterlace: false,
      notes: [expect.stringMatching(/^interlaced, top field first: following and pinning want it deinterlaced/)],
    });
    const combed = await combing(media.id);
    const clean = await combing((await correct(media.id, { deinterlace: true })).id);
    expect(clean).toBeLessThan(combed * 0.92);
  });
  test('a colour table is for viewing; a table that is none is refused', async () => {
    await ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'color=c=0x804020:s=32x32:r=25:d=0.1',
      '-pix_fmt',
      'rgb24',
      '-c:v',
      'png',
      at('flat.mov'),
    );
    const { media } = await api.bringIn((await newProject()).id, 'flat.mov', readFileSync(at('flat.mov')));
    const table = 'LUT_3D_SIZE 2\n1 1 1\n0 1 1\n1 0 1\n0 0 1\n1 1 0\n0 1 0\n1 0 0\n0 0 0\n';
    const seen = await api.call<Media>('PUT', `/media/${media.id}/lut`, { name: 'negative.cube', text: table });
    expect(seen).toMatchObject({ lut: 'negative.cube' });
    expect(seen.view).not.toBe(media.view);
    const pixel = async () => [
      ...(
        await sharp(await api.bytes(`/media/${media.id}/frames/0.png`))
          .raw()
          .toBuffer()
      ).subarray(0, 3),
    ];
    const codes = (await values(media.id, 0)).mean.map((v) => Math.round(v * 255));
    expect(await pixel()).toEqual(codes.map((v) => 255 - v));
    expect(
      (await api.request('PUT', `/media/${media.id}/lut`, { name: 'x.cube', text: 'LUT_3D_SIZE 2\n0 0 0' })).body,
    ).toMatchObject({
      code: 'bad-lut',
      message: expect.stringMatching(/x\.cube .* 1 entries instead of 8/) as unknown,
    });
    await api.call('DELETE', `/media/${media.id}/lut`);
    expect(await pixel()).toEqual(codes);
  });
});

describe('deep plates', () => {
  test('half float: what lies above 1 and below 0 is read, and seen when the view is darkened', async () => {
    await ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'color=c=white:s=32x32:r=25:d=0.1',
      '-vf',
      'format=gbrpf32le,colorlevels=romin=0',
      '-frames:v',
      '2',
      '-c:v',
      'exr',
      '-start_number',
      '1',
      at('plain.%04d.exr'),
    );
    const { writeExr } = await import('../media/write-exr.ts');
    const data = new Float32Array(32 * 32 * 3).map((_, i) => [4, -0.25, 0.5][i % 3]!);
    writeExr(at('sun.0001.exr'), { width: 32, height: 32, data, peak: 1 });
    writeExr(at('sun.0002.exr'), { width: 32, height: 32, data, peak: 1 });
    const zip = zipSync({
      'sun.0001.exr': new Uint8Array(readFileSync(at('sun.0001.exr'))),
      'sun.0002.exr': new Uint8Array(readFileSync(at('sun.0002.exr'))),
    });
    const { media } = await api.bringIn((await newProject()).id, 'sun.zip', zip);
    expect(media.facts).toMatchObject({ bits: 32, transfer: 'linear', frames: 2 });
    expect((await values(media.id, 1)).mean).toEqual([4, -0.25, 0.5]);
    const pixel = async (ev: number) => [
      ...(
        await sharp(await api.bytes(`/media/${media.id}/frames/0.png?ev=${ev}`))
          .raw()
          .toBuffer()
      ).subarray(0, 3),
    ];
    expect(await pixel(0)).toEqual([255, 0, 188]);
    // Three stops down, 4 is 0.5: code 188 of IEC 61966-2-1.
    expect((await pixel(-3))[0]).toBe(188);
    expect((await api.request('GET', `/media/${media.id}/frames/0.png?ev=40`)).status).toBe(400);
  });
});
