import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { decodeFrames } from '../server/media/decode.ts';
import { probe } from '../server/media/probe.ts';
import { resolveSource } from '../server/media/source.ts';
import { greenPlate, H, W } from './test/green-plate.ts';

const { folder, at, film, write, frames, yarlop, prepare } = greenPlate();
const near = (values: readonly number[], precision: number): unknown[] =>
  values.map((v): unknown => expect.closeTo(v, precision));

beforeAll(prepare);
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
