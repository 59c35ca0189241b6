import { execa } from 'execa';
import { once } from 'node:events';
import { renameSync, rmSync } from 'node:fs';
import { basename, dirname, extname, join } from 'node:path';
import type { Writable } from 'node:stream';
import sharp from 'sharp';
import type { CodedPicture } from '../../core/image/picture.ts';
import { Problem } from '../../core/problem/problem.ts';
import { isMissing, lastWords } from './run-tool.ts';

/** Where rendered frames go, in order. */
export interface FrameSink {
  write(frame: number, picture: CodedPicture): Promise<void>;
  /** Puts the finished file in its place. */
  finish(): Promise<void>;
  /** Leaves nothing behind. */
  abandon(): Promise<void>;
}

const BT709 = ['-color_primaries', 'bt709', '-color_trc', 'bt709'];

/** H.264 in 4:2:0, BT.709 limited range, visually lossless. */
export const H264_ARGUMENTS = ['-vf', 'pad=ceil(iw/2)*2:ceil(ih/2)*2,scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int+bicubic', '-pix_fmt', 'yuv420p',
  '-c:v', 'libx264', '-preset', 'medium', '-crf', '15', '-colorspace', 'bt709', ...BT709, '-color_range', 'tv', '-movflags', '+faststart'];

/** A sink for one film file; the ending chooses the format. The picture appears under its name only when whole. */
export function openFilm(file: string, size: { width: number; height: number; peak: 255 | 65535 }, rate: readonly [number, number]): FrameSink {
  const temporary = join(dirname(file), `.${basename(file)}.${process.pid}.part${extname(file)}`);
  const output = extname(file).toLowerCase() === '.mkv'
    ? ['-c:v', 'ffv1', '-level', '3', '-slices', '4', '-g', '1', '-pix_fmt', size.peak === 255 ? 'bgr0' : 'gbrp16le', ...BT709, '-color_range', 'pc']
    : H264_ARGUMENTS;
  const child = execa('ffmpeg', ['-v', 'error', '-y', '-f', 'rawvideo', '-pix_fmt', size.peak === 255 ? 'rgb24' : 'rgb48le', '-s', `${size.width}x${size.height}`,
    '-r', rate.join('/'), '-i', 'pipe:0', ...output, temporary], { reject: false, stdin: 'pipe', stdout: 'ignore', maxBuffer: 1 << 20 });
  let broken = false;
  child.stdin.on('error', () => (broken = true));
  const failure = async (): Promise<Problem> => {
    const result = await child;
    if (isMissing(result)) return new Problem('tool-missing', { tool: 'ffmpeg', package: 'ffmpeg' });
    if (/No space left/i.test(result.stderr)) return new Problem('disk-full');
    if (/No such file|Permission denied/i.test(result.stderr)) return new Problem('file-unwritable', { file, why: lastWords(result.stderr) });
    return new Problem('tool-failed', { tool: 'ffmpeg', why: lastWords(result.stderr) });
  };
  return {
    async write(_frame, picture) {
      if (broken || child.exitCode !== null) throw await failure();
      const bytes = Buffer.from(picture.data.buffer, picture.data.byteOffset, picture.data.byteLength);
      if (!child.stdin.write(bytes)) await drained(child.stdin);
    },
    async finish() {
      child.stdin.end();
      const result = await child;
      if (result.exitCode !== 0) {
        rmSync(temporary, { force: true });
        throw await failure();
      }
      renameSync(temporary, file);
    },
    async abandon() {
      child.kill('SIGKILL');
      await child;
      rmSync(temporary, { force: true });
    },
  };
}

/** Waits until a pipe takes more, or is closed; what went wrong is found out at the next write. */
async function drained(pipe: Writable): Promise<void> {
  const cancel = new AbortController();
  const options = { signal: cancel.signal };
  try {
    await Promise.race([once(pipe, 'drain', options), once(pipe, 'close', options)]);
  } catch {
    // An error event: `broken` is set by the pipe's own listener.
  } finally {
    cancel.abort();
  }
}

/** Writes one picture as PNG of its own depth, under its name only when whole. */
export async function writePng(file: string, picture: CodedPicture): Promise<void> {
  const temporary = join(dirname(file), `.${basename(file)}.${process.pid}.part`);
  try {
    const raw = sharp(picture.data, { raw: { width: picture.width, height: picture.height, channels: 3 } });
    await (picture.peak === 65535 ? raw.toColourspace('rgb16') : raw).png({ compressionLevel: 4 }).toFile(temporary);
    renameSync(temporary, file);
  } catch (error) {
    rmSync(temporary, { force: true });
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC' || /No space left/i.test(String(error))) throw new Problem('disk-full');
    throw new Problem('file-unwritable', { file, why: (error as Error).message }, { cause: error });
  }
}

/** A sink for numbered PNG pictures; `pattern` holds %d or %0Nd, numbers are frame + firstNumber. */
export function openPictures(pattern: string, firstNumber: number): FrameSink {
  return {
    write: (frame, picture) => writePng(numberedName(pattern, frame + firstNumber), picture),
    finish: async () => {},
    abandon: async () => {},
  };
}

export function numberedName(pattern: string, number: number): string {
  return pattern.replace(/%0?(\d*)d/, (_, width: string) => String(number).padStart(Number(width || 1), '0'));
}
