import type { PlateColour } from '../core/image/plate-colour.ts';
import type { ContentPicture } from '../core/image/picture.ts';
import { contentFromRaw } from '../core/image/raw-frame.ts';
import { contentFrameAt } from '../core/content/content-time.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { openPlate, type Plate } from './plate.ts';

/** Content picture by plate frame, asked for in rising order. `key` is the same while the picture is. */
export interface ContentFrames {
  colour: PlateColour;
  at(plateFrame: number): Promise<{ key: number; picture: ContentPicture }>;
  close(): Promise<void>;
}

export async function openContent(path: string, plateRate: readonly [number, number]): Promise<ContentFrames> {
  const content = await openPlate(path, {}, { content: true });
  // A folder of pictures has no rate of its own and runs with the plate; of a still, the only frame stays.
  const rate = content.source.kind === 'clip' ? content.facts.rate : plateRate;
  return new DecodedContent(content, rate, plateRate);
}

/** Runs through a source once; after its end the last frame stays. */
class DecodedContent implements ContentFrames {
  readonly colour: PlateColour;
  private readonly frames: AsyncGenerator<Uint8Array>;
  private index = -1;
  private current: ContentPicture | null = null;

  constructor(private readonly content: Plate, private readonly rate: readonly [number, number], private readonly plateRate: readonly [number, number]) {
    this.colour = content.facts.colour;
    this.frames = decodeFrames(content.source, content.facts);
  }

  async at(plateFrame: number): Promise<{ key: number; picture: ContentPicture }> {
    const wanted = contentFrameAt(plateFrame, this.plateRate, this.rate);
    let bytes: Uint8Array | null = null;
    while (this.index < wanted) {
      const next = await this.frames.next();
      if (next.done) break;
      bytes = next.value;
      this.index++;
    }
    if (bytes) this.current = contentFromRaw(bytes, this.content.facts.layout);
    return { key: this.index, picture: this.current! };
  }

  async close(): Promise<void> {
    await this.frames.return(undefined);
    this.content.close();
  }
}
