/**
 * Makes the demo shots: lossless plate, true composite, matte and exact corners into .cache/demo, and the small
 * clips that ship into demo/clips. `npm run demo:make [-- name … | content]`.
 */
import { execa } from 'execa';
import { existsSync, mkdirSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { PictureKind } from './frame-worker.ts';
import type { Shot } from './scene/shot.ts';
import { SHIPPED, SHOTS } from './shots/index.ts';
import { truthOf } from './truth.ts';

const root = join(import.meta.dirname, '..');
export const CACHE = join(root, '.cache/demo');

const KINDS: readonly PictureKind[] = ['plate', 'composite', 'matte'];

/** Paths of a shot's lossless pictures; those of the `kinds` are made when they are not there. */
export async function losslessShot(name: string, kinds = KINDS): Promise<{ plate: string; composite: string; matte: string; truth: string }> {
  mkdirSync(CACHE, { recursive: true });
  const shot = SHOTS[name]!();
  const paths = { plate: join(CACHE, `${name}.mkv`), composite: join(CACHE, `${name}.composite.mkv`), matte: join(CACHE, `${name}.matte.mkv`), truth: join(CACHE, `${name}.truth.json`) };
  writeFileSync(paths.truth, JSON.stringify(truthOf(shot)));
  for (const kind of kinds) if (!existsSync(paths[kind])) await renderShot(shot, kind, paths[kind]);
  return paths;
}

async function renderShot(shot: Shot, kind: PictureKind, file: string): Promise<void> {
  const { width, height } = shot.scene().lens;
  const temporary = `${file}.part.mkv`;
  const encoder = execa('ffmpeg', ['-v', 'error', '-y', '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', `${width}x${height}`, '-r', shot.rate.join('/'),
    '-i', '-', '-c:v', 'ffv1', '-level', '3', '-slices', '4', '-pix_fmt', 'bgr0', temporary], { buffer: false, stdin: 'pipe' });
  await renderInOrder(shot, kind, async (pixels) => {
    if (!encoder.stdin.write(pixels)) await new Promise((resolve) => encoder.stdin.once('drain', resolve));
  });
  encoder.stdin.end();
  await encoder;
  renameSync(temporary, file);
}

/** Two workers render ahead of the writer; frames are handed over in order. */
async function renderInOrder(shot: Shot, kind: PictureKind, write: (pixels: Uint8Array) => Promise<void>): Promise<void> {
  const done = new Map<number, Uint8Array>();
  let asked = 0, written = 0, wake = () => {};
  const workers = [0, 1].map(() => new Worker(new URL('../scripts/ts-worker.mjs', import.meta.url), { workerData: { entry: new URL('./frame-worker.ts', import.meta.url).href, name: shot.name } }));
  const failures: Error[] = [];
  const askNext = (worker: Worker) => {
    if (asked < shot.frames) worker.postMessage({ frame: asked++, kind });
  };
  for (const worker of workers) {
    worker.on('message', ({ frame, pixels }: { frame: number; pixels: Uint8Array }) => {
      done.set(frame, pixels);
      askNext(worker);
      wake();
    });
    worker.on('error', (error: Error) => {
      failures.push(error);
      wake();
    });
    askNext(worker);
  }
  try {
    while (written < shot.frames) {
      if (failures[0]) throw failures[0];
      const pixels = done.get(written);
      if (!pixels) {
        await new Promise<void>((resolve) => (wake = resolve));
        continue;
      }
      await write(pixels);
      done.delete(written++);
      if (process.stderr.isTTY) process.stderr.write(`\r${shot.name} ${kind} ${written}/${shot.frames} `);
    }
    process.stderr.write(`\r${shot.name} ${kind} made\n`);
  } finally {
    await Promise.all(workers.map((worker) => worker.terminate()));
  }
}

async function ship(name: string): Promise<void> {
  const lossless = await losslessShot(name);
  const clips = join(root, 'demo/clips');
  mkdirSync(clips, { recursive: true });
  await execa('ffmpeg', ['-v', 'error', '-y', '-i', lossless.plate, '-vf', 'scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int+bicubic',
    '-pix_fmt', 'yuv420p', '-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv',
    '-c:v', 'libx264', '-preset', 'veryslow', '-crf', '19', '-movflags', '+faststart', join(clips, `${name}.mp4`)]);
  writeFileSync(join(clips, `${name}.truth.json`), JSON.stringify(truthOf(SHOTS[name]!())) + '\n');
}

if (process.argv[1] === import.meta.filename) {
  const names = process.argv.slice(2);
  if (names.includes('content')) await (await import('./make-content.ts')).makeContent();
  for (const name of names.length > 0 ? names.filter((n) => n !== 'content') : SHIPPED) await ship(name);
}
