import { clamp } from '../../core/base/geometry/clamp.ts';
import { execa } from 'execa';
import { once } from 'node:events';
import { renameSync, rmSync } from 'node:fs';
import { basename, dirname, extname, join } from 'node:path';
import type { Writable } from 'node:stream';
import sharp from 'sharp';
import type { CodedPicture, Peak } from '../../core/base/image/picture.ts';
import { DISPLAY_COLOUR, displayPicture, type PlateColour } from '../../core/base/image/plate-colour.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import type { DeliverySettings } from '../../core/base/schemas/types.ts';
import type { FilmFormat } from '../../core/handoff/send/file-pattern.ts';
import { filmArguments, SOUND_ARGUMENTS } from './film-codecs.ts';
import { isMissing, lastWords } from './run-tool.ts';
import { writeExr } from './write-exr.ts';

/** Where rendered frames go, in order. */
export interface FrameSink {
  write(frame: number, picture: CodedPicture): Promise<void>;
  /** Puts the finished file in its place. */
  finish(): Promise<void>;
  /** Leaves nothing behind. */
  abandon(): Promise<void>;
}

/** How a film is to be read: its rate, what its codes mean, and the width of a pixel over its height. */
export interface FilmFacts {
  rate: readonly [number, number];
  colour?: PlateColour;
  pixelAspect?: readonly [number, number];
}

/** The way of coding that a film file's ending stands for. */
const CODED: Readonly<Record<string, FilmFormat>> = { '.mkv': 'ffv1', '.webm': 'vp9' };

/** What more a film is to hold than pictures. */
export interface FilmExtras extends Pick<DeliverySettings, 'quality' | 'crf'> {
  readonly format?: FilmFormat | undefined;
  /** Of the first frame. */
  readonly timecode?: string | undefined;
  /** A file whose sound goes with the film, from a time on, for so long, s. */
  readonly sound?: { readonly file: string; readonly start: number; readonly length: number } | undefined;
}

/** A sink for one film file; unless a format is given the ending chooses it. Films hold no floats: these become 8-bit display codes. The film appears under its name only when whole. */
export function openFilm(
  file: string,
  size: { width: number; height: number; peak: Peak },
  { rate, colour = DISPLAY_COLOUR, pixelAspect = [1, 1] }: FilmFacts,
  extras: FilmExtras = {},
): FrameSink {
  const floats = size.peak === 1;
  const shown = floats ? DISPLAY_COLOUR : colour;
  const deep = size.peak === 65535;
  const ending = extname(file).toLowerCase();
  const format = extras.format ?? CODED[ending] ?? 'h264';
  const { sound, timecode } = extras;
  const input = [
    '-f',
    'rawvideo',
    '-pix_fmt',
    deep ? 'rgb48le' : 'rgb24',
    '-s',
    `${size.width}x${size.height}`,
    '-r',
    rate.join('/'),
  ];
  const beside = sound
    ? [
        '-ss',
        sound.start.toFixed(6),
        '-t',
        sound.length.toFixed(6),
        '-i',
        sound.file,
        '-map',
        '0:v',
        '-map',
        '1:a:0?',
        ...SOUND_ARGUMENTS[format],
      ]
    : [];
  const coded = [
    ...beside,
    ...filmArguments(format, { colour: shown, pixelAspect, deep }, extras),
    ...(timecode
      ? ending === '.mp4' || ending === '.mov'
        ? ['-timecode', timecode]
        : ['-metadata', `timecode=${timecode}`]
      : []),
  ];
  const film = openRawFilm(file, input, coded, (given: CodedPicture) => {
    const { data } = floats ? displayPicture(given, colour) : given;
    return Buffer.from(data.buffer, data.byteOffset, data.byteLength);
  });
  return { ...film, write: (_frame, picture) => film.write(picture) };
}

