import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import parseExr from 'parse-exr';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { CodedPicture } from '../../core/base/image/picture.ts';
import { pictureFromRaw } from '../../core/base/image/raw-frame.ts';
import { ffmpeg } from '../test/media-files.ts';
import { temporaryFolder } from '../test/folders.ts';
import { decodeFrames } from './decode.ts';
import { writePicture } from './encode.ts';
import { probe } from './probe.ts';
import { resolveSource } from './source.ts';
import { fitsHalf, writeExr } from './write-exr.ts';

/**
 * Every container, codec, depth and subsampling that is taken, made here by ffmpeg: right size, rate, count and
 * colour. Frames and their count are held against ffmpeg's own `framemd5` of the same clip.
 */
const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
afterAll(() => folder.remove());

const FRAMES = 4;
const BT709 = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709'];

const CLIPS: [string, string[], string, [number, number]][] = [
  ['h264-8.mp4', ['-c:v', 'libx264', '-qp', '0'], 'yuv420p', [25, 1]],
  ['h264-8.mov', ['-c:v', 'libx264', '-qp', '2'], 'yuv422p', [24000, 1001]],
  ['h264-444.mkv', ['-c:v', 'libx264', '-qp', '0'], 'yuv444p', [30, 1]],
  ['h264-10.mp4', ['-c:v', 'libx264', '-qp', '2'], 'yuv420p10le', [30000, 1001]],
  ['h264-422-10.mov', ['-c:v', 'libx264', '-qp', '2'], 'yuv422p10le', [25, 1]],
  [
    'hevc-8.mp4',
    ['-c:v', 'libx265', '-x265-params', 'lossless=1:log-level=none', '-tag:v', 'hvc1'],
    'yuv420p',
    [50, 1],
  ],
  ['hevc-10.mkv', ['-c:v', 'libx265', '-x265-params', 'lossless=1:log-level=none'], 'yuv422p10le', [25, 1]],
  ['hevc-12.mkv', ['-c:v', 'libx265', '-x265-params', 'lossless=1:log-level=none'], 'yuv444p12le', [25, 1]],
  ['vp9-8.webm', ['-c:v', 'libvpx-vp9', '-lossless', '1', '-cpu-used', '8'], 'yuv420p', [25, 1]],
  ['vp9-10.mkv', ['-c:v', 'libvpx-vp9', '-lossless', '1', '-cpu-used', '8'], 'yuv444p10le', [24, 1]],
  ['av1-8.mkv', ['-c:v', 'libaom-av1', '-crf', '4', '-cpu-used', '8'], 'yuv420p', [25, 1]],
  ['av1-10.mp4', ['-c:v', 'libaom-av1', '-crf', '4', '-cpu-used', '8'], 'yuv420p10le', [60, 1]],
  ['ffv1-8.mkv', ['-c:v', 'ffv1'], 'yuv420p', [25, 1]],
  ['ffv1-12.mkv', ['-c:v', 'ffv1'], 'yuv422p12le', [25, 1]],
  ['ffv1-rgb16.mkv', ['-c:v', 'ffv1', '-level', '3'], 'gbrp16le', [25, 1]],
  ['mjpeg.mov', ['-c:v', 'mjpeg', '-q:v', '1'], 'yuvj422p', [25, 1]],
  ['mjpeg.avi', ['-c:v', 'mjpeg', '-q:v', '1'], 'yuvj420p', [25, 1]],
  ['intra-422-10.mov', ['-c:v', 'prores_ks', '-profile:v', '3'], 'yuv422p10le', [25, 1]],
  ['intra-444-10.mov', ['-c:v', 'prores_ks', '-profile:v', '4'], 'yuv444p10le', [24000, 1001]],
  ['intra-8.mxf', ['-c:v', 'mpeg2video', '-g', '1', '-q:v', '1', '-b:v', '20M'], 'yuv422p', [25, 1]],
  ['v210.mov', ['-c:v', 'v210'], 'yuv422p10le', [25, 1]],
  ['intra-dnx.mxf', ['-c:v', 'dnxhd', '-profile:v', 'dnxhr_hq'], 'yuv422p', [25, 1]],
];

/** The six 75 % bars of SMPTE RP 219-1:2014 table 1, and a grey block that moves; 256×144 has edges on whole chroma samples. */
const BARS: readonly (readonly [number, number, number])[] = [
  [0.75, 0.75, 0],
  [0, 0.75, 0.75],
  [0, 0.75, 0],
  [0.75, 0, 0.75],
  [0.75, 0, 0],
  [0, 0, 0.75],
];
const BAR = 40;

