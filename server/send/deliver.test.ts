import { createHash } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { codeToLight } from '../../core/base/image/transfer.ts';
import type { DeliveryFormat, Job, RenderRequest } from '../../core/base/schemas/types.ts';
import { readExrFile } from '../media/exr-file.ts';
import { temporaryFolder } from '../test/folders.ts';
import { preparedShot } from '../test/prepared-shot.ts';
import { startTestService, type TestService } from '../test/service.ts';
import { zipped, tool, meanOff } from '../test/film-frames.ts';

const FRAMES = 5;
const folder = temporaryFolder();
let service: TestService, shotId: number, exact: Buffer[];

beforeAll(async () => {
  service = await startTestService();
  const { shot } = await preparedShot(service.api, FRAMES, { followed: true });
  shotId = shot.id;
  const { files } = await written({ output: 'png' });
  exact = await Promise.all(Object.values(zipped(files[0]!)).map((bytes) => sharp(bytes).raw().toBuffer()));
}, 120_000);
afterAll(async () => {
  await service.end();
  folder.remove();
});

async function written(
  request: Partial<RenderRequest>,
): Promise<{ job: Job; files: { name: string; bytes: Buffer }[] }> {
  const job = await service.api.ended(
    (
      await service.api.call<Job>('POST', `/shots/${shotId}/render`, {
        frames: [0, FRAMES - 1],
        output: 'h264',
        ...request,
      })
    ).id,
  );
  if (job.state !== 'done') throw new Error(job.problem ?? job.state);
  const files = [];
  for (const { name } of job.render!.files)
    files.push({ name, bytes: await service.api.bytes(`/jobs/${job.id}/files/${name}`) });
  return { job, files };
}
/** A film's frames as 8-bit codes, decoded by the matrix and range that its tags tell. */
async function framesOf(file: string): Promise<Buffer[]> {
  const raw = join(folder.path, 'frames.rgb');
  await tool('ffmpeg', [
    '-y',
    '-i',
    file,
    '-vf',
    'scale=in_color_matrix=bt709:in_range=auto:flags=accurate_rnd+full_chroma_int+bicubic',
    '-f',
    'rawvideo',
    '-pix_fmt',
    'rgb24',
    raw,
  ]);
  const bytes = readFileSync(raw);
  const size = 640 * 360 * 3;
  return Array.from({ length: bytes.length / size }, (_, i) => bytes.subarray(i * size, (i + 1) * size));
}

