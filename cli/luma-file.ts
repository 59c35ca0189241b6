import { closeSync, mkdtempSync, openSync, readSync, rmSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { LumaFrame } from '../core/follow/follow-plan.ts';
import { lumaFromRaw } from '../core/image/raw-frame.ts';
import { decodeFrames } from '../server/media/decode.ts';
import type { MediaFacts } from '../server/media/probe.ts';
import type { MediaSource } from '../server/media/source.ts';
import { progress } from './options.ts';

/** A plate's luma on disk, any frame at hand: following goes both ways from the reference. */
export class LumaFile {
  readonly frames: number;

  private constructor(private readonly folder: string, private readonly handle: number, private readonly shape: Omit<LumaFrame, 'codes'>, frames: number) {
    this.frames = frames;
  }

  static async decode(source: MediaSource, facts: MediaFacts): Promise<LumaFile> {
    const folder = mkdtempSync(join(tmpdir(), 'yarlop-'));
    const handle = openSync(join(folder, 'luma'), 'w+');
    try {
      let frames = 0;
      let shape: Omit<LumaFrame, 'codes'> = { width: facts.width, height: facts.height, peak: 255 };
      for await (const bytes of decodeFrames(source, facts)) {
        const { codes, ...rest } = lumaFromRaw(bytes, facts.layout, facts.colour.transfer);
        shape = rest;
        writeSync(handle, new Uint8Array(codes.buffer, codes.byteOffset, codes.byteLength));
        progress('reading', ++frames, Math.max(frames, facts.frames));
      }
      return new LumaFile(folder, handle, shape, frames);
    } catch (error) {
      closeSync(handle);
      rmSync(folder, { recursive: true, force: true });
      throw error;
    }
  }

  read(frame: number): LumaFrame {
    const pixels = this.shape.width * this.shape.height;
    const codes = this.shape.peak === 255 ? new Uint8Array(pixels) : new Uint16Array(pixels);
    readSync(this.handle, new Uint8Array(codes.buffer), 0, codes.byteLength, frame * codes.byteLength);
    return { ...this.shape, codes };
  }

  close(): void {
    closeSync(this.handle);
    rmSync(this.folder, { recursive: true, force: true });
  }
}
