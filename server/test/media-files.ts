import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { execa } from 'execa';
import sharp from 'sharp';
import { runTool } from '../media/run-tool.ts';
import { clipPath } from './folders.ts';

/** Runs ffmpeg for a test file. */
export async function ffmpeg(...args: string[]): Promise<void> {
  const result = await runTool('ffmpeg', ['-v', 'error', '-y', ...args], 60_000);
  if (result.exitCode !== 0) throw new Error(result.stderr);
}

/** Pictures of 8 bits as a film without loss, 25 a second. */
export async function filmOf(
  pictures: readonly { readonly width: number; readonly height: number; readonly data: ArrayLike<number> }[],
  file: string,
): Promise<void> {
  const [{ width, height }] = pictures as readonly [(typeof pictures)[number]];
  await execa(
    'ffmpeg',
    [
      '-v',
      'error',
      '-y',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgb24',
      '-s',
      `${width}x${height}`,
      '-r',
      '25',
      '-i',
      '-',
      '-c:v',
      'ffv1',
      '-pix_fmt',
      'bgr0',
      file,
    ],
    { input: Buffer.concat(pictures.map(({ data }) => Uint8Array.from(data))) },
  );
}

/** The files people bring by mistake; each must be answered by a sentence. */
export async function badFiles(
  folder: string,
): Promise<Record<'text' | 'truncated' | 'empty' | 'sound' | 'tiny', string>> {
  const at = (name: string) => join(folder, name);
  const files = {
    text: at('notes.mp4'),
    truncated: at('truncated.mp4'),
    empty: at('empty.mp4'),
    sound: at('sound.mp4'),
    tiny: at('tiny.mkv'),
  };
  writeFileSync(files.text, 'Beds 1 to 8 were watered at six.\n'.repeat(40));
  // An MP4 whose index stands at its end, cut in the middle, has no index.
  await ffmpeg('-i', clipPath('orders-laptop.mp4'), '-c', 'copy', at('whole.mp4'));
  const whole = readFileSync(at('whole.mp4'));
  writeFileSync(files.truncated, whole.subarray(0, whole.length >> 1));
  writeFileSync(files.empty, '');
  await ffmpeg('-f', 'lavfi', '-i', 'sine=frequency=300:duration=1', '-c:a', 'aac', files.sound);
  await ffmpeg('-f', 'lavfi', '-i', 'color=c=red:s=16x16:d=1:r=25,format=gbrp,crop=1:1', '-c:v', 'ffv1', files.tiny);
  return files;
}

/** Numbered pictures with a gradient that moves; returns their codes. */
export async function numberedPictures(
  folder: string,
  numbers: readonly number[],
  name = 'shot.',
  size = { width: 48, height: 32 },
): Promise<Uint8Array[]> {
  mkdirSync(folder, { recursive: true });
  const out: Uint8Array[] = [];
  for (const number of numbers) {
    const data = Uint8Array.from({ length: size.width * size.height * 3 }, (_, i) => (i * 5 + number * 11) % 256);
    await sharp(data, { raw: { ...size, channels: 3 } })
      .png()
      .toFile(join(folder, `${name}${String(number).padStart(4, '0')}.png`));
    out.push(data);
  }
  return out;
}

/** What a drifting take is: px of its picture, and by how much the still moves in it from frame to frame. */
export const DRIFT = { width: 320, height: 180, step: [-1.7 / 4, -1.1 / 4] as const };

/** A drifting look at a frame of a demo clip: what a camera in a hand makes of a scene in which nothing else happens. `from`: where it begins, in quarters of a pixel; `light`: a filter. */
export async function driftingTake(
  file: string,
  frames: number,
  [x, y]: readonly [number, number] = [40, 60],
  light = 'null',
): Promise<void> {
  // In quarters of a pixel: the crop goes by whole pixels of a picture four times as large.
  await ffmpeg(
    '-i',
    clipPath('bench-tablet.mp4'),
    '-vf',
    `select=eq(n\\,0),loop=loop=${frames}:size=1,setpts=N/25/TB,scale=1680:1050,crop=1280:720:x='${x}+1.7*n':y='${y}+1.1*n',scale=${DRIFT.width}:${DRIFT.height}:flags=area,${light}`,
    '-frames:v',
    String(frames),
    '-r',
    '25',
    '-c:v',
    'ffv1',
    '-pix_fmt',
    'yuv444p',
    '-color_range',
    'tv',
    '-colorspace',
    'bt709',
    '-color_primaries',
    'bt709',
    '-color_trc',
    'bt709',
    file,
  );
}
