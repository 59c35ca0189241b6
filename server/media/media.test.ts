import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { CodedPicture, ContentPicture } from '../../core/base/image/picture.ts';
import { pictureFromRaw } from '../../core/base/image/raw-frame.ts';
import { badFiles, ffmpeg, numberedPictures } from '../test/media-files.ts';
import { clipPath, temporaryFolder } from '../test/folders.ts';
import { readStill } from './content.ts';
import { decodeFrames } from './decode.ts';
import { numberedName, openFilm, openPictures } from './encode.ts';
import { FrameStore } from './frame-store.ts';
import { proxyArguments } from './proxies.ts';
import { probe } from './probe.ts';
import { resolveSource } from './source.ts';
import { unzipPictures } from './unzip.ts';

const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
let bad: Awaited<ReturnType<typeof badFiles>>;
beforeAll(async () => {
  bad = await badFiles(folder.path);
});
afterAll(() => folder.remove());

async function decodeAll(path: string, rate?: [number, number]): Promise<CodedPicture[]> {
  const source = resolveSource(path);
  const facts = await probe(source, { corrections: { rate } });
  const out: CodedPicture[] = [];
  for await (const bytes of decodeFrames(source, facts)) out.push(pictureFromRaw(bytes, facts.layout));
  return out;
}

const ramp = (width: number, height: number, peak: 255 | 65535): CodedPicture & { peak: 255 | 65535 } => {
  const data = peak === 255 ? new Uint8Array(width * height * 3) : new Uint16Array(width * height * 3);
  for (let i = 0; i < width * height; i++) {
    const x = (i % width) / (width - 1);
    const y = Math.floor(i / width) / (height - 1);
    [x, y, (x + y) / 2].forEach((v, c) => (data[i * 3 + c] = Math.round(v * peak)));
  }
  return { width, height, data, peak };
};

async function film(
  file: string,
  picture: CodedPicture,
  frames = 2,
  pixelAspect: [number, number] = [1, 1],
): Promise<void> {
  const sink = openFilm(file, picture, { rate: [25, 1], pixelAspect });
  for (let i = 0; i < frames; i++) await sink.write(i, picture);
  await sink.finish();
}

const opaque = (picture: ContentPicture) => Uint8Array.from(picture.data as Uint8Array).filter((_, i) => i % 4 !== 3);

function worst(a: CodedPicture, b: CodedPicture): number {
  let most = 0;
  a.data.forEach((v, i) => (most = Math.max(most, Math.abs(v - b.data[i]!))));
  return most;
}

