import type { ContentPicture } from '../../core/base/image/picture.ts';
import { contentFromRaw } from '../../core/base/image/raw-frame.ts';
import { decodeFrames } from './decode.ts';
import type { MediaFacts } from './facts.ts';
import { probe } from './probe.ts';
import { resolveSource } from './source.ts';

/** A picture file with its transparency, and what it says of itself. */
export async function readStill(file: string): Promise<ContentPicture & { facts: MediaFacts }> {
  const source = resolveSource(file);
  const facts = await probe(source, { smallestSide: 1, keepAlpha: true });
  for await (const bytes of decodeFrames(source, facts)) return { ...contentFromRaw(bytes, facts.layout), facts };
  throw new Error('a decoder that gives no frame throws');
}
