import { pictureFromRaw } from '../../core/base/image/raw-frame.ts';
import type { CodedPicture } from '../../core/base/image/picture.ts';
import { decodeFrames } from '../media/decode.ts';
import { probe } from '../media/probe.ts';
import { resolveSource } from '../media/source.ts';

export async function frames(file: string): Promise<CodedPicture[]> {
  const source = resolveSource(file);
  const facts = await probe(source);
  const out: CodedPicture[] = [];
  for await (const bytes of decodeFrames(source, facts)) out.push(pictureFromRaw(bytes, facts.layout));
  return out;
}
