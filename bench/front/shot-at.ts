import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Quad } from '../../core/base/geometry/quad.ts';
import type { Truth } from '../../demo/truth.ts';
import { readStill } from '../../server/media/content.ts';
import { fontSet } from '../../server/media/fonts.ts';
import type { SpeedShot } from './speed-shot.ts';

const root = join(import.meta.dirname, '../..');

/** Frames that are finished. */
export const FRAMES = 16;

/** The shipped held phone, enlarged or reduced to a height. */
export async function shotAt(height: number): Promise<SpeedShot> {
  const truth = JSON.parse(readFileSync(join(root, 'demo/clips/held-phone.truth.json'), 'utf8')) as Truth;
  const scale = height / truth.height;
  const width = truth.width * scale;
  const size = 3 * width * height;
  const { stdout } = spawnSync(
    'ffmpeg',
    [
      '-v',
      'error',
      '-i',
      join(root, 'demo/clips/held-phone.mp4'),
      '-vf',
      `scale=${width}:${height}:flags=bicubic`,
      '-frames:v',
      String(FRAMES),
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgb24',
      '-',
    ],
    { maxBuffer: 2e9 },
  );
  const corners = truth.frames
    .slice(0, FRAMES)
    .map((frame) => frame.corners.map(([x, y]) => [x * scale, y * scale]) as unknown as Quad);
  return {
    width,
    height,
    plates: corners.map((_, i) => Uint8Array.from(stdout.subarray(i * size, (i + 1) * size))),
    corners,
    referenceFrame: truth.referenceFrame,
    levels: truth.levels,
    softness: truth.softness * scale,
    shutter: truth.shutter,
    page: await readStill(join(root, 'demo/content', truth.content)),
    font: fontSet,
  };
}
