import { renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { Problem } from '../../core/base/problem/problem.ts';
import type { FilmFacts } from '../media/encode.ts';
import { filmArguments } from '../media/film-codecs.ts';
import { lastWords, runTool } from '../media/run-tool.ts';
import { zipFiles } from '../media/zip-files.ts';

/** A rendered frame's file in its job's folder. */
export function pictureName(frame: number, ending: 'png' | 'exr' = 'png'): string {
  return `${String(frame).padStart(6, '0')}.${ending}`;
}

/** One film of the folder's pictures; the name of its file there. @throws Problem disk-full, tool-failed */
export async function packFilm(folder: string, first: number, facts: FilmFacts): Promise<string> {
  const temporary = join(folder, 'film.part.mp4');
  const result = await runTool(
    'ffmpeg',
    [
      '-v',
      'error',
      '-y',
      '-nostdin',
      '-f',
      'image2',
      '-framerate',
      facts.rate.join('/'),
      '-start_number',
      String(first),
      '-i',
      join(folder, '%06d.png').replaceAll('%', '%%').replace('%%06d', '%06d'),
      ...filmArguments('h264', facts),
      temporary,
    ],
    3_600_000,
  );
  if (result.exitCode !== 0) {
    rmSync(temporary, { force: true });
    if (/No space left/i.test(result.stderr)) throw new Problem('disk-full');
    throw new Problem('tool-failed', { tool: 'ffmpeg', why: lastWords(result.stderr) });
  }
  renameSync(temporary, join(folder, 'film.mp4'));
  return 'film.mp4';
}

/** A zip of the pictures, stored (they do not shrink), under the plate's own frame numbers, and of what else is given. */
export async function packPictures(
  folder: string,
  [first, last]: readonly [number, number],
  numberShift: number,
  ending: 'png' | 'exr',
  besides: readonly string[] = [],
): Promise<string> {
  const temporary = join(folder, 'pictures.part.zip');
  const frames = Array.from({ length: last - first + 1 }, (_, i) => first + i);
  await zipFiles(temporary, [
    ...frames.map((frame) => ({
      name: `frame.${String(frame + numberShift).padStart(4, '0')}.${ending}`,
      file: join(folder, pictureName(frame, ending)),
    })),
    ...besides.map((name) => ({ name, file: join(folder, name) })),
  ]);
  renameSync(temporary, join(folder, 'pictures.zip'));
  return 'pictures.zip';
}