/** The frames in a pixel format's own planes, from Rec. ITU-R BT.709-6 §3: no other code has a hand in these codes. */
function barsFrames(format: string): Buffer {
  const [, sampling = '444', depth = '8'] = /^(?:yuvj?(4\d\d)p|gbrp)(\d*)/.exec(format)!;
  const bits = Number(depth || 8);
  const rgb = format.startsWith('gbr');
  const full = rgb || format.startsWith('yuvj');
  const [shiftX, shiftY] = rgb ? [0, 0] : [sampling === '444' ? 0 : 1, sampling === '420' ? 1 : 0];
  const colourAt = (f: number, x: number, y: number) =>
    (y >= 4 && y < 20 && x >= f * 8 && x < f * 8 + 16 ? [0.5, 0.5, 0.5] : BARS[Math.min(5, Math.floor(x / BAR))]!) as [
      number,
      number,
      number,
    ];
  const unit = 2 ** (bits - 8);
  const most = 2 ** bits - 1;
  // JPEG has the matrix of BT.601-7 (ITU-T T.871 §7), all others here that of BT.709-6.
  const [kr, kb] = format.startsWith('yuvj') ? [0.299, 0.114] : [0.2126, 0.0722];
  const luma = ([r, g, b]: number[]) => kr * r! + (1 - kr - kb) * g! + kb * b!;
  const planes = rgb
    ? [([, g]: number[]) => g! * most, ([, , b]: number[]) => b! * most, ([r]: number[]) => r! * most]
    : [
        (c: number[]) => (full ? most * luma(c) : (16 + 219 * luma(c)) * unit),
        (c: number[]) => 128 * unit + ((c[2]! - luma(c)) / (2 - 2 * kb)) * (full ? most : 224 * unit),
        (c: number[]) => 128 * unit + ((c[0]! - luma(c)) / (2 - 2 * kr)) * (full ? most : 224 * unit),
      ];
  const codes: number[] = [];
  for (let f = 0; f < FRAMES; f++) {
    planes.forEach((of, p) => {
      const sx = p > 0 ? shiftX : 0;
      const sy = p > 0 ? shiftY : 0;
      for (let y = 0; y < 144 >> sy; y++)
        for (let x = 0; x < 256 >> sx; x++) codes.push(Math.round(of(colourAt(f, x << sx, y << sy))));
    });
  }
  return bits > 8 ? Buffer.from(Uint16Array.from(codes).buffer) : Buffer.from(codes);
}

const rangeOf = (format: string) => ['-color_range', format.startsWith('yuvj') ? 'pc' : 'tv'];

/** Writes all clips: one start of ffmpeg for all, since that takes longer than one of these clips. */
async function makeClips(): Promise<void> {
  const outputs = CLIPS.flatMap(([name, codec, format], i) => [
    ...['-map', `${i}:V`, '-vf', 'setparams=colorspace=bt709:color_primaries=bt709:color_trc=bt709'],
    ...[...codec, ...BT709, ...rangeOf(format), at(name)],
  ]);
  const inputs = CLIPS.flatMap(([, , format, rate]) => {
    const raw = at(`${format}.raw`);
    if (!existsSync(raw)) writeFileSync(raw, barsFrames(format));
    const layout = ['-f', 'rawvideo', '-pix_fmt', format, '-s', '256x144', '-r', rate.join('/')];
    return [...layout, ...rangeOf(format), '-i', raw];
  });
  await ffmpeg(...inputs, ...outputs);
}

/** The hashes that ffmpeg itself gives of all clips' frames, in the layout that theirs are kept in: ffmpeg's decoder gives one of them with 12 bits. */
async function hashClips(): Promise<void> {
  const layout = (name: string, format: string) =>
    format.startsWith('gbr') ? 'rgb48le' : name === 'intra-444-10.mov' ? 'yuv444p12le' : format;
  const inputs = CLIPS.flatMap(([name]) => ['-i', at(name)]);
  const outputs = CLIPS.flatMap(([name, , format], i) => [
    ...['-map', `${i}:V:0`, '-fps_mode', 'passthrough', '-pix_fmt', layout(name, format)],
    ...['-f', 'framemd5', at(`${name}.md5`)],
  ]);
  await ffmpeg(...inputs, ...outputs);
}

async function decodeAll(path: string) {
  const source = resolveSource(path);
  const facts = await probe(source);
  const frames: Uint8Array[] = [];
  for await (const bytes of decodeFrames(source, facts)) frames.push(bytes);
  return { facts, frames };
}

const patch = (picture: CodedPicture, x: number, y: number): number[] =>
  [0, 1, 2].map((c) => picture.data[(y * picture.width + x) * 3 + c]! / picture.peak);

describe('clips', () => {
  beforeAll(async () => {
    await makeClips();
    await hashClips();
  });
  test.each(CLIPS)('%s', { timeout: 60_000 }, async (name, codec, _, rate) => {
    const { facts, frames } = await decodeAll(at(name));
    expect(facts).toMatchObject({ width: 256, height: 144, rate, frames: FRAMES, plan: null, rotation: 0 });
    const theirs = readFileSync(at(`${name}.md5`), 'utf8')
      .split('\n')
      .filter((l) => l && !l.startsWith('#'))
      .map((l) => l.split(',').at(-1)!.trim());
    expect(theirs).toHaveLength(FRAMES);
    expect(frames.map((f) => createHash('md5').update(f).digest('hex'))).toEqual(theirs);
    const picture = pictureFromRaw(frames[0]!, facts.layout);
    // Lossless codecs to a code of their depth; of the others, what the codec itself may lose.
    const lossy = /qp,2|prores|dnxhd|mpeg2|mjpeg|aom/.test(codec.join());
    const peak = picture.peak === 255 ? 255 : 1023;
    const most = lossy ? 0.01 * peak : 1;
    BARS.forEach((colour, bar) => {
      patch(picture, bar * BAR + 20, 80).forEach((value, c) => {
        const code = Math.round(value * peak);
        const wanted = Math.round(colour[c]! * peak);
        expect(Math.abs(code - wanted), `${name}, bar ${bar}: code ${code} for ${wanted}`).toBeLessThanOrEqual(
          most + 1e-6,
        );
      });
    });
  });
});

