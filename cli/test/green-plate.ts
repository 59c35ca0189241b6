import { execa } from 'execa';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { vi } from 'vitest';
import { greenScreen, SCREEN_QUAD } from '../../core/test/green-screen.ts';
import { identityTrack } from '../../core/test/identity-track.ts';
import { temporaryFolder } from '../../server/test/folders.ts';
import { filmOf } from '../../server/test/media-files.ts';
import { main } from '../main.ts';

export const FRAMES = 6;
export const W = 160;
export const H = 120;

/** A plate of a green screen that a bar crosses, its exact track and a blue picture, in a folder of their own: `prepare` makes them. */
export function greenPlate() {
  const folder = temporaryFolder();
  const at = (name: string) => join(folder.path, name);
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

  const prepare = async () => {
    await film(
      'plate.mkv',
      scenes.map((s) => s.picture.data as Uint8Array),
    );
    write('track.json', identityTrack(W, H, FRAMES, SCREEN_QUAD));
    await sharp({ create: { width: 90, height: 75, channels: 3, background: '#2030c8' } })
      .png()
      .toFile(at('blue.png'));
  };
  return { folder, at, scenes, film, write, frames, yarlop, prepare };
}