describe('probe', () => {
  test('reads what a clip says about itself', async () => {
    const facts = await probe(resolveSource(clipPath('orders-laptop.mp4')));
    expect(facts).toMatchObject({
      width: 1280,
      height: 720,
      rate: [25, 1],
      frames: 80,
      codec: 'h264',
      pixelFormat: 'yuv420p',
      colour: { transfer: 'srgb', primaries: 'bt709' },
      plan: null,
      assumed: [],
    });
    expect(facts.layout).toMatchObject({
      kind: 'ycbcr',
      coding: { matrix: 'bt709', range: 'limited', bits: 8, chromaShiftX: 1, chromaShiftY: 1 },
    });
  });
  test('keeps rates exact and applies the rotation flag', async () => {
    await ffmpeg('-f', 'lavfi', '-i', 'testsrc=s=64x32:r=30000/1001:d=0.2', '-pix_fmt', 'yuv420p', at('ntsc.mp4'));
    await ffmpeg('-i', at('ntsc.mp4'), '-c', 'copy', '-metadata:s:v:0', 'rotate=90', at('turned.mp4'));
    expect((await probe(resolveSource(at('ntsc.mp4')))).rate).toEqual([30000, 1001]);
    const turned = await probe(resolveSource(at('turned.mp4')));
    expect([turned.width, turned.height]).toEqual([32, 64]);
    expect((await decodeAll(at('turned.mp4')))[0]).toMatchObject({ width: 32, height: 64 });
  });
  test('the shape of the pixels turns with the picture', async () => {
    await ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc=s=64x32:r=25:d=0.2',
      '-vf',
      'setsar=64/45',
      '-pix_fmt',
      'yuv420p',
      at('wide.mp4'),
    );
    await ffmpeg('-i', at('wide.mp4'), '-c', 'copy', '-metadata:s:v:0', 'rotate=270', at('wide-turned.mp4'));
    expect((await probe(resolveSource(at('wide.mp4')))).pixelAspect).toEqual([64, 45]);
    const turned = await probe(resolveSource(at('wide-turned.mp4')));
    expect([turned.rotation % 180, turned.pixelAspect]).toEqual([90, [45, 64]]);
    expect(turned.notes.join()).toContain('pixels are not square: 45:64');
  });
  test('says what had to be assumed', async () => {
    await ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc=s=64x48:r=24:d=0.2',
      '-pix_fmt',
      'yuv420p',
      '-c:v',
      'ffv1',
      at('bare.mkv'),
    );
    const { assumed, layout } = await probe(resolveSource(at('bare.mkv')));
    for (const words of [/no colour matrix tag: BT\.601 assumed/, /no transfer tag/])
      expect(assumed.join('; ')).toMatch(words);
    expect(layout).toMatchObject({ coding: { matrix: 'bt601' } });
  });
  test('makes a varying rate constant and says so', async () => {
    await ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc=s=64x48:r=25:d=2',
      '-vf',
      "select='not(eq(mod(n,7),3))+lt(n,10)'",
      '-fps_mode',
      'vfr',
      '-pix_fmt',
      'yuv420p',
      at('vfr.mkv'),
    );
    const facts = await probe(resolveSource(at('vfr.mkv')));
    expect(facts.notes.join()).toMatch(/the rate varies: made constant at 25 fps, .*; \d+ doubled/);
    expect(facts).toMatchObject({ rate: [25, 1], frames: 50, dropped: 0 });
    expect(await decodeAll(at('vfr.mkv'))).toHaveLength(50);
  });
  test.each<[keyof typeof bad, RegExp]>([
    ['truncated', /truncated\.mp4 is (damaged|not a picture or film)/],
    ['sound', /sound\.mp4 has sound but no picture/],
    ['tiny', /tiny\.mkv is 1×1; a plate needs at least 16×16/],
  ])('refuses: %s', async (kind, words) => {
    await expect(probe(resolveSource(bad[kind]))).rejects.toThrow(words);
  });
  test('refuses text before any decoder sees it', () => {
    expect(() => resolveSource(bad.text)).toThrow(
      /notes\.mp4 is not a picture or film that can be read \(it is text\)/,
    );
  });
  test('a clip whose end is missing is recognised by its index', async () => {
    await ffmpeg('-i', clipPath('orders-laptop.mp4'), '-c', 'copy', '-movflags', '+faststart', at('fast.mp4'));
    const bytes = readFileSync(at('fast.mp4'));
    writeFileSync(at('cut.mp4'), bytes.subarray(0, Math.floor(bytes.length * 0.6)));
    await expect(decodeAll(at('cut.mp4'))).rejects.toThrow(/cut\.mp4 is damaged: only \d+ of its 80 frames are there/);
  });
});

describe('colour through files', () => {
  test('lossless film gives every 8-bit code back', async () => {
    const picture = ramp(64, 48, 255);
    await film(at('eight.mkv'), picture);
    const back = await decodeAll(at('eight.mkv'));
    expect(back).toHaveLength(2);
    expect(worst(back[1]!, picture)).toBe(0);
  });
  test('and every 16-bit code', async () => {
    const picture = ramp(64, 48, 65535);
    await film(at('deep.mkv'), picture);
    const [back] = await decodeAll(at('deep.mkv'));
    expect(back!.peak).toBe(65535);
    expect(worst(back!, picture)).toBe(0);
  });
  test('H.264 is tagged BT.709, limited, and comes back close', async () => {
    const picture = ramp(320, 240, 255);
    await film(at('film.mp4'), picture, 4);
    const facts = await probe(resolveSource(at('film.mp4')));
    expect(facts.assumed).toEqual([]);
    expect(facts.layout).toMatchObject({ coding: { matrix: 'bt709', range: 'limited' } });
    const [back] = await decodeAll(at('film.mp4'));
    let sum = 0;
    back!.data.forEach((v, i) => (sum += Math.abs(v - picture.data[i]!)));
    expect(sum / back!.data.length).toBeLessThan(1);
  });
  test('our conversion from limited BT.709 agrees with ffmpeg’s to one code', async () => {
    const source = resolveSource(clipPath('orders-laptop.mp4'));
    const facts = await probe(source);
    const frames = decodeFrames(source, facts);
    const ours = pictureFromRaw((await frames.next()).value as Uint8Array, facts.layout);
    await frames.return(undefined);
    await ffmpeg(
      '-i',
      clipPath('orders-laptop.mp4'),
      '-frames:v',
      '1',
      '-sws_flags',
      'bilinear+accurate_rnd+full_chroma_int+full_chroma_inp',
      '-pix_fmt',
      'rgb24',
      at('first.png'),
    );
    const theirs = await readStill(at('first.png'));
    let sum = 0;
    for (let i = 0; i < 1280 * 720; i++)
      for (let c = 0; c < 3; c++) sum += Math.abs(ours.data[i * 3 + c]! - theirs.data[i * 4 + c]!);
    expect(sum / (1280 * 720 * 3)).toBeLessThan(0.7);
  });
  test.each(['wide.mkv', 'wide.mp4', 'wide.mov'])('%s keeps the shape of the pixels', async (name) => {
    await film(at(name), ramp(72, 58, 255), 2, [64, 45]);
    expect((await probe(resolveSource(at(name)))).pixelAspect).toEqual([64, 45]);
  });
  test('odd sizes survive a film', async () => {
    await film(at('odd.mkv'), ramp(65, 33, 255));
    expect((await decodeAll(at('odd.mkv')))[0]).toMatchObject({ width: 65, height: 33 });
  });
});