/** An encoder that takes frames as bytes through a pipe. */
function openRawFilm<Frame>(
  file: string,
  input: readonly string[],
  output: readonly string[],
  bytesOf: (frame: Frame) => Buffer,
): { write(frame: Frame): Promise<void>; finish(): Promise<void>; abandon(): Promise<void> } {
  const temporary = join(dirname(file), `.${basename(file)}.${process.pid}.part${extname(file)}`);
  const child = execa('ffmpeg', ['-v', 'error', '-y', ...input, '-i', 'pipe:0', ...output, temporary], {
    reject: false,
    stdin: 'pipe',
    stdout: 'ignore',
    maxBuffer: 1 << 20,
    env: { SVT_LOG: '1' },
  });
  let broken = false;
  child.stdin.on('error', () => (broken = true));
  const failure = async (): Promise<Problem> => {
    const result = await child;
    if (isMissing(result)) return new Problem('tool-missing', { tool: 'ffmpeg', package: 'ffmpeg' });
    if (/No space left/i.test(result.stderr)) return new Problem('disk-full');
    if (/No such file|Permission denied/i.test(result.stderr))
      return new Problem('file-unwritable', { file, why: lastWords(result.stderr) });
    return new Problem('tool-failed', { tool: 'ffmpeg', why: lastWords(result.stderr) });
  };
  return {
    async write(frame) {
      if (broken || child.exitCode !== null) throw await failure();
      if (!child.stdin.write(bytesOf(frame))) await drained(child.stdin);
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

/** Where mattes go, in order: one share 0…1 a pixel. */
export interface MatteSink {
  write(matte: Float32Array): Promise<void>;
  finish(): Promise<void>;
  abandon(): Promise<void>;
}

/** A film of 8-bit grey in full range, without loss: 255 is 1. It appears under its name only when whole. */
export function openMatteFilm(
  file: string,
  { width, height }: { width: number; height: number },
  rate: readonly [number, number],
): MatteSink {
  return openRawFilm(
    file,
    ['-f', 'rawvideo', '-pix_fmt', 'gray', '-color_range', 'pc', '-s', `${width}x${height}`, '-r', rate.join('/')],
    ['-c:v', 'ffv1', '-level', '3', '-slices', '4', '-g', '1', '-pix_fmt', 'gray', '-color_range', 'pc'],
    (matte: Float32Array) => {
      const bytes = Buffer.allocUnsafe(matte.length);
      for (let i = 0; i < matte.length; i++) bytes[i] = 255 * clamp(matte[i]!, 0, 1) + 0.5;
      return bytes;
    },
  );
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

/** Writes one picture as PNG of its own depth (integers only), colour or grey, under its name only when whole. */
export async function writePng(
  file: string,
  { width, height, data, peak }: CodedPicture,
  channels: 1 | 3 = 3,
): Promise<void> {
  await writeWholePng(file, data, width, height, channels, peak === 65535);
}

/** Writes one picture with how far it covers each pixel (255: wholly; colours straight) as PNG. */
export async function writeTransparentPng(
  file: string,
  given: CodedPicture,
  alpha: Uint8Array,
  colour: PlateColour,
): Promise<void> {
  const picture = given.peak === 1 ? displayPicture(given, colour) : given;
  const deep = picture.peak === 65535;
  const data = deep ? new Uint16Array(alpha.length * 4) : new Uint8Array(alpha.length * 4);
  for (let i = 0; i < alpha.length; i++) {
    for (let c = 0; c < 3; c++) data[4 * i + c] = picture.data[3 * i + c]!;
    data[4 * i + 3] = alpha[i]! * (deep ? 257 : 1);
  }
  await writeWholePng(file, data, picture.width, picture.height, 4, deep);
}

async function writeWholePng(
  file: string,
  data: Uint8Array | Uint16Array | CodedPicture['data'],
  width: number,
  height: number,
  channels: 1 | 3 | 4,
  deep: boolean,
): Promise<void> {
  const temporary = join(dirname(file), `.${basename(file)}.${process.pid}.part`);
  try {
    const raw = sharp(data, { raw: { width, height, channels } });
    await (
      deep ? raw.toColourspace(channels === 1 ? 'grey16' : 'rgb16') : channels === 1 ? raw.toColourspace('b-w') : raw
    )
      .png({ compressionLevel: 2 })
      .toFile(temporary);
    renameSync(temporary, file);
  } catch (error) {
    rmSync(temporary, { force: true });
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC' || /No space left/i.test(String(error)))
      throw new Problem('disk-full');
    throw new Problem('file-unwritable', { file, why: (error as Error).message }, { cause: error });
  }
}

/** Writes one picture in the format of the name's ending: EXR as it is, PNG with floats as display codes. */
export async function writePicture(file: string, picture: CodedPicture, colour: PlateColour): Promise<void> {
  if (extname(file).toLowerCase() === '.exr') return writeExr(file, picture);
  return writePng(file, picture.peak === 1 ? displayPicture(picture, colour) : picture);
}

/** A sink for numbered pictures, PNG or EXR; `pattern` holds %d or %0Nd, numbers are frame + firstNumber. */
export function openPictures(pattern: string, firstNumber: number, colour: PlateColour = DISPLAY_COLOUR): FrameSink {
  return {
    write: (frame, picture) => writePicture(numberedName(pattern, frame + firstNumber), picture, colour),
    finish: async () => {},
    abandon: async () => {},
  };
}

export function numberedName(pattern: string, number: number): string {
  return pattern.replace(/%0?(\d*)d/, (_, width: string) => String(number).padStart(Number(width || 1), '0'));
}
