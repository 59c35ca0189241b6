import { zipSync } from 'fflate';
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { CodedPicture } from '../core/base/image/picture.ts';
import { pictureFromRaw } from '../core/base/image/raw-frame.ts';
import { checked } from '../core/base/schemas/check.ts';
import type { ProbeFile } from '../core/base/schemas/types.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { probe } from '../server/media/probe.ts';
import { resolveSource } from '../server/media/source.ts';
import { writeExr } from '../server/media/write-exr.ts';
import { ffmpeg, numberedPictures } from '../server/test/media-files.ts';
import { clipPath, ROOT, temporaryFolder } from '../server/test/folders.ts';
import { inProcess } from './test/in-process.ts';

const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
beforeAll(() => mkdirSync(folder.path, { recursive: true }));
afterAll(() => folder.remove());

const yarlop = (...args: string[]) => inProcess(folder.path, args);
const facts = (): ProbeFile => checked('probe', JSON.parse(readFileSync(at('facts.json'), 'utf8')), 'facts.json');

describe('probe', () => {
  test('says what a clip is', async () => {
    expect(await yarlop('probe', '--plate', clipPath('bench-tablet.mp4'), '--out', at('facts.json'))).toEqual({
      code: 0,
      stdout: '',
      stderr: '',
    });
    expect(facts()).toMatchObject({
      width: 1280,
      height: 720,
      rate: [25, 1],
      frames: 96,
      firstFrame: 0,
      bitDepth: 8,
      transfer: 'srgb',
      range: 'limited',
      assumed: [],
      missing: [],
      notes: [],
    });
    expect(facts().check).toBeUndefined();
  });
  test('names gaps without a decision about them; looking at the frames needs one', async () => {
    await numberedPictures(at('run'), [1016, 1017, 1020], 'bed.');
    expect((await yarlop('probe', '--plate', at('run'), '--out', at('facts.json'))).code).toBe(0);
    expect(facts()).toMatchObject({
      frames: 3,
      firstFrame: 1016,
      missing: [[1018, 1019]],
      assumed: expect.arrayContaining(['pictures have no rate: 25/1 assumed']) as unknown,
    });
    const refused = await yarlop('probe', '--plate', at('run'), '--check', '--out', at('other.json'));
    expect(refused).toMatchObject({
      code: 1,
      stderr: expect.stringMatching(/missing 1018–1019\. Hold the last picture/) as unknown,
    });
    expect(
      (
        await yarlop(
          'probe',
          '--plate',
          at('run'),
          '--check',
          '--gaps',
          'hold',
          '--rate',
          '24000/1001',
          '--out',
          at('facts.json'),
        )
      ).code,
    ).toBe(0);
    expect(facts()).toMatchObject({ frames: 5, rate: [24000, 1001] });
    expect(facts().check).toHaveLength(5);
  });
  test('checks the frames of a zip, with words and a proposed reference', async () => {
    await ffmpeg(
      '-i',
      clipPath('bench-tablet.mp4'),
      '-vf',
      'trim=end_frame=18,loop=loop=1:size=1:start=7,setpts=N/25/TB,scale=640:360',
      at('f.%04d.png'),
    );
    writeFileSync(
      at('plate.zip'),
      zipSync(
        Object.fromEntries(
          readdirSync(folder.path)
            .filter((n) => n.startsWith('f.'))
            .map((n) => [n, new Uint8Array(readFileSync(at(n)))]),
        ),
        { level: 0 },
      ),
    );
    expect((await yarlop('probe', '--plate', at('plate.zip'), '--check', '--out', at('facts.json'))).code).toBe(0);
    const { check, findings, proposedReference } = facts();
    expect(check!.filter((r) => r.repeats !== undefined).map((r) => [r.frame, r.repeats])).toEqual([[7, 6]]);
    // The plate's own numbers begin at 1.
    expect(findings).toContain('8 repeats 7');
    expect(proposedReference).toBeGreaterThanOrEqual(0);
  });
  test.each([
    [['--plate', 'gone.mp4', '--out', 'x.json'], /gone\.mp4 does not exist/],
    [['--plate', clipPath('bench-tablet.mp4')], /--out is missing/],
    [
      ['--plate', clipPath('bench-tablet.mp4'), '--transfer', 'rainbow', '--out', 'x.json'],
      /--transfer is "rainbow", not one of srgb/,
    ],
  ])('refuses %j', async (args, words) =>
    expect(await yarlop('probe', ...args)).toMatchObject({ code: 1, stderr: expect.stringMatching(words) as unknown }),
  );
});

