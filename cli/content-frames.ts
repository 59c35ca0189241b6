import { closeSync, mkdtempSync, openSync, readSync, rmSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ContentSource } from '../core/picture/pin/shown-content.ts';
import { contentFromRaw } from '../core/base/image/raw-frame.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { note } from './options.ts';
import { openPlate, type Plate } from './plate.ts';

/** Content frames in any order: what has been decoded is kept in a file beside. */
export interface ContentFrames extends ContentSource {
  close(): Promise<void>;
}

export async function openContent(path: string, plateRate: readonly [number, number]): Promise<ContentFrames> {
  const content = await openPlate(path, {}, { content: true });
  content.facts.notes.forEach(note);
  // A folder of pictures has no rate of its own and runs with the plate; of a still, the only frame stays.
  return new DecodedContent(content, content.source.kind === 'clip' ? content.facts.rate : plateRate);
}

class DecodedContent implements ContentFrames {
  readonly colour;
  private readonly decoded: AsyncGenerator<Uint8Array>;
  private readonly folder = mkdtempSync(join(tmpdir(), 'yarlop-content-'));
  private readonly file = openSync(join(this.folder, 'frames'), 'w+');
  private known = 0;
  private size = 0;
  private ended = false;

  constructor(
    private readonly content: Plate,
    readonly rate: readonly [number, number],
  ) {
    this.colour = content.facts.colour;
    this.decoded = decodeFrames(content.source, content.facts);
  }

  get frames(): number {
    return this.ended ? this.known : Math.max(1, this.content.facts.frames);
  }

  async picture(index: number) {
    while (this.known <= index && !this.ended) {
      const next = await this.decoded.next();
      if (next.done) this.ended = true;
      else {
        this.size = next.value.length;
        writeSync(this.file, next.value, 0, this.size, this.known++ * this.size);
      }
    }
    // A clip may hold fewer frames than its header says: its last one stays.
    const bytes = new Uint8Array(this.size);
    readSync(this.file, bytes, 0, this.size, Math.min(index, this.known - 1) * this.size);
    return contentFromRaw(bytes, this.content.facts.layout);
  }

  async close(): Promise<void> {
    await this.decoded.return(undefined);
    closeSync(this.file);
    rmSync(this.folder, { recursive: true, force: true });
    this.content.close();
  }
}