describe('films', () => {
  // What ffprobe tells of colour is named as in ITU-T H.273.
  test.each<[DeliveryFormat, string, string, string, number]>([
    ['h264', 'h264', '.mp4', 'yuv420p', 2],
    ['hevc', 'hevc', '.mp4', 'yuv420p', 2.1],
    ['vp9', 'vp9', '.webm', 'yuv420p', 2],
    ['av1', 'av1', '.mp4', 'yuv420p', 2.2],
    ['ffv1', 'ffv1', '.mkv', 'bgr0', 0],
  ])(
    '%s: coded, sized, timed and tagged as given, the right frames',
    async (output, codec, ending, pixels, off) => {
      const {
        files: [film],
      } = await written({ output, settings: { pattern: '{project}_{shot}-{version}', timecode: '01:00:00:00' } });
      const file = join(folder.path, `film${ending}`);
      expect(film!.name).toMatch(new RegExp(`^trial-orders-laptop-\\d{3}\\${ending}$`));
      writeFileSync(file, film!.bytes);
      const told = JSON.parse(
        await tool('ffprobe', ['-count_frames', '-show_streams', '-show_format', '-of', 'json', file]),
      ) as {
        streams: Record<string, string | number | Record<string, string>>[];
        format: { tags?: Record<string, string> };
      };
      const [video] = told.streams;
      expect(video).toMatchObject({
        codec_name: codec,
        width: 640,
        height: 360,
        pix_fmt: pixels,
        r_frame_rate: '25/1',
        nb_read_frames: String(FRAMES),
        color_primaries: 'bt709',
        color_transfer: 'bt709',
        color_range: output === 'ffv1' ? 'pc' : 'tv',
      });
      if (output !== 'ffv1') expect(video!.color_space).toBe('bt709');
      expect(JSON.stringify(told).toLowerCase()).toContain('"timecode":"01:00:00:00"');
      const frames = await framesOf(file);
      expect(frames).toHaveLength(FRAMES);
      frames.forEach((frame, i) => expect(meanOff(frame, exact[i]!), `frame ${i}`).toBeLessThanOrEqual(off));
      if (output === 'ffv1') {
        // The same codes, as sums that ffmpeg reckons over the decoded frames.
        const sums = await tool('ffmpeg', ['-i', file, '-pix_fmt', 'rgb24', '-f', 'framemd5', '-']);
        expect(
          sums
            .split('\n')
            .filter((l) => /^0/.test(l))
            .map((l) => l.split(',').at(-1)!.trim()),
        ).toEqual(exact.map((codes) => createHash('md5').update(codes).digest('hex')));
      }
    },
    60_000,
  );

  test('several layers at once; smaller; handles as far as the plate has frames', async () => {
    const { job, files } = await written({
      frames: [1, 3],
      layers: ['full', 'matte'],
      settings: { scale: 0.5, handles: 2, quality: 'small' },
    });
    expect(job).toMatchObject({ total: FRAMES, frames: [0, FRAMES - 1] });
    expect(files.map((f) => f.name)).toEqual([
      expect.stringMatching(/^orders-laptop-full-v\d{3}\.mp4$/),
      expect.stringMatching(/^orders-laptop-matte-v\d{3}\.mp4$/),
    ]);
    const file = join(folder.path, 'small.mp4');
    writeFileSync(file, files[1]!.bytes);
    expect(
      (
        await tool('ffprobe', [
          '-select_streams',
          'v',
          '-count_frames',
          '-show_entries',
          'stream=width,height,nb_read_frames',
          '-of',
          'csv=p=0',
          file,
        ])
      ).trim(),
    ).toBe(`320,180,${FRAMES}`);
  });
});

describe('numbered pictures', () => {
  test('16 bits, TIFF and EXR hold the same picture; numbers as given', async () => {
    const deep = zipped(
      (await written({ frames: [2, 2], output: 'png16', settings: { firstNumber: 1001 } })).files[0]!,
    );
    const tiff = zipped((await written({ frames: [2, 2], output: 'tiff' })).files[0]!);
    const exr = zipped(
      (await written({ frames: [2, 2], output: 'exr', settings: { timecode: '10:00:00:02' } })).files[0]!,
    );
    expect(Object.keys(deep)[0]).toMatch(/\.1001\.png$/);
    expect(Object.keys(tiff)[0]).toMatch(/\.0002\.tif$/);
    for (const bytes of [Object.values(deep)[0]!, Object.values(tiff)[0]!]) {
      const { data, info } = await sharp(bytes)
        .toColourspace('rgb16')
        .raw({ depth: 'ushort' })
        .toBuffer({ resolveWithObject: true });
      const codes = new Uint16Array(data.buffer, data.byteOffset, info.width * info.height * 3);
      expect(info.channels).toBe(3);
      expect(codes.every((v, i) => v === exact[2]![i]! * 257)).toBe(true);
    }
    const file = join(folder.path, 'one.exr');
    writeFileSync(file, Object.values(exr)[0]!);
    const { channels } = readExrFile(file);
    expect([...channels.keys()]).toEqual(['B', 'G', 'R']);
    for (let i = 0; i < 640 * 360; i += 997)
      expect(channels.get('G')![i]).toBeCloseTo(codeToLight(exact[2]![3 * i + 1]! / 255), 3);
    // Read by ffmpeg's own OpenEXR decoder: the same light (its planes are green, blue, red).
    await tool('ffmpeg', ['-y', '-i', file, '-f', 'rawvideo', '-pix_fmt', 'gbrpf32le', join(folder.path, 'one.raw')]);
    const bytes = readFileSync(join(folder.path, 'one.raw'));
    const planes = new Float32Array(bytes.buffer, bytes.byteOffset, 3 * 640 * 360);
    for (let i = 0; i < 640 * 360; i += 101) expect(planes[i]).toBe(channels.get('G')![i]);
    const header = Buffer.from(Object.values(exr)[0]!).subarray(0, 800).toString('latin1');
    for (const name of ['framesPerSecond', 'timeCode', 'chromaticities', 'comments']) expect(header).toContain(name);
  });

  test('the insert has straight alpha in PNG; what is burnt in stands in the corner and nowhere else', async () => {
    const insert = await sharp(
      Object.values(zipped((await written({ frames: [2, 2], output: 'png', layers: ['insert'] })).files[0]!))[0],
    )
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(insert.info.channels).toBe(4);
    const shares = insert.data.filter((_, i) => i % 4 === 3);
    expect(shares.includes(255) && shares.includes(0)).toBe(true);
    const solid = shares.findIndex((a, i) => a === 255 && i > 640 * 180);
    for (let c = 0; c < 3; c++)
      expect(Math.abs(insert.data[4 * solid + c]! - exact[2]![3 * solid + c]!)).toBeLessThanOrEqual(1);
    const burnt = await sharp(
      Object.values(
        zipped(
          (
            await written({
              frames: [2, 2],
              output: 'png',
              settings: { burnIn: { frame: true, name: true, version: true } },
            })
          ).files[0]!,
        ),
      )[0],
    )
      .raw()
      .toBuffer();
    let changed = 0;
    let bright = 0;
    for (let i = 0; i < burnt.length; i += 3) {
      if (burnt[i] === exact[2]![i] && burnt[i + 1] === exact[2]![i + 1]) continue;
      changed++;
      const x = (i / 3) % 640;
      const y = Math.floor(i / 3 / 640);
      expect(x < 400 && y > 320, `${x},${y}`).toBe(true);
      if (burnt[i]! > 200) bright++;
    }
    expect(bright).toBeGreaterThan(60);
    expect(changed).toBeGreaterThan(1000);
  });
});