/** A render in which nothing is put on the plate gives the plate back, whatever its depth. */
describe('pass-through', () => {
  async function decode(path: string): Promise<CodedPicture[]> {
    const source = resolveSource(path);
    const found = await probe(source);
    const out: CodedPicture[] = [];
    for await (const bytes of decodeFrames(source, found)) out.push(pictureFromRaw(bytes, found.layout));
    return out;
  }
  async function passThrough(plate: string, out: string, size: { width: number; height: number }): Promise<void> {
    const track = {
      format: 'yarlop-track/1',
      pixelCentre: 'half',
      ...size,
      rate: [25, 1],
      referenceFrame: 0,
      frames: [0, 1, 2].map((frame) => ({ frame, confidence: 0, lost: 'nothing is followed' })),
    };
    writeFileSync(at('empty.json'), JSON.stringify(track));
    const done = await yarlop(
      'render',
      '--plate',
      plate,
      '--track',
      at('empty.json'),
      '--content',
      join(ROOT, 'demo/content/orders.png'),
      '--out',
      out,
    );
    expect(done).toMatchObject({
      code: 0,
      stderr: expect.stringMatching(/left as it is on frames without corners: 0–2/) as unknown,
    });
  }
  const same = (a: CodedPicture, b: CodedPicture) =>
    Buffer.compare(
      Buffer.from(a.data.buffer, a.data.byteOffset, a.data.byteLength),
      Buffer.from(b.data.buffer, b.data.byteOffset, b.data.byteLength),
    ) === 0;

  test.each([
    ['yuv420p', 'libx264', 'eight.mkv'],
    ['yuv422p10le', 'ffv1', 'ten.mkv'],
    ['gbrp12le', 'ffv1', 'twelve.mkv'],
  ])('%s comes out unchanged as lossless film', async (format, codec, name) => {
    await ffmpeg(
      '-f',
      'lavfi',
      '-i',
      'testsrc2=s=128x72:r=25:d=0.12',
      '-pix_fmt',
      format,
      '-c:v',
      codec,
      at(`in-${name}`),
    );
    await passThrough(at(`in-${name}`), at(`out-${name}`), { width: 128, height: 72 });
    const before = await decode(at(`in-${name}`));
    const after = await decode(at(`out-${name}`));
    expect(after).toHaveLength(3);
    before.forEach((picture, i) => expect(same(picture, after[i]!)).toBe(true));
  });
  test('half float comes out unchanged as EXR, below 0 and above 1 too', async () => {
    const pictures = [0, 1, 2].map((f): CodedPicture => ({
      width: 64,
      height: 40,
      peak: 1,
      data: Float32Array.from({ length: 64 * 40 * 3 }, (_, i) => (((i * 7 + f * 13) % 64) - 16) / 8),
    }));
    for (const [f, picture] of pictures.entries()) writeExr(at(`sun.${String(1001 + f)}.exr`), picture);
    await passThrough(at('sun.%04d.exr'), at('through.%04d.exr'), { width: 64, height: 40 });
    expect(readdirSync(folder.path).filter((n) => n.startsWith('through'))).toEqual([
      'through.1001.exr',
      'through.1002.exr',
      'through.1003.exr',
    ]);
    (await decode(at('through.%04d.exr'))).forEach((picture, i) => expect(same(picture, pictures[i]!)).toBe(true));
  });
});