describe('numbered pictures', () => {
  test('are read in order at the rate that is given, written under their numbers', async () => {
    const codes = await numberedPictures(at('run'), [1001, 1002, 1003]);
    const source = resolveSource(at('run'));
    const facts = await probe(source, { corrections: { rate: [24000, 1001] } });
    expect(facts).toMatchObject({ rate: [24000, 1001], frames: 3, firstFrameNumber: 1001 });
    const pictures = await decodeAll(at('run'));
    expect(Buffer.compare(pictures[2]!.data as Uint8Array, codes[2]!)).toBe(0);
    const sink = openPictures(at('out.%05d.png'), 1001);
    await sink.write(0, pictures[0]!);
    await sink.finish();
    expect(Buffer.compare(opaque(await readStill(at('out.01001.png'))), codes[0]!)).toBe(0);
    expect(numberedName('a.%d.png', 12)).toBe('a.12.png');
  });
  test('a zip of pictures is unpacked flat, whatever its paths say', async () => {
    await numberedPictures(at('zipped'), [1, 2]);
    const entry = (n: number) => new Uint8Array(readFileSync(at(`zipped/shot.000${n}.png`)));
    writeFileSync(
      at('up.zip'),
      zipSync({ 'a/b/shot.0001.png': entry(1), '../../shot.0002.png': entry(2), '__MACOSX/shot.0009.png': entry(1) }),
    );
    expect(await unzipPictures(at('up.zip'), at('unzipped'), 'up.zip')).toBe(2);
    expect(readdirSync(at('unzipped')).sort()).toEqual(['shot.0001.png', 'shot.0002.png']);
    writeFileSync(at('broken.zip'), readFileSync(at('up.zip')).subarray(0, 300));
    await expect(unzipPictures(at('broken.zip'), at('unzipped2'), 'broken.zip')).rejects.toThrow(
      /broken\.zip cannot be unpacked|no numbered/,
    );
  });
});

describe('FrameStore', () => {
  test('keeps the source’s own bytes, makes proxies and exact pictures of any frame', async () => {
    const source = resolveSource(clipPath('orders-laptop.mp4'));
    const facts = await probe(source);
    const store = new FrameStore(at('store'), facts.layout);
    store.makeFolders();
    let n = 0;
    for await (const bytes of decodeFrames(source, facts)) {
      store.writeRaw(n++, bytes);
      if (n === 3) break;
    }
    expect(store.countRaw()).toBe(3);
    expect(store.hasRaw(2)).toBe(true);
    expect(store.hasRaw(3)).toBe(false);
    const raw = pictureFromRaw(await store.readRaw(1), facts.layout);
    const png = await store.exact(1);
    writeFileSync(at('exact.png'), png);
    const exact = await readStill(at('exact.png'));
    expect(Buffer.compare(opaque(exact), raw.data as Uint8Array)).toBe(0);
    // The proxy that the decoder writes and the one made from the raw frame show the same colours.
    for await (const _ of decodeFrames(
      source,
      { ...facts, frames: 0 },
      { alsoWrite: ['-frames:v', '2', ...proxyArguments(facts, store.proxies)] },
    ));
    const written = await store.proxy(1);
    expect(written.subarray(0, 2)).toEqual(Buffer.from([0xff, 0xd8]));
    rmSync(join(store.proxies, '000001.jpg'));
    const [a, b] = await Promise.all([written, await store.proxy(1)].map((jpeg) => sharp(jpeg).raw().toBuffer()));
    let difference = 0;
    a!.forEach((v, i) => (difference += Math.abs(v - b![i]!)));
    expect(difference / a!.length).toBeLessThan(2);
    await expect(store.readRaw(40)).rejects.toThrow(/decoded frame 40 is not on the disk/);
    expect(readdirSync(at('store/raw')).some((f) => f.endsWith('.part'))).toBe(false);
  });
});

test('a film that cannot be written leaves nothing behind', async () => {
  const sink = openFilm(at('no-such-folder/film.mkv'), { width: 64, height: 48, peak: 255 }, { rate: [25, 1] });
  const work = (async () => {
    for (let i = 0; i < 400; i++) await sink.write(i, ramp(64, 48, 255));
    await sink.finish();
  })();
  await expect(work).rejects.toThrow(/cannot be written/);
  await sink.abandon();
  expect(existsSync(at('no-such-folder'))).toBe(false);
});
