import { execa } from 'execa';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest';
import { identityTrack } from '../core/test/identity-track.ts';
import { greenScreen, SCREEN_QUAD } from '../core/test/green-screen.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { probe } from '../server/media/probe.ts';
import { resolveSource } from '../server/media/source.ts';
import { filmOf } from '../server/test/media-files.ts';
import { temporaryFolder } from '../server/test/folders.ts';
import { main } from './main.ts';

const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
const FRAMES = 6;
const W = 160;
const H = 120;
const scenes = Array.from({ length: FRAMES }, (_, k) =>
  greenScreen({
    bar: [
      [50 + 9 * k, 0],
      [70 + 9 * k, 0],
      [64 + 9 * k, 120],
      [44 + 9 * k, 120],
    ],
    noise: 0.012,
  }),
);

const film = (name: string, pictures: readonly Uint8Array[]) =>
  filmOf(
    pictures.map((data) => ({ width: W, height: H, data })),
    at(name),
  );
const write = (name: string, value: unknown) => {
  writeFileSync(at(name), JSON.stringify(value));
  return at(name);
};
/** Frames of a clip as they are decoded: bytes, so many a pixel. */
async function frames(name: string): Promise<Uint8Array[]> {
  const { stdout } = await execa(
    'ffmpeg',
    ['-v', 'error', '-i', at(name), '-f', 'rawvideo', '-pix_fmt', name.startsWith('matte') ? 'gray' : 'rgb24', '-'],
    { encoding: 'buffer', maxBuffer: 1e8 },
  );
  const size = W * H * (name.startsWith('matte') ? 1 : 3);
  return Array.from({ length: stdout.length / size }, (_, k) => stdout.subarray(k * size, (k + 1) * size));
}
const near = (values: readonly number[], precision: number): unknown[] =>
  values.map((v): unknown => expect.closeTo(v, precision));
async function yarlop(...args: string[]): Promise<{ code: number; said: string }> {
  const heard: string[] = [];
  const spy = vi.spyOn(process.stderr, 'write').mockImplementation((text) => heard.push(String(text)) > 0);
  try {
    return {
      code: await main(['render', '--plate', at('plate.mkv'), '--track', at('track.json'), ...args]),
      said: heard.join(''),
    };
  } finally {
    spy.mockRestore();
  }
}

beforeAll(async () => {
  await film(
    'plate.mkv',
    scenes.map((s) => s.picture.data as Uint8Array),
  );
  write('track.json', identityTrack(W, H, FRAMES, SCREEN_QUAD));
  await sharp({ create: { width: 90, height: 75, channels: 3, background: '#2030c8' } })
    .png()
    .toFile(at('blue.png'));
});
afterAll(() => folder.remove());

describe('odd content', () => {
  const render = async (file: string, look: object = {}) => {
    const result = await yarlop(
      '--content',
      at(file),
      '--look',
      write('odd.json', look),
      '--frames',
      '0-2',
      '--out',
      at('odd.mkv'),
    );
    return { ...result, out: result.code === 0 ? await frames('odd.mkv') : [] };
  };
  const pixel = (frame: Uint8Array, x = 80, y = 60) => [...frame.subarray((y * W + x) * 3, (y * W + x) * 3 + 3)];

  test('one pixel, a page of 30,000 px, transparency, a wide-gamut and a CMYK photograph, an animation', async () => {
    await sharp({ create: { width: 1, height: 1, channels: 3, background: '#10a0f0' } })
      .png()
      .toFile(at('one.png'));
    expect(pixel((await render('one.png')).out[0]!)).toEqual([16, 160, 240]);
    await sharp({ create: { width: 40, height: 30_000, channels: 3, background: '#ff8000' } })
      .png()
      .toFile(at('tall.png'));
    expect(pixel((await render('tall.png', { fit: 'fill' })).out[0]!)).toEqual(near([255, 128, 0], -0.7));
    await sharp({ create: { width: 40, height: 30, channels: 4, background: { r: 0, g: 0, b: 255, alpha: 0.5 } } })
      .png()
      .toFile(at('clear.png'));
    expect(pixel((await render('clear.png')).out[0]!, 110)[1]).toBeGreaterThan(60);
    await sharp({ create: { width: 40, height: 30, channels: 3, background: '#80c040' } })
      .toColourspace('cmyk')
      .jpeg()
      .toFile(at('cmyk.jpg'));
    await sharp({ create: { width: 40, height: 30, channels: 3, background: '#80c040' } })
      .withIccProfile('p3')
      .jpeg()
      .toFile(at('p3.jpg'));
    // Inks do not reach every colour of a display.
    for (const [file, most] of [
      ['cmyk.jpg', 26],
      ['p3.jpg', 6],
    ] as const) {
      const { code, said, out } = await render(file);
      expect([code, said]).toEqual([0, expect.stringContaining('are turned into sRGB')]);
      pixel(out[0]!).forEach((v, c) =>
        expect(Math.abs(v - [128, 192, 64][c]!), `${file} ${pixel(out[0]!).join()}`).toBeLessThan(most),
      );
    }
    const two = Buffer.concat([Buffer.alloc(40 * 30 * 3, 255), Buffer.alloc(40 * 30 * 3, 0)]);
    await sharp(two, { raw: { width: 40, height: 60, channels: 3, pageHeight: 30 } } as never)
      .gif({ delay: [40, 40] })
      .toFile(at('two.gif'));
    const moving = await render('two.gif');
    expect([moving.code, moving.said]).toEqual([0, expect.any(String)]);
    expect([pixel(moving.out[0]!)[0], pixel(moving.out[1]!)[0]]).toEqual([255, 0]);
    // A still WebP is read, a moving one told from it, with what to do.
    await sharp({ create: { width: 40, height: 30, channels: 3, background: '#10a0f0' } })
      .webp({ lossless: true })
      .toFile(at('still.webp'));
    expect(pixel((await render('still.webp')).out[0]!)).toEqual([16, 160, 240]);
    await sharp(two, { raw: { width: 40, height: 60, channels: 3, pageHeight: 30 } } as never)
      .webp({ delay: [40, 40] })
      .toFile(at('two.webp'));
    const refused = await render('two.webp');
    expect([refused.code, refused.said]).toEqual([
      expect.not.closeTo(0) as unknown,
      expect.stringMatching(/two\.webp is a moving WebP picture.*Save it as a GIF, a clip or numbered pictures/s),
    ]);
  });

  test('a clip shorter than the shot holds, or runs again, as the look says', async () => {
    await film('short.mkv', [new Uint8Array(W * H * 3).fill(250), new Uint8Array(W * H * 3).fill(10)]);
    const held = await render('short.mkv');
    const looped = await render('short.mkv', { time: { after: 'loop' } });
    expect([held.out[1], held.out[2]].map((f) => pixel(f!)[0])).toEqual([10, 10]);
    expect(pixel(looped.out[2]!)[0]).toBe(250);
    const source = resolveSource(at('odd.mkv'));
    const facts = await probe(source);
    let count = 0;
    for await (const bytes of decodeFrames(source, facts)) count += bytes.length > 0 ? 1 : 0;
    expect(count).toBe(3);
  });
});