test('sound of the plate goes with the film where it is wanted', async () => {
  const file = join(folder.path, 'loud.mp4');
  await tool('ffmpeg', [
    '-y',
    '-f',
    'lavfi',
    '-i',
    'testsrc=size=320x240:rate=25:duration=0.4',
    '-f',
    'lavfi',
    '-i',
    'sine=frequency=440:duration=0.4',
    '-pix_fmt',
    'yuv420p',
    '-c:v',
    'libx264',
    '-c:a',
    'aac',
    '-shortest',
    file,
  ]);
  const { project } = await service.api.call<{ project: { id: number } }>('GET', `/shots/${shotId}`);
  const plate = await service.api.bringIn(project.id, 'loud.mp4', readFileSync(file));
  const shot = await service.api.call<{ id: number }>('POST', `/projects/${project.id}/shots`, { name: 'Loud' });
  await service.api.call('PUT', `/shots/${shot.id}/plate`, { mediaId: plate.media.id });
  const detail = await service.api.call<{ document: object; shot: { revision: number } }>('GET', `/shots/${shot.id}`);
  const media = await service.api.call<{ id: number; name: string }[]>('GET', `/projects/${project.id}/media`);
  await service.api.call('PUT', `/shots/${shot.id}/document`, {
    base: detail.shot.revision,
    document: {
      ...detail.document,
      regions: [
        {
          points: [
            [40, 40],
            [280, 40],
            [280, 200],
            [40, 200],
          ],
        },
      ],
      corners: [
        [60, 60],
        [260, 60],
        [260, 180],
        [60, 180],
      ],
      contentId: media.find((m) => m.name === 'orders.png')!.id,
    },
  });
  await service.api.ended((await service.api.call<Job>('POST', `/shots/${shot.id}/follow`, { direction: 'both' })).id);
  for (const [audio, streams] of [
    ['keep', 'h264\naac'],
    ['drop', 'h264'],
  ] as const) {
    const job = await service.api.ended(
      (
        await service.api.call<Job>('POST', `/shots/${shot.id}/render`, {
          frames: [2, 7],
          output: 'h264',
          settings: { audio },
        })
      ).id,
    );
    const film = join(folder.path, `${audio}.mp4`);
    writeFileSync(film, await service.api.bytes(`/jobs/${job.id}/files/${job.render!.files[0]!.name}`));
    expect((await tool('ffprobe', ['-show_entries', 'stream=codec_name', '-of', 'csv=p=0', film])).trim()).toBe(
      streams,
    );
  }
}, 60_000);
