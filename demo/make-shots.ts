/**
 * Makes the demo shots: lossless plate, true composite, matte and exact corners into .cache/demo, and the small
 * clips that ship into demo/clips. `npm run demo:make [-- name … | content]`.
 */
import { execa } from 'execa';
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { PictureKind } from './frame-worker.ts';
import { renderShot } from './render-shot.ts';
import { SHIPPED, SHOTS, shotNamed } from './shots/index.ts';
import { truthOf } from './truth.ts';

const root = join(import.meta.dirname, '..');
export const CACHE = join(root, '.cache/demo');

const KINDS: readonly Exclude<PictureKind, 'unmarked'>[] = ['plate', 'composite', 'matte'];

/** Paths of a shot's lossless pictures; those of the `kinds` are made when they are not there. */
export async function losslessShot(
  name: string,
  kinds = KINDS,
): Promise<{ plate: string; composite: string; matte: string; truth: string }> {
  mkdirSync(CACHE, { recursive: true });
  const shot = shotNamed(name);
  const paths = {
    plate: join(CACHE, `${name}.mkv`),
    composite: join(CACHE, `${name}.composite.mkv`),
    matte: join(CACHE, `${name}.matte.mkv`),
    truth: join(CACHE, `${name}.truth.json`),
  };
  writeFileSync(paths.truth, JSON.stringify(truthOf(shot)));
  for (const kind of kinds) if (!existsSync(paths[kind])) await renderShot(shot, kind, paths[kind]);
  return paths;
}

async function ship(name: string): Promise<void> {
  const lossless = await losslessShot(name, ['plate']);
  const clips = join(root, 'demo/clips');
  mkdirSync(clips, { recursive: true });
  await execa('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-i',
    lossless.plate,
    '-vf',
    'scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int+bicubic',
    '-pix_fmt',
    'yuv420p',
    '-colorspace',
    'bt709',
    '-color_primaries',
    'bt709',
    '-color_trc',
    'bt709',
    '-color_range',
    'tv',
    '-c:v',
    'libx264',
    '-preset',
    'veryslow',
    '-crf',
    '19',
    '-movflags',
    '+faststart',
    join(clips, `${name}.mp4`),
  ]);
  writeFileSync(join(clips, `${name}.truth.json`), JSON.stringify(truthOf(SHOTS[name]!())) + '\n');
}

if (process.argv[1] === import.meta.filename) {
  const names = process.argv.slice(2);
  if (names.includes('content')) await (await import('./make-content.ts')).makeContent();
  for (const name of names.length > 0 ? names.filter((n) => n !== 'content') : SHIPPED) await ship(name);
}
