import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { pictureFromRaw, type RawLayout } from '../../core/image/raw-frame.ts';
import type { CodedPicture } from '../../core/image/picture.ts';
import { Problem } from '../../core/problem/problem.ts';

/**
 * Decoded frames of one medium on disk: `raw/000000.raw` in the source's own planes, losslessly, any
 * frame at hand; `proxy/000000.jpg` for scrubbing. Files appear under their names only when whole.
 */
export class FrameStore {
  private readonly raw: string;
  /** Folder of the light JPEGs. */
  readonly proxies: string;

  constructor(folder: string) {
    this.raw = join(folder, 'raw');
    this.proxies = join(folder, 'proxy');
    mkdirSync(this.raw, { recursive: true });
    mkdirSync(this.proxies, { recursive: true });
  }

  hasRaw(frame: number): boolean {
    return existsSync(join(this.raw, fileName(frame, 'raw')));
  }

  writeRaw(frame: number, bytes: Uint8Array): void {
    writeWholeFile(join(this.raw, fileName(frame, 'raw')), bytes);
  }

  /** How many frames there are from 0 on without a gap. */
  countRaw(): number {
    const names = new Set(readdirSync(this.raw));
    let count = 0;
    while (names.has(fileName(count, 'raw'))) count++;
    return count;
  }

  async readRaw(frame: number): Promise<Uint8Array> {
    try {
      return await readFile(join(this.raw, fileName(frame, 'raw')));
    } catch (error) {
      throw new Problem('not-found', { thing: 'frame', id: frame }, { cause: error });
    }
  }

  /** A light JPEG of a frame; made here when bringing in has not left one. */
  async proxy(frame: number, layout: RawLayout): Promise<Buffer> {
    const file = join(this.proxies, fileName(frame, 'jpg'));
    if (existsSync(file)) return readFileSync(file);
    const jpeg = await asSharp(pictureFromRaw(await this.readRaw(frame), layout)).jpeg({ quality: 88, chromaSubsampling: '4:4:4' }).toBuffer();
    writeWholeFile(file, jpeg);
    return jpeg;
  }

  /** A frame exactly, as 8-bit PNG for the screen. */
  async exact(frame: number, layout: RawLayout): Promise<Buffer> {
    return asSharp(pictureFromRaw(await this.readRaw(frame), layout)).png({ compressionLevel: 1 }).toBuffer();
  }
}

function asSharp(picture: CodedPicture) {
  let data = picture.data;
  if (picture.peak === 65535) {
    data = new Uint8Array(picture.data.length);
    for (let i = 0; i < data.length; i++) data[i] = (picture.data[i]! + 128) / 257;
  }
  return sharp(data, { raw: { width: picture.width, height: picture.height, channels: 3 } });
}

function fileName(frame: number, ending: string): string {
  return `${String(frame).padStart(6, '0')}.${ending}`;
}

export function writeWholeFile(file: string, bytes: Uint8Array): void {
  const temporary = `${file}.${process.pid}.${Math.random().toString(36).slice(2)}.part`;
  try {
    writeFileSync(temporary, bytes);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw new Problem('disk-full', {}, { cause: error });
    throw error;
  }
  renameSync(temporary, file);
}