const SEQUENCES: [string, string[], number][] = [
  ['s8.%04d.png', ['-pix_fmt', 'rgb24'], 255],
  ['s16.%04d.png', ['-pix_fmt', 'rgb48be'], 65535],
  ['s.%04d.jpg', ['-q:v', '1', '-pix_fmt', 'yuvj444p'], 255],
  ['t8.%04d.tif', ['-pix_fmt', 'rgb24'], 255],
  ['t16.%04d.tif', ['-pix_fmt', 'rgb48le'], 65535],
  ['half.%04d.exr', ['-format', 'half', '-pix_fmt', 'gbrpf32le'], 1],
  ['float.%04d.exr', ['-format', 'float', '-pix_fmt', 'gbrpf32le'], 1],
];

describe('sequences', () => {
  beforeAll(() =>
    ffmpeg(
      ...['-f', 'lavfi', '-i', 'testsrc2=s=96x54:r=25'],
      ...SEQUENCES.flatMap(([name, codec]) => ['-frames:v', '4', ...codec, '-start_number', '998', at(name)]),
    ),
  );
  test.each(SEQUENCES)('%s', { timeout: 60_000 }, async (name, _, peak) => {
    const { facts, frames } = await decodeAll(at(name));
    expect(facts).toMatchObject({ width: 96, height: 54, frames: 4, firstFrameNumber: 998, missing: [] });
    const picture = pictureFromRaw(frames[1]!, facts.layout);
    expect(picture.peak).toBe(peak);
    const file = at(name.replace('%04d', '0999'));
    if (name.endsWith('.tif') || name.endsWith('.png')) {
      // libvips' own readers of TIFF and PNG, by way of sharp.
      const theirs = await sharp(file)
        .toColourspace(peak === 255 ? 'srgb' : 'rgb16')
        .raw({ depth: peak === 255 ? 'uchar' : 'ushort' })
        .toBuffer();
      expect(
        Buffer.compare(Buffer.from(picture.data.buffer, picture.data.byteOffset, picture.data.byteLength), theirs),
      ).toBe(0);
    }
    if (name.endsWith('.exr')) expect(await worstAgainstReader(picture, file)).toBe(0);
  });

  test('EXR keeps values below 0 and above 1, from file to picture to file', async () => {
    const data = Float32Array.from({ length: 40 * 24 * 3 }, (_, i) => Math.fround(((i % 97) - 20) / 8));
    const picture = { width: 40, height: 24, data, peak: 1 as const };
    expect(fitsHalf(data)).toBe(true);
    writeExr(at('wide.0001.exr'), picture);
    const { facts, frames } = await decodeAll(at('wide.%04d.exr'));
    const back = pictureFromRaw(frames[0]!, facts.layout);
    expect(back.data).toEqual(data);
    expect(facts.colour).toEqual({ transfer: 'linear', primaries: 'bt709' });
    expect(await worstAgainstReader(back, at('wide.0001.exr'))).toBe(0);
    // And through a render that changes nothing.
    await writePicture(at('out.0001.exr'), back, facts.colour);
    expect(pictureFromRaw((await decodeAll(at('out.%04d.exr'))).frames[0]!, facts.layout).data).toEqual(data);
  });
  test('a value that halves do not have is written in full', async () => {
    const data = new Float32Array(32 * 32 * 3).fill(1 / 3);
    expect(fitsHalf(data)).toBe(false);
    writeExr(at('third.0001.exr'), { width: 32, height: 32, data, peak: 1 });
    const { facts, frames } = await decodeAll(at('third.%04d.exr'));
    expect(pictureFromRaw(frames[0]!, facts.layout).data[5]).toBe(Math.fround(1 / 3));
  });
});

/** Largest difference from what an independent reader of OpenEXR (parse-exr, after three.js) returns; its rows go upward. */
async function worstAgainstReader(picture: CodedPicture, file: string): Promise<number> {
  const FLOAT_TYPE = 1015;
  const bytes = await readFile(file);
  const { data, width, height } = parseExr(
    bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength),
    FLOAT_TYPE,
  );
  expect([width, height]).toEqual([picture.width, picture.height]);
  let worst = 0;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++)
      for (let c = 0; c < 3; c++)
        worst = Math.max(
          worst,
          Math.abs(picture.data[(y * width + x) * 3 + c]! - data[((height - 1 - y) * width + x) * 4 + c]!),
        );
  }
  return worst;
}
