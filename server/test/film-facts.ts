import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { runTool } from '../media/run-tool.ts';
import { temporaryFolder } from './folders.ts';

/** What ffprobe tells of a film's picture, every frame decoded. */
export async function probeFilm(
  bytes: Uint8Array,
): Promise<{ codec: string; width: number; height: number; frames: number }> {
  const folder = temporaryFolder();
  const file = join(folder.path, 'film');
  try {
    mkdirSync(folder.path, { recursive: true });
    writeFileSync(file, bytes);
    const { stdout, stderr, exitCode } = await runTool(
      'ffprobe',
      [
        '-v',
        'error',
        '-select_streams',
        'v',
        '-count_frames',
        '-show_entries',
        'stream=codec_name,width,height,nb_read_frames',
        '-of',
        'csv=p=0',
        file,
      ],
      60_000,
    );
    if (exitCode !== 0) throw new Error(stderr);
    const [codec = '', width, height, frames] = stdout.toString().trim().split(',');
    return { codec, width: Number(width), height: Number(height), frames: Number(frames) };
  } finally {
    folder.remove();
  }
}
