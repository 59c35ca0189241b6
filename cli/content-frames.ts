import type { ContentPicture } from '../core/image/picture.ts';
import { contentFromRaw, readStill } from '../server/media/content.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { probe, type MediaFacts } from '../server/media/probe.ts';
import { resolveSource } from '../server/media/source.ts';
import { contentFrameAt } from '../core/composite/content-time.ts';

/** Content picture by plate frame, asked for in rising order. `key` is the same while the picture is. */
export interface ContentFrames {
  at(plateFrame: number): Promise<{ key: number; picture: ContentPicture }>;
  close(): Promise<void>;
}

export async function openContent(path: string, plateRate: readonly [number, number]): Promise<ContentFrames> {
  const source = resolveSource(path);
  const facts = await probe(source, undefined, 1);
  if (source.kind === 'still') {
    const picture = await readStill(source);
    return { at: async () => ({ key: 0, picture }), close: async () => {} };
  }
  // A folder of pictures has no rate of its own and runs with the plate.
  const rate = source.kind === 'sequence' ? plateRate : facts.rate;
  return new ClipFrames(decodeFrames(source, facts), facts, rate, plateRate);
}

/** Runs through a clip once; after its end the last frame stays. */
class ClipFrames implements ContentFrames {
  private index = -1;
  private current: ContentPicture | null = null;

  constructor(
    private readonly frames: AsyncGenerator<Uint8Array>, private readonly facts: MediaFacts,
    private readonly rate: readonly [number, number], private readonly plateRate: readonly [number, number],
  ) {}

  async at(plateFrame: number): Promise<{ key: number; picture: ContentPicture }> {
    const wanted = contentFrameAt(plateFrame, this.plateRate, this.rate);
    let bytes: Uint8Array | null = null;
    while (this.index < wanted) {
      const next = await this.frames.next();
      if (next.done) break;
      bytes = next.value;
      this.index++;
    }
    if (bytes) this.current = contentFromRaw(bytes, this.facts.layout);
    return { key: this.index, picture: this.current! };
  }

  async close(): Promise<void> {
    await this.frames.return(undefined);
  }
}
