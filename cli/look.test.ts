import { execa } from 'execa';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest';
import { parsed } from '../core/base/schemas/check.ts';
import { movingDevice } from '../core/test/generated-device.ts';
import { codeToLight } from '../core/base/image/transfer.ts';
import { filmOf } from '../server/test/media-files.ts';
import { temporaryFolder } from '../server/test/folders.ts';
import { main } from './main.ts';

const folder = temporaryFolder();
const at = (name: string) => join(folder.path, name);
const FRAMES = 5;
/** A dark screen over which a light passes, in a room that grows brighter by a stop. */
const mirrored = (f: number, u: number) => 0.2 * Math.exp(-(((u - f / 4) / 0.15) ** 2));
const light = (f: number) => 2 ** (f / 4 - 0.5);
const device = movingDevice({ screen: () => 0.008, mirrored, light, speed: 1.5 });
const made = Array.from({ length: FRAMES }, (_, f) => device(f));
const { width: W, height: H } = made[0]!.picture;
const goal = movingDevice({ screen: () => codeToLight(150 / 255), mirrored, light, speed: 1.5 });

function track(name: string, corners: (f: number) => unknown): string {
  const frames = made.map((_, frame) => ({
    frame,
    ...(corners(frame) ? { homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], corners: corners(frame) } : {}),
  }));
  writeFileSync(
    at(name),
    JSON.stringify({
      format: 'yarlop-track/1',
      pixelCentre: 'half',
      width: W,
      height: H,
      rate: [25, 1],
      referenceFrame: 2,
      frames,
    }),
  );
  return at(name);
}
async function yarlop(...args: string[]): Promise<{ code: number; said: string }> {
  const heard: string[] = [];
  const spy = vi.spyOn(process.stderr, 'write').mockImplementation((text) => heard.push(String(text)) > 0);
  try {
    return { code: await main(args), said: heard.join('') };
  } finally {
    spy.mockRestore();
  }
}

beforeAll(async () => {
  await filmOf(
    made.map((m) => m.picture),
    at('plate.mkv'),
  );
  await sharp({ create: { width: 90, height: 60, channels: 3, background: '#969696' } })
    .png()
    .toFile(at('grey.png'));
});
afterAll(() => folder.remove());

describe('yarlop look', () => {
  test('measures a look, says why, and `render` uses it: the light that passes stays over the content', async () => {
    const file = track('track.json', (f) => made[f]!.quad);
    const { code, said } = await yarlop(
      'look',
      '--plate',
      at('plate.mkv'),
      '--track',
      file,
      '--content',
      at('grey.png'),
      '--out',
      at('look.json'),
    );
    expect([code, said]).toEqual([0, expect.stringContaining('motionBlur/shutter')]);
    const look = parsed('look', readFileSync(at('look.json'), 'utf8'), 'look.json');
    const keys = look.exposure as { frame: number; value: number }[];
    expect(look.reflections).toEqual({ from: 'dark' });
    expect(Math.abs(keys.at(-1)!.value - keys[0]!.value - 1)).toBeLessThan(0.05);
    for (const name of ['levels/black', 'levels/white', 'exposure', 'soften', 'reflections'])
      expect(look.why![name]).toMatchObject({
        says: expect.stringMatching(/\d/) as unknown,
        certainty: expect.any(Number) as unknown,
      });
    // Levels are given at the exposure of the reference frame; the true ones stand in for what no plate tells.
    const level = 255 * light(2) * codeToLight(150 / 255);
    const grey = Math.round(255 * (1.055 * (level / 255) ** (1 / 2.4) - 0.055)) / 150;
    writeFileSync(
      at('known.json'),
      JSON.stringify({
        ...look,
        grain: { levels: [{ level: 0, sigma: [0, 0, 0] }], off: true },
        levels: { black: 0, white: grey },
      }),
    );
    expect(
      (
        await yarlop(
          'render',
          '--plate',
          at('plate.mkv'),
          '--track',
          file,
          '--content',
          at('grey.png'),
          '--look',
          at('known.json'),
          '--out',
          at('out.mkv'),
        )
      ).code,
    ).toBe(0);
    const { stdout } = await execa(
      'ffmpeg',
      ['-v', 'error', '-i', at('out.mkv'), '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'],
      { encoding: 'buffer', maxBuffer: 1e8 },
    );
    for (const f of [0, 2, 4]) {
      const truth = goal(f).picture;
      const [a, , c] = made[f]!.quad;
      const row = Math.round((a[1] + c[1]) / 2);
      for (let x = Math.round(a[0]) + 12; x < c[0] - 12; x += 9)
        expect(Math.abs(stdout[3 * (f * W * H + row * W + x)]! - truth.data[3 * (row * W + x)]!)).toBeLessThanOrEqual(
          5,
        );
    }
  });

  test('content darker than the black that is laid under it: a sentence, and less sure', async () => {
    writeFileSync(
      at('dark.png'),
      await sharp({ create: { width: 64, height: 48, channels: 3, background: { r: 3, g: 3, b: 3 } } })
        .png()
        .toBuffer(),
    );
    const { code } = await yarlop(
      'look',
      '--plate',
      at('plate.mkv'),
      '--track',
      track('track.json', (f) => made[f]!.quad),
      '--content',
      at('dark.png'),
      '--out',
      at('dark.json'),
    );
    const { why } = parsed('look', readFileSync(at('dark.json'), 'utf8'), 'dark.json');
    expect([code, why!['levels/black']!.says]).toEqual([0, expect.stringContaining('it will hardly be seen')]);
    expect(why!['levels/black']!.certainty).toBeLessThanOrEqual(0.3);
  });

  test('the same twice gives the same file', async () => {
    const file = track('track.json', (f) => made[f]!.quad);
    await yarlop('look', '--plate', at('plate.mkv'), '--track', file, '--out', at('again.json'));
    expect(readFileSync(at('again.json'), 'utf8')).toBe(readFileSync(at('look.json'), 'utf8'));
  });

  test('all corners lost: one sentence, no file', async () => {
    const { code, said } = await yarlop(
      'look',
      '--plate',
      at('plate.mkv'),
      '--track',
      track('lost.json', () => null),
      '--out',
      at('none.json'),
    );
    expect([code, existsSync(at('none.json'))]).toEqual([1, false]);
    expect(said).toContain('The surface is seen on no frame of the plate');
  });

  test('corners that are all outside the picture are as good as lost', async () => {
    const { code, said } = await yarlop(
      'look',
      '--plate',
      at('plate.mkv'),
      '--track',
      track('away.json', (f) => made[f]!.quad.map(([x, y]) => [x + 3000, y])),
      '--out',
      at('none.json'),
    );
    expect([code, said]).toEqual([1, expect.stringContaining('seen on no frame')]);
  });
});
