import { clamp } from '../../core/base/geometry/clamp.ts';
import { LRUCache } from 'lru-cache';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import sharp from 'sharp';
import { displayPicture, DISPLAY_COLOUR, type PlateColour } from '../../core/base/image/plate-colour.ts';
import { parseCube, type CubeLut } from '../../core/base/image/cube-lut.ts';
import type { CodedPicture } from '../../core/base/image/picture.ts';
import { contentFromRaw, pictureFromRaw, type RawLayout } from '../../core/base/image/raw-frame.ts';
import { Problem } from '../../core/base/problem/problem.ts';
import { fetchRaw, type FrameServer } from './frame-server.ts';
import { PROXY_SIDE } from './proxies.ts';

/** How a medium's pictures are shown: what its codes mean, and a table over them if a person chose one. */
export interface FrameView {
  colour: PlateColour;
  lut: { hash: string; file: string } | null;
}

const PLAIN_VIEW: FrameView = { colour: DISPLAY_COLOUR, lut: null };

/** Names a view; pictures made for another are not these. */
export function viewKey({ colour, lut }: FrameView, layout: RawLayout): string {
  const matrix = layout.kind === 'ycbcr' ? layout.coding.matrix : '';
  return createHash('sha256')
    .update(JSON.stringify([colour.transfer, colour.primaries, lut?.hash ?? '', matrix]))
    .digest('hex')
    .slice(0, 10);
}

/** Where decoded frames of a file lie: the same file read in the same way shares them. */
export function storeName(fileHash: string, decodeKey: string): string {
  return `${fileHash.slice(0, 24)}-${createHash('sha256').update(decodeKey).digest('hex').slice(0, 12)}`;
}

/** What is known when a store is whole. */
export interface StoreMarker {
  frames: number;
  complaint: string | null;
}

/**
 * Decoded frames on disk: `raw/000000.raw` in the source's own planes, losslessly, any frame at hand;
 * `proxy-<view>/000000.jpg` for scrubbing; `whole.json` when all are there. Files appear under their names
 * only when whole.
 */
export class FrameStore {
  private readonly raw: string;
  /** Folder of the light JPEGs. */
  readonly proxies: string;
  private lut: CubeLut | null = null;

  constructor(
    readonly folder: string,
    private readonly layout: RawLayout,
    private readonly view: FrameView = PLAIN_VIEW,
    private readonly frameServer: FrameServer | null = null,
  ) {
    this.raw = join(folder, 'raw');
    this.proxies = join(folder, `proxy-${viewKey(view, layout)}`);
  }

  makeFolders(): void {
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
    const names = new Set(existsSync(this.raw) ? readdirSync(this.raw) : []);
    let count = 0;
    while (names.has(fileName(count, 'raw'))) count++;
    return count;
  }

  /** What was noted when the store became whole; null while it isn't. */
  marker(): StoreMarker | null {
    try {
      // Written by ourselves, whole or not at all.
      return JSON.parse(readFileSync(join(this.folder, 'whole.json'), 'utf8')) as StoreMarker;
    } catch {
      return null;
    }
  }

  setWhole(marker: StoreMarker): void {
    writeWholeFile(join(this.folder, 'whole.json'), Buffer.from(JSON.stringify(marker)));
  }

  clear(): void {
    rmSync(this.folder, { recursive: true, force: true });
  }

  /** A frame as it was decoded; fetched, and kept, where this machine does not have it and knows who does. */
  async readRaw(frame: number): Promise<Uint8Array> {
    if (!this.frameServer || this.hasRaw(frame)) return FrameStore.rawOf(this.folder, frame);
    const bytes = await fetchRaw(this.frameServer, basename(this.folder), frame);
    mkdirSync(this.raw, { recursive: true });
    this.writeRaw(frame, bytes);
    return bytes;
  }

  /** A frame of the store in a folder. @throws Problem frame-gone */
  static async rawOf(folder: string, frame: number): Promise<Uint8Array> {
    try {
      return await readFile(join(folder, 'raw', fileName(frame, 'raw')));
    } catch (error) {
      throw new Problem('frame-gone', { frame }, { cause: error });
    }
  }

  /** A light JPEG of a frame; made here when bringing in has not left one. */
  async proxy(frame: number): Promise<Buffer> {
    const file = join(this.proxies, fileName(frame, 'jpg'));
    if (existsSync(file)) return readFile(file);
    const jpeg = await asSharp(await this.shown(frame))
      .resize({ width: PROXY_SIDE, height: PROXY_SIDE, fit: 'inside', withoutEnlargement: true, kernel: 'linear' })
      .jpeg({ quality: 88, chromaSubsampling: '4:4:4' })
      .toBuffer();
    mkdirSync(this.proxies, { recursive: true });
    writeWholeFile(file, jpeg);
    return jpeg;
  }

  /** A frame of full size as 8-bit PNG for the screen, brightened by `stops`; display codes exactly, others by way of the view. With transparency where there is some. */
  async exact(frame: number, stops = 0): Promise<Buffer> {
    if (this.layout.kind === 'rgb' && this.layout.alpha) return this.withAlpha(frame);
    return asSharp(await this.shown(frame, stops))
      .png({ compressionLevel: 1 })
      .toBuffer();
  }

  private async shown(frame: number, stops = 0): Promise<CodedPicture> {
    return displayPicture(
      pictureFromRaw(await this.readRaw(frame), this.layout),
      this.view.colour,
      this.table(),
      stops,
    );
  }

  private async withAlpha(frame: number): Promise<Buffer> {
    const bytes = await this.readRaw(frame);
    const { width, height, data, peak } = contentFromRaw(bytes, this.layout);
    const rgb = displayPicture(pictureFromRaw(bytes, this.layout), this.view.colour, this.table()).data;
    const out = new Uint8Array(width * height * 4);
    for (let i = 0; i < width * height; i++) {
      for (let c = 0; c < 3; c++) out[i * 4 + c] = rgb[i * 3 + c]!;
      out[i * 4 + 3] = clamp(data[i * 4 + 3]! / peak, 0, 1) * 255 + 0.5;
    }
    return sharp(out, { raw: { width, height, channels: 4 } })
      .png({ compressionLevel: 1 })
      .toBuffer();
  }

  private table(): CubeLut | null {
    const { lut } = this.view;
    if (lut && !this.lut) this.lut = cachedLut(lut);
    return this.lut;
  }
}

const luts = new LRUCache<string, CubeLut>({ max: 8 });

/** Reading a table takes longer than using it on a frame. */
function cachedLut({ hash, file }: { hash: string; file: string }): CubeLut {
  let lut = luts.get(hash);
  if (!lut) {
    lut = parseCube(readFileSync(file, 'utf8'), 'the table');
    luts.set(hash, lut);
  }
  return lut;
}

function asSharp(picture: CodedPicture) {
  return sharp(picture.data, { raw: { width: picture.width, height: picture.height, channels: 3 } });
}

function fileName(frame: number, ending: string): string {
  return `${String(frame).padStart(6, '0')}.${ending}`;
}

export function writeWholeFile(file: string, bytes: Uint8Array): void {
  const temporary = `${file}.${process.pid}.${Math.random().toString(36).slice(2)}.part`;
  try {
    writeFileSync(temporary, bytes);
  } catch (error) {
    // A half takes room from whatever comes next.
    rmSync(temporary, { force: true });
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw new Problem('disk-full', {}, { cause: error });
    throw error;
  }
  renameSync(temporary, file);
}
