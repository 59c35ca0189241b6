import type { LumaFrame } from '../core/base/image/luma-frame.ts';
import { lumaFromRaw } from '../core/base/image/raw-frame.ts';
import { decodeFrames } from '../server/media/decode.ts';
import { probe } from '../server/media/probe.ts';
import { resolveSource } from '../server/media/source.ts';

/** All frames of a clip as following sees them. */
export async function lumaOf(clip: string): Promise<LumaFrame[]> {
  const source = resolveSource(clip);
  const facts = await probe(source);
  const frames: LumaFrame[] = [];
  for await (const bytes of decodeFrames(source, facts)) frames.push(lumaFromRaw(bytes, facts.layout));
  return frames;
}
