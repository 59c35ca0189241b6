import { execa } from 'execa';
import { renameSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import type { PictureKind } from './frame-worker.ts';
import type { Shot } from './scene/shot.ts';

/** Codec arguments of a plate kept without loss. */
export const LOSSLESS = ['-c:v', 'ffv1', '-level', '3', '-slices', '4', '-pix_fmt', 'bgr0'] as const;
/** Codec arguments of a plate as a camera with a narrow channel would send it: H.264 with a constant rate factor. */
export const lossy = (rateFactor: number): readonly string[] => [
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
  'medium',
  '-crf',
  String(rateFactor),
];

/** Renders a shot's pictures of one kind into a file, which is there only when it is whole. */
export async function renderShot(
  shot: Shot,
  kind: PictureKind,
  file: string,
  codec: readonly string[] = LOSSLESS,
): Promise<void> {
  const { width, height } = shot.scene().lens;
  const temporary = `${file}.part.mkv`;
  const encoder = execa(
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
      shot.rate.join('/'),
      '-i',
      '-',
      ...codec,
      temporary,
    ],
    { buffer: false, stdin: 'pipe' },
  );
  await renderInOrder(shot, kind, async (pixels) => {
    if (!encoder.stdin.write(pixels)) await new Promise((resolve) => encoder.stdin.once('drain', resolve));
  });
  encoder.stdin.end();
  await encoder;
  renameSync(temporary, file);
}

/** Two workers render ahead of the writer; frames are handed over in order. */
async function renderInOrder(
  shot: Shot,
  kind: PictureKind,
  write: (pixels: Uint8Array) => Promise<void>,
): Promise<void> {
  const done = new Map<number, Uint8Array>();
  let asked = 0;
  let written = 0;
  let wake = () => {};
  const workers = [0, 1].map(
    () =>
      new Worker(new URL('../scripts/ts-worker.mjs', import.meta.url), {
        workerData: { entry: new URL('./frame-worker.ts', import.meta.url).href, name: shot.name },
      }),
  );
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
