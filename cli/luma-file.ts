import { closeSync, mkdtempSync, openSync, readSync, rmSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { LumaFrame } from '../core/base/image/luma-frame.ts';
import { CutWatch } from '../core/motion/plate/cuts.ts';
import { codedLuma, lumaFromRaw } from '../core/base/image/raw-frame.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { Problem } from '../core/base/problem/problem.ts';
import type { MediaFacts } from '../server/media/probe.ts';
import type { MediaSource } from '../server/media/source.ts';
import { progress } from './options.ts';

/** A plate's luma on disk, any frame at hand: following goes both ways from the reference. */
export class LumaFile {
  private there = 0;
  private over: { failure: unknown } | null = null;
  private wake: (() => void)[] = [];
  private shape: Omit<LumaFrame, 'codes'>;
  private whole: Promise<void> = Promise.resolve();

  private constructor(
    private readonly folder: string,
    private readonly handle: number,
    facts: MediaFacts,
  ) {
    this.shape = { width: facts.width, height: facts.height, peak: 255 };
  }

  /** Decodes all frames. */
  static async decode(source: MediaSource, facts: MediaFacts): Promise<LumaFile> {
    const file = LumaFile.begin(source, facts);
    await file.done();
    return file;
  }

  /** Begins to decode: frames can be read as they come (`readWhenThere`). `asCoded` leaves 8-bit luma as the file has it (core/base/image/raw-frame.ts, codedLuma). */
  static begin(source: MediaSource, facts: MediaFacts, asCoded = false): LumaFile {
    const folder = mkdtempSync(join(tmpdir(), 'yarlop-'));
    const file = new LumaFile(folder, openSync(join(folder, 'luma'), 'w+'), facts);
    file.whole = file.fill(source, facts, asCoded);
    // Told to whoever waits for a frame or for all of them.
    file.whole.catch(() => {});
    return file;
  }

  /** How many frames are there. */
  get frames(): number {
    return this.there;
  }

  /** Waits until all frames are there; throws what went wrong. */
  async done(): Promise<void> {
    try {
      await this.whole;
    } catch (error) {
      this.close();
      throw error;
    }
  }

  private async fill(source: MediaSource, facts: MediaFacts, asCoded: boolean): Promise<void> {
    try {
      for await (const bytes of decodeFrames(source, facts, { sameBytes: true })) {
        if (this.closed) return;
        const { codes, ...rest } = (asCoded ? codedLuma : lumaFromRaw)(bytes, facts.layout, facts.colour.transfer);
        this.shape = rest;
        writeSync(
          this.handle,
          new Uint8Array(codes.buffer, codes.byteOffset, codes.byteLength),
          0,
          codes.byteLength,
          this.there * codes.byteLength,
        );
        this.there++;
        progress('reading', this.there, Math.max(this.there, facts.frames));
        this.tell();
      }
      this.over = { failure: null };
    } catch (error) {
      this.over = { failure: error };
      throw error;
    } finally {
      this.tell();
    }
  }

  private tell(): void {
    for (const wake of this.wake.splice(0)) wake();
  }

  /** A frame as soon as it has been decoded; its codes stand until the next one is asked for. */
  async readWhenThere(frame: number): Promise<LumaFrame> {
    while (frame >= this.there && !this.over) await new Promise<void>((resolve) => this.wake.push(resolve));
    if (this.over?.failure instanceof Error && frame >= this.there) throw this.over.failure;
    if (frame >= this.there) throw new Problem('frame-outside', { where: 'the plate', frame, last: this.there - 1 });
    const { width, height, peak } = this.shape;
    this.room ??= peak === 255 ? new Uint8Array(width * height) : new Uint16Array(width * height);
    return this.readInto(frame, this.room);
  }

  private room: Uint8Array | Uint16Array | null = null;

  read(frame: number): LumaFrame {
    const pixels = this.shape.width * this.shape.height;
    return this.readInto(frame, this.shape.peak === 255 ? new Uint8Array(pixels) : new Uint16Array(pixels));
  }

  private readInto(frame: number, codes: Uint8Array | Uint16Array): LumaFrame {
    readSync(this.handle, new Uint8Array(codes.buffer), 0, codes.byteLength, frame * codes.byteLength);
    return { ...this.shape, codes };
  }

  /** What lies beyond a cut is another picture: looks for one in a span of frames that have been read. @throws Problem crosses-cut */
  refuseCut(where: string, [from, to]: readonly [number, number]): void {
    const watch = new CutWatch();
    const first = Math.max(0, from - 1);
    for (let frame = first; frame <= Math.min(this.there - 1, to + 1); frame++) watch.add(this.read(frame));
    const cut = watch.firstCut([from - first, to - first]);
    if (cut !== null) throw new Problem('crosses-cut', { where, frame: first + cut });
  }

  private closed = false;

  close(): void {
    if (this.closed) return;
    this.closed = true;
    closeSync(this.handle);
    rmSync(this.folder, { recursive: true, force: true });
  }
}
